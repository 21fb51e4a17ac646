"""A cardholder with everything that is theirs, as scripts see it."""

from typing import Any, ClassVar

from rest_framework import serializers

from cadrin.api.base import PageQuery
from cadrin.core.validity import Standing
from cadrin.credentials.pin_draft import MOST_PINS
from cadrin.credentials.plates import MOST_PLATES
from cadrin.enrolment.rest.shapes import MOST_CARDS, MOST_MEMBERSHIPS, CustomValuesField
from cadrin.enrolment.rest.shapes import CardShape as ScreenCardShape
from cadrin.operators.rest.base import Shape, WholeField, rows_of, told
from cadrin.register.rest.shapes import FiltersShape
from cadrin.sites.rest.fields import SiteInstantField

INSTANT = "2026-12-04T18:00:00Z"


def text(words: str, example: str = "") -> serializers.CharField:
    """Take a text of any length: the core says what is too long."""
    return serializers.CharField(allow_blank=True, default="", **told(words, example))


def instant(words: str, example: str | None = INSTANT) -> SiteInstantField:
    return SiteInstantField(allow_null=True, default=None, **told(words, example))


def link(words: str, example: int = 4) -> WholeField:
    """Take the id of something, or null."""
    return WholeField(allow_null=True, default=None, **told(words, example))


def flag(words: str) -> serializers.BooleanField:
    return serializers.BooleanField(default=False, **told(words, False))


def only_shown(words: str, example: Any) -> dict[str, Any]:
    """Describe a field that is shown; sent back, it is passed over."""
    return told(words, example, read_only=True)


class CardShape(ScreenCardShape):
    """A card that somebody has."""

    id = serializers.IntegerField(**only_shown("The card's own id.", 512))


class PinShape(Shape):
    """A PIN. Its digits are never shown; those that Cadrin generates are in the answer, once."""

    id = WholeField(allow_null=True, default=None, **told("Null for a new one.", 31))
    label = text("What the desk calls it.", "")  # type: ignore[assignment]
    opens_alone = flag("Opens without a card where a reader takes a PIN alone.")
    digits = serializers.CharField(
        default="",
        max_length=20,
        write_only=True,
        **told("New digits; left out, those that are there stay.", "481509"),
    )
    is_generated = serializers.BooleanField(
        default=False, write_only=True, **told("Let Cadrin choose the digits.", True)
    )
    is_mailed = serializers.BooleanField(
        default=False, write_only=True, **told("Mail them instead of showing them.", False)
    )


class MembershipShape(Shape):
    """Being in an access group."""

    group = WholeField(**told("Id of the access group; see `/groups`.", 3))
    activation_at = instant("Counts from then on.", None)
    expiry_at = instant("Counts until then.")
    is_by_rule = serializers.BooleanField(
        default=False, **told("A rule of the group gave it; settled by Cadrin.", False)
    )


class ShownPinShape(Shape):
    """A PIN that was generated just now."""

    label = serializers.CharField(**told("Its label.", ""))  # type: ignore[assignment]
    digits = serializers.CharField(**told("Its digits, shown this once.", "481509"))


class CardholderShape(Shape):
    """A cardholder: personal details, validity, and all that opens doors for them."""

    core_judges_texts: ClassVar = True

    id = serializers.IntegerField(**only_shown("The cardholder's own id; it never changes.", 17))
    version = WholeField(
        min_value=0,
        allow_null=True,
        default=None,
        **told("Moves with each change. A change names it, here or in `If-Match`.", 3),
    )
    number = text("Unique. Left out for a new cardholder, the next free one.", "S-00042")
    external_id = text("What another system knows them by; unique.", "hr-7781")
    display_name = serializers.CharField(
        **only_shown("The name as lists and readers show it.", "Mara Lindqvist")
    )
    first_name = text("First name.", "Mara")
    last_name = text("Last name.", "Lindqvist")
    display_override = text("A display name instead of the one the site's rule makes.")
    title = text("Job title.", "Diver")
    email = text("E-mail address.", "mara.lindqvist@skerrow.example")
    phones = serializers.ListField(
        child=serializers.CharField(max_length=100),
        default=list,
        max_length=50,
        **told("Telephone numbers.", ["+44 1632 960001"]),
    )
    language = text("The language they are spoken to in; empty for the site's.", "en")
    born_on = serializers.DateField(
        allow_null=True,
        default=None,
        **told("Birth date; null also for whoever may not see it.", "1990-04-12"),
    )
    remarks = text("Remarks.")
    extended_time = flag("Doors stay unlocked longer for them.")
    department = link("Id of the department; see `/departments`.")
    company = link("Id of the company; see `/companies`.", 2)
    kind = link("Id of the kind of cardholder; see `/kinds`.", 1)
    standing = serializers.ChoiceField(
        choices=[standing.value for standing in Standing],
        default=Standing.ACTIVE.value,
        **told("What the site has decided about them.", "active"),
    )
    standing_reason = text("Why.")
    suspended_until = instant("The end of a suspension; null for one without an end.", None)
    activation_at = instant("May enter from then on.", None)
    expiry_at = instant("May enter until then.")
    custom_fields = CustomValuesField(
        default=dict, **told("Values of custom fields by the field's id.", {"1": "A 101"})
    )
    cards = rows_of(CardShape, MOST_CARDS, default=list, **told("Their cards."))
    pins = rows_of(PinShape, MOST_PINS, default=list, **told("Their PINs."))
    plates = serializers.ListField(
        child=serializers.CharField(max_length=40),
        default=list,
        max_length=MOST_PLATES,
        **told("Licence plates.", ["SK10 ABO"]),
    )
    memberships = rows_of(
        MembershipShape, MOST_MEMBERSHIPS, default=list, **told("Their access groups.")
    )
    is_erased = serializers.BooleanField(**only_shown("Personal details are gone for good.", False))
    shown_pins = ShownPinShape(
        many=True,
        **only_shown("PINs that this request let Cadrin generate; in the answer to it alone.", []),
    )


class CardholderQuery(FiltersShape, PageQuery):
    """Which cardholders: all filters that are given must hold."""

    number = serializers.CharField(default="", **told("Exactly this number.", "S-00042"))
    external_id = serializers.CharField(default="", **told("Exactly this external id.", "hr-7781"))
    email = serializers.CharField(default="", **told("Exactly this e-mail address.", ""))
    card = serializers.CharField(
        default="",
        **told("Holds this card: facility code and number, or the number alone.", "87-4628"),
    )
    sort = serializers.CharField(
        default="name",
        max_length=20,
        **told("A column of the list; with a minus before it the other way round.", "-number"),
    )
