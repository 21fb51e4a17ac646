from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.commands.take_back import CAN_BE_TAKEN_BACK, take_back
from cadrin.access.rest.shapes import file_draft, identity_of
from cadrin.activity import bench, journal, queries
from cadrin.activity.card_life import card_life
from cadrin.activity.commands.erase import erase_cardholder
from cadrin.activity.commands.merge import merge_cardholders
from cadrin.activity.explaining import explanation
from cadrin.activity.rest import shapes
from cadrin.cards.queries import raw_of
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import Invalid
from cadrin.delivery.queries import get_controller
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.people.queries import get_cardholder

SEE, BENCH = Permission.SEE, Permission.BENCH


def _act(row: dict[str, Any], may_see_birth_dates: bool) -> dict[str, Any]:
    changes = {field: pair for field, pair in row["changes"].items() if may_see_birth_dates or field != "born_on"}
    return row | {"changes": changes, "can_be_taken_back": row["action"] in CAN_BE_TAKEN_BACK}


def _read(row: dict[str, Any]) -> dict[str, Any]:
    return row | {"reason": row["reason"] or None}


class Reads(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(parameters=[shapes.ReadsQuery], responses=shapes.ReadShape(many=True))
    def get(self, request: Request) -> Response:
        asked = self.given(shapes.ReadsQuery, request)
        filters = queries.ReadFilters(
            asked["door"],
            asked["cardholder"],
            Reason(asked["reason"]) if asked["reason"] else None,
            asked["denied"],
            asked["flagged"],
        )
        return Response([_read(row) for row in queries.reads(self.actor(), filters, before=asked["before"])])


class OneRead(HouseView):
    """A read explained: the steps to its verdict, how it would go now, and what would open the door."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.ExplanationShape)
    def get(self, request: Request, id: int) -> Response:
        found = explanation(self.actor(), id, timezone.now())
        steps = [step._asdict() for step in found.steps]
        remedies = [
            [one._asdict() | {"card": one.card and identity_of(one.card)} for one in remedy]
            for remedy in found.remedies
        ]
        return Response(found._asdict() | {"read": _read(found.read), "steps": steps, "remedies": remedies})


class News(HouseView):
    """The reads after one, oldest first; held open until there is one, at most for the seconds asked for."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(parameters=[shapes.NewsQuery], responses=shapes.ReadShape(many=True))
    def get(self, request: Request) -> Response:
        asked = self.given(shapes.NewsQuery, request)
        return Response([_read(row) for row in queries.news(self.actor(), asked["after"], asked["wait_seconds"])])


class Desk(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.DeskShape)
    def get(self, request: Request) -> Response:
        found = queries.desk(self.actor(), timezone.now())
        shown = {
            name: work._asdict() if isinstance(work, queries.WorkList) else work
            for name, work in found._asdict().items()
        }
        return Response(
            shown | {"alarms": {"rows": [_read(r) for r in found.alarms.rows], "total": found.alarms.total}}
        )


class Waiting(HouseView):
    """The counts that stand beside the sections."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.CountsBySection)
    def get(self, request: Request) -> Response:
        return Response(queries.waiting_counts(self.actor(), timezone.now()))


class CardholderHistory(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.History)
    def get(self, request: Request, id: int) -> Response:
        actor = self.actor()
        get_cardholder(actor, id)
        reads = queries.reads(actor, queries.ReadFilters(cardholder_id=id), most=30)
        may_see_birth_dates = Permission.BIRTH_DATES in actor.permissions
        acts = [_act(dict(row), may_see_birth_dates) for row in journal.history_seen(actor, id)]
        return Response({"acts": acts, "reads": [_read(row) for row in reads]})


class Journal(HouseView):
    """What operators did, newest first."""

    needs: ClassVar = {"GET": Permission.JOURNAL}

    @extend_schema(parameters=[shapes.JournalQuery], responses=shapes.JournalPage)
    def get(self, request: Request) -> Response:
        actor, asked = self.actor(), self.given(shapes.JournalQuery, request)
        before = asked.pop("before")
        may_see_birth_dates = Permission.BIRTH_DATES in actor.permissions
        rows = journal.entries(actor, journal.JournalFilters(**asked), before=before)
        return Response(
            {
                "entries": [_act(row, may_see_birth_dates) for row in rows],
                "operators": journal.operators(actor),
                "acts": journal.ACTS,
            }
        )


class CardLife(HouseView):
    """A card's whole life: its boxes, whose it was, what became of it, and its reads."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(parameters=[shapes.CardQuery], responses=shapes.CardLifeShape)
    def get(self, request: Request) -> Response:
        asked, actor = self.given(shapes.CardQuery, request), self.actor()
        key = CardKey(asked["format_id"], asked["facility_code"], asked["card_number"])
        life = card_life(actor, key)
        may_see_birth_dates = Permission.BIRTH_DATES in actor.permissions
        return Response(
            life._asdict()
            | {"acts": [_act(row, may_see_birth_dates) for row in life.acts], "reads": [_read(r) for r in life.reads]}
        )


class TakeBack(HouseView):
    """Take back an act from a cardholder's history."""

    needs: ClassVar = {"POST": Permission.EDIT}

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, id: int, entry: int) -> Response:
        take_back(self.actor(), id, entry, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Erase(HouseView):
    """Erase a cardholder for good."""

    needs: ClassVar = {"POST": Permission.ERASE}

    @extend_schema(request=shapes.EraseShape, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        given = self.given(shapes.EraseShape, request)
        erase_cardholder(self.actor(), id, given["version"], given["reason"], timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Merge(HouseView):
    """Merge another record of the same human being into this one."""

    needs: ClassVar = {"POST": Permission.EDIT}

    @extend_schema(request=shapes.MergeShape, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        given = self.given(shapes.MergeShape, request)
        other = given.pop("other"), given.pop("other_version")
        merge_cardholders(self.actor(), id, file_draft(given, self.actor()), *other, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class TestBench(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.Bench)
    def get(self, request: Request) -> Response:
        return Response(bench.seen_by(self.actor()))


class BenchReads(HouseView):
    needs: ClassVar = {"POST": BENCH}

    @extend_schema(request=shapes.CardToShow, responses=shapes.Shown)
    def post(self, request: Request) -> Response:
        asked = self.given(shapes.CardToShow, request)
        raw = asked["raw"]
        if not raw and asked["card_number"] is not None:
            key = CardKey(asked["format"] or 0, asked["facility_code"] or 0, asked["card_number"])
            raw = str(raw_of(key, asked["issue_level"]))
        if not raw and asked["typed"] is None and asked["plate"] is None:
            raise Invalid.of("input.blank", "card_number")
        return Response(bench.show(self.actor(), asked["reader"], raw, asked["typed"], asked["plate"]))


class BenchSwitch(HouseView):
    needs: ClassVar = {"PATCH": BENCH}

    @extend_schema(request=shapes.Switch, responses=shapes.BenchController)
    def patch(self, request: Request, id: int) -> Response:
        get_controller(self.actor(), id)
        return Response(bench.ask("PATCH", f"/controllers/{id}", self.given(shapes.Switch, request)))


class BenchMail(HouseView):
    """Switch the mail server on and off."""

    needs: ClassVar = {"PATCH": BENCH}

    @extend_schema(request=shapes.MailSwitch, responses=shapes.BenchMail)
    def patch(self, request: Request) -> Response:
        return Response(bench.switch_mail(self.actor(), **self.given(shapes.MailSwitch, request)))


class BenchStore(HouseView):
    """Empty a stand-in controller, as a factory reset would."""

    needs: ClassVar = {"DELETE": BENCH}

    @extend_schema(request=None, responses=shapes.BenchController)
    def delete(self, request: Request, id: int) -> Response:
        get_controller(self.actor(), id)
        return Response(bench.ask("DELETE", f"/controllers/{id}/store"))
