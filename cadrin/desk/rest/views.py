from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.activity.commands.asides import bring_back, put_aside
from cadrin.activity.queries import ReadFilters
from cadrin.activity.queries import reads as reads_found
from cadrin.activity.rest.views import shown_read
from cadrin.core.credentials.card.card import CardKey
from cadrin.credentials.rest.shapes import identity_of
from cadrin.desk.card_history import card_history
from cadrin.desk.explaining import explanation
from cadrin.desk.journal import ACTS, JournalFilters, history_seen
from cadrin.desk.journal import entries as journal_entries
from cadrin.desk.notices import waiting
from cadrin.desk.queries import WorkList, desk, unknown_cards
from cadrin.desk.rest.shapes import (
    CardHistoryShape,
    CardQuery,
    CountsBySection,
    DeskShape,
    ExplanationShape,
    History,
    JournalPage,
    JournalQuery,
    UnknownCardList,
    UnknownCardsQuery,
)
from cadrin.enrolment.commands.undo import CAN_BE_UNDONE
from cadrin.operators.permissions import Permission
from cadrin.operators.queries import operators as journal_operators
from cadrin.operators.rest.base import HouseView
from cadrin.people.queries import get_cardholder
from cadrin.photos.queries import portraits_of

MOST_UNKNOWN = 500


def _act(row: dict[str, Any], may_see_birth_dates: bool) -> dict[str, Any]:
    changes = {
        field: pair
        for field, pair in row["changes"].items()
        if may_see_birth_dates or field != "born_on"
    }
    return row | {"changes": changes, "can_be_undone": row["action"] in CAN_BE_UNDONE}


def _portrait(cardholder_id: int | None) -> str | None:
    return portraits_of([cardholder_id]).get(cardholder_id) if cardholder_id else None


class OneRead(HouseView):
    """A read explained: the steps to its verdict, how it would go now, and what would open the
    door.
    """

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=ExplanationShape)
    def get(self, request: Request, id: int) -> Response:
        found = explanation(self.actor(), id, timezone.now())
        steps = [step._asdict() for step in found.steps]
        remedies = [
            [item._asdict() | {"card": item.card and identity_of(item.card)} for item in remedy]
            for remedy in found.remedies
        ]
        return Response(
            found._asdict()
            | {
                "read": shown_read(found.read),
                "steps": steps,
                "remedies": remedies,
                "portrait": _portrait(found.holder_id or found.read["cardholder_id"]),
            }
        )


class Desk(HouseView):
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=DeskShape)
    def get(self, request: Request) -> Response:
        found = desk(self.actor(), timezone.now())
        shown = {
            name: work._asdict() if isinstance(work, WorkList) else work
            for name, work in found._asdict().items()
        }
        return Response(
            shown
            | {
                "alarms": {
                    "rows": [shown_read(r) for r in found.alarms.rows],
                    "total": found.alarms.total,
                }
            }
        )


class UnknownCards(HouseView):
    """Cards of nobody that were shown lately: those that wait, or those put aside."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[UnknownCardsQuery], responses=UnknownCardList)
    def get(self, request: Request) -> Response:
        aside = self.given(UnknownCardsQuery, request)["aside"]
        found = unknown_cards(self.actor(), timezone.now(), aside=aside, most=MOST_UNKNOWN)
        return Response(found._asdict())


class UnknownCardAside(HouseView):
    """Put the unknown card of a read aside, or bring it back."""

    needs: ClassVar = {"POST": Permission.ISSUE, "DELETE": Permission.ISSUE}

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        put_aside(self.actor(), id, timezone.now())
        return Response(status=204)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        bring_back(self.actor(), id, timezone.now())
        return Response(status=204)


class Waiting(HouseView):
    """The counts that stand beside the sections."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=CountsBySection)
    def get(self, request: Request) -> Response:
        found = waiting(self.actor(), timezone.now())
        return Response(found._asdict() | {"notices": [one._asdict() for one in found.notices]})


class CardholderActs(HouseView):
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=History)
    def get(self, request: Request, id: int) -> Response:
        actor = self.actor()
        get_cardholder(actor, id)
        reads = reads_found(actor, ReadFilters(cardholder_id=id), most=30)
        may_see_birth_dates = Permission.BIRTH_DATES in actor.permissions
        acts = [_act(dict(row), may_see_birth_dates) for row in history_seen(actor, id)]
        return Response({"acts": acts, "reads": [shown_read(row) for row in reads]})


class Journal(HouseView):
    """What operators did, newest first."""

    needs: ClassVar = {"GET": Permission.JOURNAL}

    @extend_schema(parameters=[JournalQuery], responses=JournalPage)
    def get(self, request: Request) -> Response:
        actor, asked = self.actor(), self.given(JournalQuery, request)
        before = asked.pop("before")
        may_see_birth_dates = Permission.BIRTH_DATES in actor.permissions
        rows = journal_entries(actor, JournalFilters(**asked), before=before)
        return Response(
            {
                "entries": [_act(row, may_see_birth_dates) for row in rows],
                "operators": journal_operators(actor),
                "acts": ACTS,
            }
        )


class CardHistory(HouseView):
    """A card's whole life: its boxes, whose it was, what became of it, and its reads."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[CardQuery], responses=CardHistoryShape)
    def get(self, request: Request) -> Response:
        asked, actor = self.given(CardQuery, request), self.actor()
        key = CardKey(asked["format_id"], asked["facility_code"], asked["card_number"])
        life = card_history(actor, key)
        may_see_birth_dates = Permission.BIRTH_DATES in actor.permissions
        return Response(
            life._asdict()
            | {
                "acts": [_act(row, may_see_birth_dates) for row in life.acts],
                "reads": [shown_read(r) for r in life.reads],
            }
        )
