"""Reads at doors and the journal, for scripts."""

from collections.abc import Mapping
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.activity.queries import ReadFilters, read_seen, reads, reads_since
from cadrin.activity.rest.shapes import FACTORS, REASONS
from cadrin.api.base import ApiView, PageQuery, cursor_number, page
from cadrin.api.pages import page_of
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import NotFound
from cadrin.desk.journal import ACTS, JournalFilters, entries
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import Shape, WholeField, told
from cadrin.sites.rest.fields import SiteInstantField

AT = "2026-12-04T18:00:00Z"


class ReadShape(Shape):
    """Something presented at a reader, and what was decided."""

    id = serializers.IntegerField(**told("Grows with each read that arrives.", 90210))
    at = serializers.DateTimeField(**told("When, by the controller's clock.", AT))
    reader = serializers.IntegerField(allow_null=True, **told("Id of the reader.", 7))
    door = serializers.IntegerField(allow_null=True, **told("Id of the door.", 7))
    controller = serializers.IntegerField(**told("Id of the controller.", 2))
    factors = serializers.ListField(
        child=serializers.ChoiceField(choices=FACTORS),
        **told("What was presented together.", ["card"]),
    )
    reason = serializers.ChoiceField(
        choices=REASONS,
        allow_null=True,
        **told("`granted`, or why not; null at a desk, where nothing is decided.", "granted"),
    )
    cardholder = serializers.IntegerField(
        allow_null=True, **told("Id of the cardholder; null for nobody's.", 17)
    )
    format = serializers.IntegerField(allow_null=True, **told("The card's format.", 1))
    facility_code = serializers.IntegerField(allow_null=True, **told("Its facility code.", 87))
    card_number = serializers.IntegerField(allow_null=True, **told("Its number.", 4628))
    plate = serializers.CharField(**told("The licence plate that was seen.", ""))
    is_duress = serializers.BooleanField(**told("A PIN under duress.", False))


class ReadQuery(PageQuery):
    """Which reads: all that is given must hold."""

    after = WholeField(
        default=None,
        min_value=0,
        **told("The mark: only reads that arrived after this one, oldest first.", 90210),
    )
    door = WholeField(default=None, **told("At this door.", 7))
    cardholder = WholeField(default=None, **told("Of this cardholder.", 17))
    reason = serializers.ChoiceField(
        choices=REASONS, default=None, **told("With this outcome.", "granted")
    )
    denied = serializers.BooleanField(
        default=False, **told("Only those that opened nothing.", True)
    )


class EntryShape(Shape):
    """One act in the journal."""

    id = serializers.IntegerField(**told("Its number; grows with each entry.", 4711))
    at = serializers.DateTimeField(**told("When.", AT))
    operator_name = serializers.CharField(**told("Who did it.", "Ines Carnmore"))
    address = serializers.CharField(**told("Where it came from.", "127.0.0.1"))
    action = serializers.CharField(**told("What was done.", "cardholder.changed"))
    changes = serializers.DictField(
        **told("Field to what it was and what it is.", {"title": ["", "Diver"]})
    )
    topics = serializers.ListField(
        child=serializers.DictField(),
        **told("What it is about.", [{"kind": "cardholder", "id": 17, "name": "Mara Lindqvist"}]),
    )


class EntryQuery(PageQuery):
    """Which entries: all that is given must hold."""

    act = serializers.ChoiceField(choices=ACTS, default=None, **told("Of this kind.", "cardholder"))
    cardholder = WholeField(default=None, **told("About this cardholder.", 17))
    operator = WholeField(default=None, **told("By this operator.", 1))
    since = SiteInstantField(default=None, **told("From then on.", AT))
    until = SiteInstantField(default=None, **told("Before then.", AT))


def _read(row: Mapping[str, Any]) -> dict[str, Any]:
    same = (
        "id", "at", "factors", "facility_code", "card_number", "plate", "is_duress",
    )  # fmt: skip
    links = ("reader", "door", "controller", "cardholder", "format")
    return (
        {name: row[name] for name in same}
        | {name: row[f"{name}_id"] for name in links}
        | {"reason": row["reason"] or None}
    )


class Reads(ApiView):
    tag = "Events"
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[ReadQuery], responses=page_of(ReadShape))
    def get(self, request: Request) -> Response:
        """List reads.

        Newest first; with `after` those that arrived since, oldest first: keep the id of the last
        one as the mark for the next time. A read may arrive long after it happened, when a
        controller did not answer; its id still comes after all that arrived before.
        """
        asked, actor = self.asked(ReadQuery, request), self.actor()
        limit, cursor = asked["limit"], cursor_number(asked["cursor"])
        filters = ReadFilters(
            asked["door"],
            asked["cardholder"],
            Reason(asked["reason"]) if asked["reason"] else None,
            asked["denied"],
        )
        found = (
            reads(actor, filters, before=cursor or None, most=limit + 1)
            if asked["after"] is None
            else reads_since(actor, cursor or asked["after"], filters, most=limit + 1)
        )
        return page([_read(row) for row in found], limit, lambda row: row["id"])


class OneRead(ApiView):
    tag = "Events"
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=ReadShape)
    def get(self, request: Request, id: int) -> Response:
        """Get a read."""
        return Response(_read(read_seen(self.actor(), id)))


def _entry(row: Mapping[str, Any], sees_birth_dates: bool) -> dict[str, Any]:
    same = ("id", "at", "operator_name", "address", "action", "topics")
    changes = {
        field: pair
        for field, pair in row["changes"].items()
        if sees_birth_dates or field != "born_on"
    }
    return {name: row[name] for name in same} | {"changes": changes}


class Journal(ApiView):
    tag = "Events"
    needs: ClassVar = {"GET": Permission.JOURNAL}

    @extend_schema(parameters=[EntryQuery], responses=page_of(EntryShape))
    def get(self, request: Request) -> Response:
        """List what operators and scripts did, newest first."""
        asked, actor = self.asked(EntryQuery, request), self.actor()
        limit, before = asked.pop("limit"), cursor_number(asked.pop("cursor"))
        found = entries(actor, JournalFilters(**asked), before=before or None, most=limit + 1)
        sees_birth_dates = Permission.BIRTH_DATES in actor.permissions
        rows = [_entry(row, sees_birth_dates) for row in found]
        return page(rows, limit, lambda row: row["id"])


class OneEntry(ApiView):
    tag = "Events"
    needs: ClassVar = {"GET": Permission.JOURNAL}

    @extend_schema(responses=EntryShape)
    def get(self, request: Request, id: int) -> Response:
        """Get an entry of the journal."""
        actor = self.actor()
        found = entries(actor, JournalFilters(until=timezone.now()), before=id + 1, most=1)
        if not found or found[0]["id"] != id:
            raise NotFound.of("request.not_found")
        return Response(_entry(found[0], Permission.BIRTH_DATES in actor.permissions))
