"""What readers take, what the site asks of cards and PINs, and lists of PINs, over HTTP."""

from dataclasses import asdict
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.commands.credentials import (
    CardSettingsDraft,
    ReaderDraft,
    consequences_for_reader,
    save_card_settings,
    save_reader,
)
from cadrin.access.commands.pin_lists import (
    MOST_IN_A_LIST,
    make_pin_list,
    open_pin_list,
    people_without_pin,
    pin_lists,
)
from cadrin.access.plan import alternatives_of
from cadrin.access.queries import readers
from cadrin.access.rest.shapes import PolicyField, Saved
from cadrin.cards.keypad import begin_wait, typed_for
from cadrin.cards.settings import card_settings, pin_rule
from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.credentials.pin.rule import PinRule
from cadrin.core.errors import NotFound
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape, WholeField

SEE, ISSUE, SET_UP = Permission.SEE, Permission.ISSUE, Permission.SET_UP


class PinRuleShape(Shape):
    """The rule for PINs: length in digits, days that one holds (null: for ever), and the lock-out of keypads."""

    length = WholeField()
    is_unique = serializers.BooleanField()
    forbids_repeats = serializers.BooleanField()
    forbids_runs = serializers.BooleanField()
    forbids_dates = serializers.BooleanField()
    forbids_own_numbers = serializers.BooleanField()
    remembered = WholeField()
    holds_days = WholeField(allow_null=True)
    max_attempts = WholeField()
    lockout_seconds = WholeField()
    duress = serializers.ChoiceField(choices=[r.value for r in DuressRule])


class CardSettingsShape(Shape):
    """What the site asks of cards and PINs; ``most_cards`` of one cardholder at a time, null for any number."""

    version = WholeField(min_value=1)
    most_cards = WholeField(allow_null=True)
    rule = PinRuleShape()


class ReaderShape(Shape):
    """What a reader takes; without formats it reads all of them."""

    version = WholeField(min_value=1)
    policy = PolicyField()
    has_keypad = serializers.BooleanField()
    has_camera = serializers.BooleanField(default=False)
    is_way_out = serializers.BooleanField(default=False)
    format_ids = serializers.ListField(child=WholeField(), max_length=100)


class ReaderConsequencesShape(Shape):
    """How many people more, or below zero fewer, would lack a PIN, or a card that all of their doors can read.

    ``has_way_in`` says whether its door would still have a reader on the way in.
    """

    without_pin = serializers.IntegerField()
    without_readable_card = serializers.IntegerField()
    has_way_in = serializers.BooleanField()


class WaitShape(Shape):
    """A wait at a desk's keypad: by its token, which is the operator's alone, it is asked for and used."""

    token = serializers.CharField()


class TypedShape(Shape):
    """What was typed in a wait: how often, and how long the latest was; never what."""

    times = serializers.IntegerField()
    length = serializers.IntegerField()


class PeopleForPins(Shape):
    """Some people, or a department and those below it."""

    people = serializers.ListField(child=WholeField(), max_length=MOST_IN_A_LIST, default=list)
    department = WholeField(allow_null=True, default=None)


class PinListRow(Shape):
    id = serializers.IntegerField()
    made_at = serializers.DateTimeField()
    made_by = serializers.CharField()
    count = serializers.IntegerField()
    opened_at = serializers.DateTimeField(allow_null=True)


class ListedPinShape(Shape):
    number = serializers.CharField()
    name = serializers.CharField()
    digits = serializers.CharField()


def _reader_draft(given: dict[str, Any]) -> ReaderDraft:
    return ReaderDraft(
        alternatives_of(given["policy"]),
        given["has_keypad"],
        frozenset(given["format_ids"]),
        given["version"],
        given["is_way_out"],
        given["has_camera"],
    )


def _shown() -> dict[str, Any]:
    kept = card_settings()
    return {"version": kept.version, "most_cards": kept.most_cards, "rule": asdict(pin_rule(kept))}


class CardSettings(HouseView):
    needs: ClassVar = {"GET": SEE, "PUT": SET_UP}

    @extend_schema(responses=CardSettingsShape)
    def get(self, request: Request) -> Response:
        return Response(_shown())

    @extend_schema(request=CardSettingsShape, responses=CardSettingsShape)
    def put(self, request: Request) -> Response:
        given = self.given(CardSettingsShape, request)
        rule = PinRule(**given["rule"] | {"duress": DuressRule(given["rule"]["duress"])})
        save_card_settings(self.actor(), CardSettingsDraft(given["most_cards"], rule, given["version"]), timezone.now())
        return Response(_shown())


class OneReader(HouseView):
    needs: ClassVar = {"PUT": SET_UP}

    @extend_schema(request=ReaderShape, responses={204: None})
    def put(self, request: Request, id: int) -> Response:
        save_reader(self.actor(), id, _reader_draft(self.given(ReaderShape, request)), timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class WeighReader(HouseView):
    """What saving a reader would make people lack. Nothing is saved."""

    needs: ClassVar = {"POST": SET_UP}

    @extend_schema(request=ReaderShape, responses=ReaderConsequencesShape)
    def post(self, request: Request, id: int) -> Response:
        return Response(consequences_for_reader(id, _reader_draft(self.given(ReaderShape, request)))._asdict())


class KeypadWaits(HouseView):
    """Wait for a cardholder to type a PIN at a desk's keypad, twice."""

    needs: ClassVar = {"POST": ISSUE}

    @extend_schema(request=None, responses={201: WaitShape})
    def post(self, request: Request, id: int) -> Response:
        if id not in {row["id"] for row in readers(self.actor()) if row["has_keypad"] and row["is_desk"]}:
            raise NotFound.of("reader.not_found")
        return Response({"token": begin_wait(self.actor(), id, timezone.now())}, status.HTTP_201_CREATED)


class OneKeypadWait(HouseView):
    """How often something was typed in a wait of one's own; never what."""

    needs: ClassVar = {"GET": ISSUE}

    @extend_schema(responses=TypedShape)
    def get(self, request: Request, token: str) -> Response:
        return Response(typed_for(self.actor(), token)._asdict())


class PinLists(HouseView):
    """The sealed lists of PINs, and making one for everybody of some people who has none."""

    needs: ClassVar = {"GET": ISSUE, "POST": ISSUE}

    @extend_schema(responses=PinListRow(many=True))
    def get(self, request: Request) -> Response:
        return Response(pin_lists(self.actor()))

    @extend_schema(request=PeopleForPins, responses={201: Saved})
    def post(self, request: Request) -> Response:
        given, actor = self.given(PeopleForPins, request), self.actor()
        people = given["people"] or people_without_pin(actor, given["department"])
        return Response({"id": make_pin_list(actor, people, timezone.now())}, status.HTTP_201_CREATED)


class PinListOpening(HouseView):
    """Open a sealed list; it can be opened once."""

    needs: ClassVar = {"POST": ISSUE}

    @extend_schema(request=None, responses=ListedPinShape(many=True))
    def post(self, request: Request, id: int) -> Response:
        return Response([line._asdict() for line in open_pin_list(self.actor(), id, timezone.now())])
