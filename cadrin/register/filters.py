"""Filter the list of cardholders. What a filter means is the core's word; a test holds the two
together.
"""

from datetime import datetime
from typing import NamedTuple

from django.db.models import Exists, F, OuterRef, Q, QuerySet, Value
from django.db.models.functions import Coalesce

from cadrin.access.models import Grant, Membership
from cadrin.access.plan import access_plan
from cadrin.access.scoping import group_ids_hidden
from cadrin.core.access.readiness import (
    Gap,
    groups_by_formats_read,
    groups_not_open_to,
    groups_that_need,
)
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.factors import Factor
from cadrin.core.errors import Invalid
from cadrin.core.people.custom_fields import FieldType, read_value, sort_key
from cadrin.core.people.names import number_key
from cadrin.core.validity import Standing, State
from cadrin.credentials.models import Card, Pin, Plate
from cadrin.delivery.queries import has_record_not_held
from cadrin.operators.actor import Actor
from cadrin.people.lists import custom_field, departments_below
from cadrin.people.models import CustomField, CustomFieldKey
from cadrin.people.queries import (
    AFTER_EVERY_LETTER,
    ending_within,
    having_terms,
    in_state,
    starting_within,
)


class Filters(NamedTuple):
    """What is asked of the list; all that are set must hold."""

    text: str = ""
    department_id: int | None = None
    state: State | None = None
    group_id: int | None = None
    gap: Gap | None = None
    is_not_ready: bool = False
    ending_within_days: int | None = None
    starting_within_days: int | None = None
    company_id: int | None = None
    kind_id: int | None = None
    custom_field_id: int | None = None
    custom_value: str = ""
    """The beginning of the value of that custom field, or all of a choice; empty for whoever has
    none.
    """
    number: str = ""
    external_id: str = ""
    email: str = ""
    """These, and the card, are looked up exactly."""
    card: str = ""
    """Facility code and card number with a hyphen between them, or the card number alone."""


def matching(actor: Actor, filters: Filters, at: datetime) -> Q:
    """Match the cardholders for whom every filter holds; in a group that the actor may not see,
    there is nobody.
    """
    match = having_terms(filters.text)
    if filters.department_id is not None:
        match &= Q(department_id__in=departments_below(filters.department_id))
    if filters.state is not None:
        match &= in_state(filters.state, at)
    if filters.group_id is not None and filters.group_id in group_ids_hidden(actor):
        match &= Q(pk__in=[])
    elif filters.group_id is not None:
        match &= Q(
            pk__in=Membership.objects.filter(group_id=filters.group_id).values("cardholder_id")
        )
    if filters.gap is not None:
        match &= having_gap(filters.gap, at)
    if filters.is_not_ready:
        match &= not_ready(at)
    if filters.ending_within_days is not None:
        match &= ending_within(at, filters.ending_within_days)
    if filters.starting_within_days is not None:
        match &= starting_within(at, filters.starting_within_days)
    if filters.company_id is not None:
        match &= Q(company_id=filters.company_id)
    if filters.kind_id is not None:
        match &= Q(kind_id=filters.kind_id)
    if filters.custom_field_id is not None:
        match &= having_custom_value(filters.custom_field_id, filters.custom_value)
    return match & _named_exactly(filters)


def _named_exactly(filters: Filters) -> Q:
    match = Q()
    if filters.number:
        match &= Q(number_key=number_key(filters.number))
    if filters.external_id:
        match &= Q(external_id=filters.external_id.strip())
    if filters.email:
        match &= Q(email=filters.email.strip())
    if filters.card:
        match &= Q(pk__in=Card.objects.filter(_card_named(filters.card)).values("holder"))
    return match


def _card_named(written: str) -> Q:
    """Match the cards that are written so. Raises Invalid."""
    facility_code, _, number = written.strip().rpartition("-")
    parts = [number, *([facility_code] if facility_code else [])]
    if not all(part.strip().isdecimal() and len(part) < 20 for part in parts):
        raise Invalid.of("list.card_not_readable", "card")
    match = Q(card_number=int(number))
    return match & Q(facility_code=int(facility_code)) if facility_code else match


def having_custom_value(field_id: int, value: str) -> Q:
    """Match whoever's value of an own field begins with this; with an empty one, whoever has no
    value.
    """
    field = CustomField.objects.filter(pk=field_id).first()
    keys = CustomFieldKey.objects.filter(field_id=field_id)
    if field is None or not value.strip():
        return ~Q(pk__in=keys.values("cardholder_id"))
    read = read_value(custom_field(field), value)
    key = sort_key(custom_field(field), read if isinstance(read, str) else value)
    if FieldType(field.type) in (FieldType.TEXT, FieldType.LONG_TEXT):
        keys = keys.filter(key__gte=key, key__lt=key + AFTER_EVERY_LETTER)
    else:
        keys = keys.filter(key=key)
    return Q(pk__in=keys.values("cardholder_id"))


def not_ready(at: datetime) -> Q:
    """Match whoever should come in, now or later, and lacks something for it."""
    gaps = (
        Gap.NO_CARD,
        Gap.NO_CARD_IN_FORCE,
        Gap.CARD_NOT_READ,
        Gap.NO_PIN,
        Gap.NO_PIN_IN_FORCE,
        Gap.NO_ACCESS_GROUP,
        Gap.GROUPS_OPEN_NOTHING,
        Gap.NO_MEMBERSHIP_IN_FORCE,
        Gap.NOT_HELD,
    )
    lacking = Q()
    for gap in gaps:
        lacking |= having_gap(gap, at)
    return (in_state(State.IN_FORCE, at) | in_state(State.PENDING, at)) & lacking


def _in_force(cards: QuerySet[Card], at: datetime) -> QuerySet[Card]:
    """Keep the cards that count, whatever hours of their own they have."""
    alive = Q(status=CardStatus.ISSUED) | Q(status=CardStatus.SUSPENDED, suspended_until__lte=at)
    return cards.filter(alive, _has_begun(at), _is_not_over(at)).exclude(
        use_limit__isnull=False, used__gte=F("use_limit")
    )


def having_gap(gap: Gap, at: datetime) -> Q:
    """Match cardholders in whose `readiness` the core finds this gap; a test holds the two
    together.
    """
    cards = Card.objects.filter(holder_id=OuterRef("pk"))
    memberships = Membership.objects.filter(cardholder_id=OuterRef("pk"))
    opening = memberships.filter(Exists(Grant.objects.filter(group_id=OuterRef("group_id"))))
    pins = Pin.objects.filter(holder_id=OuterRef("pk"))
    plates = Plate.objects.filter(holder_id=OuterRef("pk"))
    match gap:
        case Gap.NO_CARD:
            return Q(~Exists(cards)) & ~_needs_no_card()
        case Gap.NO_CARD_IN_FORCE:
            return Q(Exists(cards)) & Q(~Exists(_in_force(cards, at))) & ~_needs_no_card()
        case Gap.CARD_NOT_READ:
            unread = Q(pk__in=[])
            for format_ids, group_ids in groups_by_formats_read(access_plan()).items():
                unread |= Q(Exists(memberships.filter(group_id__in=group_ids))) & Q(
                    ~Exists(cards.filter(format_id__in=format_ids))
                )
            return Q(Exists(_in_force(cards, at))) & unread & ~_needs_no_card()
        case Gap.NO_PLATE:
            asking = memberships.filter(group_id__in=groups_that_need(Factor.PLATE, access_plan()))
            return Q(Exists(asking)) & Q(~Exists(plates))
        case Gap.NO_PIN:
            asking = memberships.filter(group_id__in=groups_that_need(Factor.PIN, access_plan()))
            return Q(Exists(asking)) & Q(~Exists(pins))
        case Gap.NO_PIN_IN_FORCE:
            asking = memberships.filter(group_id__in=groups_that_need(Factor.PIN, access_plan()))
            is_asked = Q(Exists(asking)) | (Q(~Exists(cards)) & Q(~Exists(plates)))
            return is_asked & Q(Exists(pins)) & Q(~Exists(pins.filter(_is_not_over(at))))
        case Gap.NO_ACCESS_GROUP:
            return Q(~Exists(memberships))
        case Gap.GROUPS_OPEN_NOTHING:
            return Q(Exists(memberships)) & Q(~Exists(opening))
        case Gap.NO_MEMBERSHIP_IN_FORCE:
            return Q(Exists(opening)) & Q(~Exists(memberships.filter(_is_not_over(at))))
        case Gap.SUSPENDED:
            later = Q(suspended_until__gt=at) & (
                Q(activation_at=None) | Q(suspended_until__gt=F("activation_at"))
            )
            return Q(standing=Standing.SUSPENDED) & (Q(suspended_until=None) | later)
        case Gap.EXPIRED:
            by_decision = Q(standing__in=[Standing.BARRED, Standing.DEPARTED]) | having_gap(
                Gap.SUSPENDED, at
            )
            return Q(expiry_at__lte=at) & ~by_decision
        case Gap.BARRED | Gap.DEPARTED:
            return Q(standing=gap.value)
        case Gap.NOT_HELD:
            return has_record_not_held()


def _needs_no_card() -> Q:
    """Match whoever has a PIN that opens alone, a plate, or both, where every door of theirs asks
    for no more.
    """
    memberships = Membership.objects.filter(cardholder_id=OuterRef("pk"))
    opening = memberships.filter(Exists(Grant.objects.filter(group_id=OuterRef("group_id"))))
    alone = Pin.objects.filter(holder_id=OuterRef("pk"), opens_alone=True)
    plates = Plate.objects.filter(holder_id=OuterRef("pk"))
    found = Q(pk__in=[])
    for has, factors in (
        (Q(Exists(alone)), (Factor.PIN,)),
        (Q(Exists(plates)), (Factor.PLATE,)),
        (Q(Exists(alone)) & Q(Exists(plates)), (Factor.PLATE, Factor.PIN)),
    ):
        others = memberships.filter(group_id__in=groups_not_open_to(factors, access_plan()))
        found |= has & Q(~Exists(others))
    return Q(Exists(opening)) & found


def _has_begun(at: datetime) -> Q:
    """Match what counts at ``at``, or when its cardholder starts if that is later."""
    return (
        Q(activation_at=None)
        | Q(activation_at__lte=at)
        | Q(activation_at__lte=OuterRef("activation_at"))
    )


def _is_not_over(at: datetime) -> Q:
    moment_of_start = Coalesce(OuterRef("activation_at"), Value(at))
    return Q(expiry_at=None) | Q(expiry_at__gt=at) & Q(expiry_at__gt=moment_of_start)
