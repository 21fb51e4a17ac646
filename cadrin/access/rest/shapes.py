"""What comes in and goes out about groups, schedules and cardholders' files."""

import dataclasses
from datetime import UTC, datetime
from typing import Any, ClassVar
from zoneinfo import ZoneInfo

from rest_framework import serializers

from cadrin.access.commands.file import FileDraft
from cadrin.access.commands.groups import GrantDraft, GroupDraft
from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.commands.schedules import ScheduleDraft
from cadrin.access.queries import home_site
from cadrin.cards.commands import CardDraft
from cadrin.cards.keypad import take_typed
from cadrin.cards.pins import MOST_PINS, PinDraft
from cadrin.cards.plates import MOST_PLATES
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.factors import Factor
from cadrin.core.people.custom_fields import FieldType
from cadrin.core.people.details import Details
from cadrin.core.schedules import Hours, is_skipped, zone_named
from cadrin.core.validity import Standing
from cadrin.operators.actor import Actor
from cadrin.operators.rest.base import Shape, WholeField, rows_of
from cadrin.photos.commands import SLOTS

MOST_CARDS, MOST_MEMBERSHIPS, MOST_GRANTS = 100, 500, 5000
"""Of one cardholder in one request: more than anybody has, and few enough to be judged at once."""


class SiteInstantField(serializers.DateTimeField):
    """An instant, to the second, as doors know it. Without an offset it is what the clock on the site's wall shows.

    From here on it is UTC: two instants of one zone are compared by its wall clock, which shows an hour twice.
    """

    def to_internal_value(self, value: Any) -> datetime:
        at: datetime = super().to_internal_value(value)
        try:
            return at.astimezone(UTC).replace(microsecond=0)
        except OverflowError:
            self.fail("overflow")

    def default_timezone(self) -> ZoneInfo:
        return zone_named(home_site()["zone"])

    def enforce_timezone(self, value: datetime) -> datetime:
        if value.tzinfo is None and is_skipped(value, self.default_timezone()):
            self.fail("make_aware", timezone=self.default_timezone())
        return super().enforce_timezone(value)


class OwnValuesField(serializers.DictField):
    """Values of own fields, as the core writes them, by the field's id."""

    child = serializers.CharField(allow_blank=True, max_length=10_000)

    def to_internal_value(self, given: Any) -> dict[Any, Any]:
        values: dict[Any, Any] = super().to_internal_value(given)
        if any(not id_.isdecimal() or len(id_) > 9 for id_ in values):
            self.fail("not_a_dict", input_type="names")
        return values


def instant() -> SiteInstantField:
    return SiteInstantField(allow_null=True, default=None)


def text() -> serializers.CharField:
    """Take a text of any length: the core says what is too long."""
    return serializers.CharField(allow_blank=True, default="")


def hours_field(**more: Any) -> serializers.ListField:
    """Take windows of a week: weekday from Monday 0, start and end in minutes of that day."""
    minutes = serializers.IntegerField(min_value=0, max_value=20000)
    return serializers.ListField(
        child=serializers.ListField(child=minutes, min_length=3, max_length=3), max_length=200, **more
    )


class CardShape(Shape):
    format = WholeField()
    facility_code = WholeField()
    card_number = WholeField()
    status = serializers.ChoiceField(choices=[s.value for s in CardStatus], default=CardStatus.ISSUED.value)
    activation_at = instant()
    expiry_at = instant()
    suspended_until = instant()
    label = text()  # type: ignore[assignment]
    is_watched = serializers.BooleanField(default=False)
    is_temporary = serializers.BooleanField(default=False)
    issue_level = WholeField(allow_null=True, default=None)
    use_limit = WholeField(allow_null=True, default=None)
    hours = hours_field(default=list)


class PinShape(Shape):
    """A PIN: never its digits. ``id`` is null for a new one.

    ``entry`` and ``again`` are what was typed for it, ``typed`` names the wait in which the cardholder typed it at
    a desk's keypad; ``is_made_up`` asks for one to be made up. Without any of them the PIN stays as it is.
    """

    id = WholeField(allow_null=True, default=None)
    label = text()  # type: ignore[assignment]
    opens_alone = serializers.BooleanField(default=False)
    entry = serializers.CharField(allow_blank=True, default="", max_length=20)
    again = serializers.CharField(allow_blank=True, default="", max_length=20)
    typed = serializers.CharField(allow_null=True, default=None, max_length=50)
    is_made_up = serializers.BooleanField(default=False)
    is_mailed = serializers.BooleanField(default=False)


class CardIdentityShape(Shape):
    """What makes a card one card."""

    format = WholeField()
    facility_code = WholeField()
    card_number = WholeField()


def identity_of(key: CardKey) -> dict[str, int]:
    """Write what makes a card one card."""
    return {"format": key.format_id, "facility_code": key.facility_code, "card_number": key.card_number}


class MembershipShape(Shape):
    group = WholeField()
    activation_at = instant()
    expiry_at = instant()


class FileShape(Shape):
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
    standing = serializers.ChoiceField(choices=[s.value for s in Standing], default=Standing.ACTIVE.value)
    standing_reason = text()
    suspended_until = instant()
    activation_at = instant()
    expiry_at = instant()
    own = OwnValuesField(default=dict)
    images = serializers.ListField(
        child=serializers.CharField(allow_null=True, max_length=40), default=list, max_length=SLOTS
    )
    cards = rows_of(CardShape, MOST_CARDS, default=list)
    pins = rows_of(PinShape, MOST_PINS, default=list)
    plates = serializers.ListField(
        child=serializers.CharField(allow_blank=True, max_length=40), default=list, max_length=MOST_PLATES
    )
    memberships = rows_of(MembershipShape, MOST_MEMBERSHIPS, default=list)


def file_draft(values: dict[str, Any], actor: Actor) -> FileDraft:
    """Give the draft that was sent. Raises Invalid for a PIN that was typed for another, or is gone."""
    parts = ("version", "images", "cards", "pins", "plates", "memberships")
    rest = {name: value for name, value in values.items() if name not in parts}
    for name in ("department", "company", "kind"):
        rest[f"{name}_id"] = rest.pop(name)
    rest["standing"] = Standing(rest["standing"])
    rest["phones"] = tuple(rest["phones"])
    rest["own"] = {int(id_): value for id_, value in rest["own"].items()}
    return FileDraft(
        Details(**rest),
        tuple(map(card_draft, values["cards"])),
        tuple(MembershipDraft(one["group"], one["activation_at"], one["expiry_at"]) for one in values["memberships"]),
        values["version"],
        (*values["images"], *(None,) * SLOTS)[:SLOTS],
        tuple(_pin_draft(pin, actor) for pin in values["pins"]),
        tuple(values["plates"]),
    )


def card_draft(values: dict[str, Any]) -> CardDraft:
    """Give the card that was sent; its hours are those of the site's clock."""
    rest = {name: value for name, value in values.items() if name not in ("format", "status", "hours")}
    hours = tuple(Hours(*window) for window in values["hours"])
    return CardDraft(
        values["format"],
        status=CardStatus(values["status"]),
        hours=hours,
        zone=home_site()["zone"] if hours else "UTC",
        **rest,
    )


def shown_card(card: CardDraft) -> dict[str, Any]:
    """Give a card as it goes out: the other way of `card_draft`."""
    hours = [[h.weekday, h.start_minute, h.end_minute] for h in card.hours]
    return identity_of(CardKey(*card.identity)) | card.kept() | {"hours": hours}


def _pin_draft(values: dict[str, Any], actor: Actor) -> PinDraft:
    rest = {name: value for name, value in values.items() if name != "typed"}
    if values["typed"] is not None:
        rest["entry"], rest["again"] = take_typed(actor, values["typed"])
    return PinDraft(**rest)


def shown_file(draft: FileDraft) -> dict[str, Any]:
    """Give a file as it goes out: the other way of `file_draft`."""
    details = {name.removesuffix("_id"): value for name, value in dataclasses.asdict(draft.details).items()}
    return details | {
        "version": draft.version,
        "images": list(draft.images),
        "own": {str(id_): value for id_, value in draft.details.own.items()},
        "cards": [shown_card(card) for card in draft.cards],
        "pins": [{"id": pin.id, "label": pin.label, "opens_alone": pin.opens_alone} for pin in draft.pins],
        "plates": list(draft.plates),
        "memberships": [
            {"group": one.group_id, "activation_at": one.activation_at, "expiry_at": one.expiry_at}
            for one in draft.memberships
        ],
    }


class ShownPinShape(Shape):
    label = serializers.CharField()  # type: ignore[assignment]
    digits = serializers.CharField()


class SavedFile(FileShape):
    """A saved file. ``shown_pins`` are those that were just made up: nothing tells them again."""

    id = serializers.IntegerField()
    shown_pins = ShownPinShape(many=True, default=list)
    display_name = serializers.CharField()
    is_erased = serializers.BooleanField()


class Saved(Shape):
    id = serializers.IntegerField()


class GrantShape(Shape):
    door = WholeField()
    schedule = WholeField()


class GroupShape(Shape):
    version = WholeField(min_value=0, default=0)
    name = serializers.CharField(max_length=60, allow_blank=True)
    remarks = serializers.CharField(max_length=200, allow_blank=True, default="")
    grants = rows_of(GrantShape, MOST_GRANTS, default=list)


class Group(GroupShape):
    id = serializers.IntegerField()
    member_count = serializers.IntegerField()


def group_draft(values: dict[str, Any]) -> GroupDraft:
    """Give the draft that was sent."""
    grants = tuple(GrantDraft(one["door"], one["schedule"]) for one in values["grants"])
    return GroupDraft(values["name"], values["remarks"], grants, values["version"])


class Member(Shape):
    cardholder_id = serializers.IntegerField()
    name = serializers.CharField()
    number = serializers.CharField()
    activation_at = serializers.DateTimeField(allow_null=True)
    expiry_at = serializers.DateTimeField(allow_null=True)


class ScheduleShape(Shape):
    """``hours`` are windows of a week: weekday from Monday 0, start and end in minutes of that day."""

    version = WholeField(min_value=0, default=0)
    name = serializers.CharField(max_length=60, allow_blank=True)
    zone = serializers.CharField(max_length=60, allow_blank=True)
    hours = hours_field()


class Schedule(ScheduleShape):
    id = serializers.IntegerField()
    group_count = serializers.IntegerField()


def schedule_draft(values: dict[str, Any]) -> ScheduleDraft:
    """Give the draft that was sent."""
    hours = tuple(Hours(*window) for window in values["hours"])
    return ScheduleDraft(values["name"], values["zone"], hours, values["version"])


class Choice(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()


class RetirableChoice(Choice):
    is_retired = serializers.BooleanField()


class CompanyChoice(RetirableChoice):
    short_name = serializers.CharField()


class OwnChoice(Shape):
    key = serializers.CharField()
    labels = serializers.DictField(child=serializers.CharField())


class OwnFieldShape(Shape):
    """A field the site defined; labels, helps and the labels of choices by language."""

    id = serializers.IntegerField()
    labels = serializers.DictField(child=serializers.CharField())
    help = serializers.DictField(child=serializers.CharField(allow_blank=True))
    type = serializers.ChoiceField(choices=[t.value for t in FieldType])
    choices = OwnChoice(many=True)
    is_required = serializers.BooleanField()
    is_unique = serializers.BooleanField()


class DepartmentChoice(RetirableChoice):
    """A department; ``default_groups`` are proposed to whoever comes into it, or into one below it."""

    number = serializers.CharField()
    parent_id = serializers.IntegerField(allow_null=True)
    depth = serializers.IntegerField()
    default_groups = serializers.ListField(child=serializers.IntegerField())
    version = serializers.IntegerField()


class DepartmentWithPeople(DepartmentChoice):
    people = serializers.IntegerField()


class DepartmentShape(Shape):
    version = WholeField(min_value=0, default=0)
    number = text()
    name = text()
    parent_id = WholeField(allow_null=True, default=None)
    is_retired = serializers.BooleanField(default=False)
    default_groups = serializers.ListField(child=WholeField(), default=list, max_length=100)


class MergeDepartment(Shape):
    into = WholeField()


class Moved(Shape):
    moved = serializers.IntegerField()


class Door(Choice):
    area_name = serializers.CharField()
    site_name = serializers.CharField()
    zone = serializers.CharField()
    controller_id = serializers.IntegerField()
    controller_name = serializers.CharField()


class PolicyField(serializers.ListField):
    """What a reader asks for: alternatives, each a list of factors that are presented together."""

    def __init__(self, **options: Any) -> None:
        alternative = serializers.ListField(
            child=serializers.ChoiceField(choices=[factor.value for factor in Factor]),
            min_length=1,
            max_length=len(Factor),
        )
        super().__init__(child=alternative, min_length=1, max_length=20, **options)


class Reader(Choice):
    controller_id = serializers.IntegerField()
    door_id = serializers.IntegerField(allow_null=True)
    is_desk = serializers.BooleanField()
    has_keypad = serializers.BooleanField()
    is_way_out = serializers.BooleanField()
    version = serializers.IntegerField()
    policy = PolicyField()
    has_camera = serializers.BooleanField()
    format_ids = serializers.ListField(child=serializers.IntegerField())


class FormatChoice(Choice):
    about = serializers.CharField()
    highest_issue_level = serializers.IntegerField(allow_null=True)


class Site(Choice):
    zone = serializers.CharField()


class ComingShape(Shape):
    end_of_day = serializers.DateTimeField()
    morning = serializers.DateTimeField()


class House(Shape):
    """What every screen chooses from."""

    site = Site()
    sites = Site(many=True)
    departments = DepartmentChoice(many=True)
    companies = CompanyChoice(many=True)
    kinds = RetirableChoice(many=True)
    own_fields = OwnFieldShape(many=True)
    languages = serializers.ListField(child=serializers.CharField())
    required_fields = serializers.ListField(child=serializers.CharField())
    image_names = serializers.ListField(child=serializers.CharField())
    formats = FormatChoice(many=True)
    groups = Choice(many=True)
    doors = Door(many=True)
    readers = Reader(many=True)
    most_cards = serializers.IntegerField(allow_null=True)
    pin_length = serializers.IntegerField()
    can_mail = serializers.BooleanField()
