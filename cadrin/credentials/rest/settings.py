"""What the site asks of cards and PINs, over HTTP."""

from dataclasses import asdict
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.credentials.pin.rule import PinRule
from cadrin.credentials.commands.settings import CardSettingsDraft, save_card_settings
from cadrin.credentials.settings import card_settings, pin_rule
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape, WholeField


class PinRuleShape(Shape):
    """The rule for PINs: length in digits, days that one holds (null: for ever), and the lock-out
    of keypads.
    """

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
    """What the site asks of cards and PINs; ``most_cards`` of one cardholder at a time, null for
    any number.
    """

    version = WholeField(min_value=1)
    most_cards = WholeField(allow_null=True)
    rule = PinRuleShape()


def _shown() -> dict[str, Any]:
    kept = card_settings()
    return {"version": kept.version, "most_cards": kept.most_cards, "rule": asdict(pin_rule(kept))}


class CardSettings(HouseView):
    needs: ClassVar = {"GET": Permission.SEE, "PUT": Permission.SET_UP}

    @extend_schema(responses=CardSettingsShape)
    def get(self, request: Request) -> Response:
        return Response(_shown())

    @extend_schema(request=CardSettingsShape, responses=CardSettingsShape)
    def put(self, request: Request) -> Response:
        given = self.given(CardSettingsShape, request)
        rule = PinRule(**given["rule"] | {"duress": DuressRule(given["rule"]["duress"])})
        save_card_settings(
            self.actor(),
            CardSettingsDraft(given["most_cards"], rule, given["version"]),
            timezone.now(),
        )
        return Response(_shown())
