"""What comes in and goes out about a cardholder with everything that is theirs."""

import dataclasses
from typing import Any, ClassVar

from rest_framework import serializers

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.biometrics.rest.shapes import BiometricsShape, biometric_draft, biometrics_out
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.people.details import Details
from cadrin.core.schedules import Hours
from cadrin.core.validity import Standing
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.keypad import take_typed
from cadrin.credentials.pin_draft import MOST_PINS, PinDraft
from cadrin.credentials.plates import MOST_PLATES
from cadrin.credentials.rest.shapes import identity_of
from cadrin.enrolment.draft import CardholderDraft
from cadrin.operators.actor import Actor
from cadrin.operators.rest.base import Shape, WholeField, rows_of, told
from cadrin.people.commands.problems import CHOSEN
from cadrin.photos.commands import SLOTS
from cadrin.sites.queries import home_site
from cadrin.sites.rest.fields import end, hours_field, instant, text

INSTANT = "2026-12-04T18:00:00Z"
MOST_CARDS = 100
MOST_MEMBERSHIPS = 500
"""Of one cardholder in one request: more than anybody has, and few enough to be judged at once."""


class CustomValuesField(serializers.DictField):
    """Values of own fields, as the core writes them, by the field's id."""

    child = serializers.CharField(allow_blank=True, max_length=10_000)

    def to_internal_value(self, given: Any) -> dict[Any, Any]:
        values: dict[Any, Any] = super().to_internal_value(given)
        if any(not id_.isdecimal() or len(id_) > 9 for id_ in values):
            self.fail("not_a_dict", input_type="names")
        return values


class CardShape(Shape):
    """A card as a cardholder has it."""

    core_judges_texts: ClassVar = True

    format = WholeField(**told("Id of the card format.", 1))
    facility_code = WholeField(**told("The facility code; 0 in a format without one.", 87))
    card_number = WholeField(**told("The card number.", 4628))
    status = serializers.ChoiceField(
        choices=[s.value for s in CardStatus],
        default=CardStatus.ISSUED.value,
        **told("Whether it works. Giving it up is done by leaving it out.", "issued"),
    )
    activation_at = instant(**told("Works from then on.", None))
    expiry_at = end(**told("Works until then.", INSTANT))
    suspended_until = instant(**told("The end of a suspension; null for one without an end.", None))
    label = text(**told("What the desk calls it.", "spare"))  # type: ignore[assignment]
    is_watched = serializers.BooleanField(
        default=False, **told("Tell the desk of each read.", False)
    )
    is_temporary = serializers.BooleanField(
        default=False, **told("Goes back to stock by itself at its expiry.", False)
    )
    issue_level = WholeField(
        allow_null=True,
        default=None,
        **told("Of which issue it is, where its format has that.", 1),
    )
    use_limit = WholeField(
        allow_null=True,
        default=None,
        **told("How often it works; null for any number of times.", 3),
    )
    hours = hours_field(
        default=list,
        **told("When it works: weekday from Monday 0, start and end in minutes.", [[0, 480, 1080]]),
    )


class PinShape(Shape):
    """A PIN: never its digits. ``id`` is null for a new one.

    ``entry`` and ``again`` are what was typed for it, ``typed`` names the wait in which the
    cardholder typed it at a desk's keypad; ``is_generated`` asks for one to be made up. Without any
    of them the PIN stays as it is.
    """

    id = WholeField(allow_null=True, default=None)
    label = text()  # type: ignore[assignment]
    opens_alone = serializers.BooleanField(default=False)
    entry = serializers.CharField(allow_blank=True, default="", max_length=20)
    again = serializers.CharField(allow_blank=True, default="", max_length=20)
    typed = serializers.CharField(allow_null=True, default=None, max_length=50)
    is_generated = serializers.BooleanField(default=False)
    is_mailed = serializers.BooleanField(default=False)
    expiry_at = serializers.DateTimeField(allow_null=True, read_only=True)


class MembershipShape(Shape):
    """Being in a group; ``is_by_rule`` is told, and settled by the group's rules."""

    group = WholeField()
    activation_at = instant()
    expiry_at = end()
    is_by_rule = serializers.BooleanField(default=False)


class CardholderShape(Shape):
    """A cardholder's whole file. ``version`` is the one it was read at; 0 for a new one."""

    core_judges_texts: ClassVar = True

    version = WholeField(min_value=0, default=0)
    number = text()
    first_name = text()
    last_name = text()
    display_override = text()
    title = text()
    email = text()
    phones = serializers.ListField(
        child=serializers.CharField(allow_blank=True, max_length=100), default=list, max_length=50
    )
    language = text()
    born_on = serializers.DateField(allow_null=True, default=None)
    remarks = text()
    extended_time = serializers.BooleanField(default=False)
    department = WholeField(allow_null=True, default=None)
    company = WholeField(allow_null=True, default=None)
    kind = WholeField(allow_null=True, default=None)
    standing = serializers.ChoiceField(
        choices=[s.value for s in Standing], default=Standing.ACTIVE.value
    )
    standing_reason = text()
    suspended_until = instant()
    activation_at = instant()
    expiry_at = end()
    own = CustomValuesField(default=dict)
    external_id = text()
    images = serializers.ListField(
        child=serializers.CharField(allow_null=True, max_length=40), default=list, max_length=SLOTS
    )
    cards = rows_of(CardShape, MOST_CARDS, default=list)
    pins = rows_of(PinShape, MOST_PINS, default=list)
    plates = serializers.ListField(
        child=serializers.CharField(allow_blank=True, max_length=40),
        default=list,
        max_length=MOST_PLATES,
    )
    memberships = rows_of(MembershipShape, MOST_MEMBERSHIPS, default=list)
    biometrics = BiometricsShape(allow_null=True, default=None)


def cardholder_draft(values: dict[str, Any], actor: Actor) -> CardholderDraft:
    """Return the draft that was sent. Raises Invalid for a PIN that was typed for another, or is
    gone.
    """
    parts = ("version", "images", "cards", "pins", "plates", "memberships", "biometrics")
    rest = {name: value for name, value in values.items() if name not in parts}
    for name in CHOSEN:
        rest[f"{name}_id"] = rest.pop(name)
    rest["standing"] = Standing(rest["standing"])
    rest["phones"] = tuple(rest["phones"])
    rest["own"] = {int(id_): value for id_, value in rest["own"].items()}
    return CardholderDraft(
        Details(**rest),
        tuple(map(card_draft, values["cards"])),
        tuple(
            MembershipDraft(
                item["group"], item["activation_at"], item["expiry_at"], item["is_by_rule"]
            )
            for item in values["memberships"]
        ),
        values["version"],
        (*values["images"], *(None,) * SLOTS)[:SLOTS],
        tuple(_pin_draft(pin, actor) for pin in values["pins"]),
        tuple(values["plates"]),
        biometric_draft(values["biometrics"]),
    )


def card_draft(values: dict[str, Any]) -> CardDraft:
    """Return the card that was sent; its hours are those of the site's clock."""
    rest = {
        name: value for name, value in values.items() if name not in ("format", "status", "hours")
    }
    hours = tuple(Hours(*window) for window in values["hours"])
    return CardDraft(
        values["format"],
        status=CardStatus(values["status"]),
        hours=hours,
        zone=home_site()["zone"] if hours else "UTC",
        **rest,
    )


def shown_card(card: CardDraft) -> dict[str, Any]:
    """Return a card as it goes out: the other way of `card_draft`."""
    hours = [[h.weekday, h.start_minute, h.end_minute] for h in card.hours]
    return identity_of(CardKey(*card.identity)) | card.kept() | {"hours": hours}


def _pin_draft(values: dict[str, Any], actor: Actor) -> PinDraft:
    rest = {name: value for name, value in values.items() if name != "typed"}
    if values["typed"] is not None:
        rest["entry"], rest["again"] = take_typed(actor, values["typed"])
    return PinDraft(**rest)


def cardholder_out(draft: CardholderDraft) -> dict[str, Any]:
    """Return a file as it goes out: the other way of `cardholder_draft`."""
    details = dataclasses.asdict(draft.details)
    for name in CHOSEN:
        details[name] = details.pop(f"{name}_id")
    return details | {
        "version": draft.version,
        "images": list(draft.images),
        "own": {str(id_): value for id_, value in draft.details.own.items()},
        "cards": [shown_card(card) for card in draft.cards],
        "pins": [
            {
                "id": pin.id,
                "label": pin.label,
                "opens_alone": pin.opens_alone,
                "expiry_at": pin.expiry_at,
            }
            for pin in draft.pins
        ],
        "plates": list(draft.plates),
        "biometrics": biometrics_out(draft.biometrics),
        "memberships": [
            {
                "group": membership.group_id,
                "activation_at": membership.activation_at,
                "expiry_at": membership.expiry_at,
                "is_by_rule": membership.is_by_rule,
            }
            for membership in draft.memberships
        ],
    }


class ShownPinShape(Shape):
    label = serializers.CharField()  # type: ignore[assignment]
    digits = serializers.CharField()


class SavedCardholder(CardholderShape):
    """A saved file. ``shown_pins`` are those that were just made up: nothing tells them again."""

    id = serializers.IntegerField()
    shown_pins = ShownPinShape(many=True, default=list)
    display_name = serializers.CharField()
    is_erased = serializers.BooleanField()


class EraseShape(Shape):
    version = WholeField(min_value=0)
    reason = serializers.CharField(allow_blank=True, max_length=500)


class MergeShape(CardholderShape):
    """The file that both shall be; ``other`` is the record that goes."""

    other = WholeField()
    other_version = WholeField(min_value=0)
