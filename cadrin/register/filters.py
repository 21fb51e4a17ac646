"""Filter the list of cardholders. What a filter means is the core's word; a test holds the two
together.
"""

from collections.abc import Callable, Mapping
from datetime import datetime
from functools import reduce
from itertools import combinations
from operator import and_
from typing import NamedTuple

from django.db.models import F, Q

from cadrin.access.matching import (
    has_membership_in_force,
    is_in_a_group,
    is_in_a_group_that_opens_something,
    is_in_any_of,
    is_member_of,
)
from cadrin.access.plan import access_plan
from cadrin.access.scoping import group_ids_hidden
from cadrin.biometrics.queries import (
    has_consent,
    has_template,
    has_template_in_force,
    is_by_card_alone,
)
from cadrin.core.access.plan import Plan
from cadrin.core.access.readiness import (
    Gap,
    groups_by_formats_read,
    groups_not_open_to,
    groups_that_need,
)
from cadrin.core.credentials.factors import Factor, Factors
from cadrin.core.errors import Invalid
from cadrin.core.people.names import number_key
from cadrin.core.validity import Standing, State
from cadrin.credentials.matching import (
    has_card,
    has_card_in_force,
    has_card_of,
    has_pin,
    has_pin_in_force,
    has_pin_that_opens_alone,
    has_plate,
    holds_cards,
)
from cadrin.delivery.queries import has_record_not_held, people_not_held
from cadrin.operators.actor import Actor
from cadrin.people.lists import departments_below
from cadrin.people.matching import having_custom_value
from cadrin.people.queries import (
    ending_within,
    having_terms,
    in_state,
    people_matching,
    starting_within,
)
from cadrin.register.not_ready import KeptAnswer


class Filters(NamedTuple):
    """What is asked of the list; all that are set must hold."""

    text: str = ""
    department_id: int | None = None
    state: State | None = None
    group_id: int | None = None
    gap: Gap | None = None
    is_not_ready: bool = False
    is_by_card_alone: bool = False
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
        match &= is_member_of(filters.group_id)
    if filters.gap is not None:
        match &= having_gap(filters.gap, at)
    if filters.is_not_ready:
        match &= not_ready(at)
    if filters.is_by_card_alone:
        match &= is_by_card_alone(at)
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
        match &= holds_cards(_card_named(filters.card))
    return match


def _card_named(written: str) -> Q:
    """Match the cards that are written so. Raises Invalid."""
    facility_code, _, number = written.strip().rpartition("-")
    parts = [number, *([facility_code] if facility_code else [])]
    if not all(part.strip().isdecimal() and len(part) < 20 for part in parts):
        raise Invalid.of("list.card_not_readable", "card")
    match = Q(card_number=int(number))
    return match & Q(facility_code=int(facility_code)) if facility_code else match


def not_ready(at: datetime) -> Q:
    """Match whoever should come in, now or later, and lacks something for it."""
    return _should_come_in(at) & Q(pk__among=_lacking.at(at) | people_not_held())


def _should_come_in(at: datetime) -> Q:
    return in_state(State.IN_FORCE, at) | in_state(State.PENDING, at)


def ids_lacking(at: datetime, among: frozenset[int] | None = None) -> set[int]:
    """Return who should come in and lacks something for it, but for what controllers hold; of all,
    or of some.
    """
    gaps = (
        Gap.NO_CARD,
        Gap.NO_CARD_IN_FORCE,
        Gap.CARD_NOT_READ,
        Gap.NO_PLATE,
        Gap.NO_CONSENT,
        Gap.NO_FINGER,
        Gap.NO_FINGER_IN_FORCE,
        Gap.NO_FACE,
        Gap.NO_FACE_IN_FORCE,
        Gap.NO_PIN,
        Gap.NO_PIN_IN_FORCE,
        Gap.NO_ACCESS_GROUP,
        Gap.GROUPS_OPEN_NOTHING,
        Gap.NO_MEMBERSHIP_IN_FORCE,
    )
    plan, lacking = access_plan(), Q()
    for gap in gaps:
        lacking |= _GAPS[gap](at, plan)
    match = _should_come_in(at) & lacking
    if among is not None:
        match &= Q(pk__among=among)
    return set(people_matching(match).values_list("id", flat=True))


_lacking = KeptAnswer(ids_lacking)


def having_gap(gap: Gap, at: datetime) -> Q:
    """Match cardholders in whose `readiness` the core finds this gap; a test holds the two
    together.
    """
    return _GAPS[gap](at, access_plan())


def _cards_are_not_read(at: datetime, plan: Plan) -> Q:
    unread = Q(pk__in=[])
    for format_ids, group_ids in groups_by_formats_read(plan).items():
        unread |= is_in_any_of(group_ids) & ~has_card_of(format_ids)
    return has_card_in_force(at) & unread & ~_needs_no_card(plan)


def _lacks_pin_in_force(at: datetime, plan: Plan) -> Q:
    has_another = has_card() | has_plate() | has_template(Factor.FINGER) | has_template(Factor.FACE)
    is_asked = _is_asked_for(Factor.PIN, plan) | ~has_another
    return is_asked & has_pin() & ~has_pin_in_force(at)


def _is_asked_for(factor: Factor, plan: Plan) -> Q:
    """Match whoever is in a group with a door that asks for this."""
    return is_in_any_of(groups_that_need(factor, plan))


def _needs_biometric(factor: Factor, at: datetime, plan: Plan) -> Q:
    return _is_asked_for(factor, plan) & ~is_by_card_alone(at)


def _lacks_consent(factor: Factor, at: datetime, plan: Plan) -> Q:
    return _needs_biometric(factor, at, plan) & ~has_consent(factor, at)


def _lacks_template(factor: Factor, at: datetime, plan: Plan) -> Q:
    return _needs_biometric(factor, at, plan) & has_consent(factor, at) & ~has_template(factor)


def _lacks_template_in_force(factor: Factor, at: datetime, plan: Plan) -> Q:
    needs = _needs_biometric(factor, at, plan) & has_consent(factor, at)
    return needs & has_template(factor) & ~has_template_in_force(factor, at)


def _is_suspended(at: datetime) -> Q:
    later = Q(suspended_until__gt=at) & (
        Q(activation_at=None) | Q(suspended_until__gt=F("activation_at"))
    )
    return Q(standing=Standing.SUSPENDED) & (Q(suspended_until=None) | later)


def _is_expired(at: datetime) -> Q:
    by_decision = Q(standing__in=[Standing.BARRED, Standing.DEPARTED]) | _is_suspended(at)
    return Q(expiry_at__lte=at) & ~by_decision


_GAPS: Mapping[Gap, Callable[[datetime, Plan], Q]] = {
    Gap.NO_CARD: lambda at, plan: ~has_card() & ~_needs_no_card(plan),
    Gap.NO_CARD_IN_FORCE: lambda at, plan: (
        has_card() & ~has_card_in_force(at) & ~_needs_no_card(plan)
    ),
    Gap.CARD_NOT_READ: _cards_are_not_read,
    Gap.NO_PLATE: lambda at, plan: _is_asked_for(Factor.PLATE, plan) & ~has_plate(),
    Gap.NO_CONSENT: lambda at, plan: (
        _lacks_consent(Factor.FINGER, at, plan) | _lacks_consent(Factor.FACE, at, plan)
    ),
    Gap.NO_FINGER: lambda at, plan: _lacks_template(Factor.FINGER, at, plan),
    Gap.NO_FINGER_IN_FORCE: lambda at, plan: _lacks_template_in_force(Factor.FINGER, at, plan),
    Gap.NO_FACE: lambda at, plan: _lacks_template(Factor.FACE, at, plan),
    Gap.NO_FACE_IN_FORCE: lambda at, plan: _lacks_template_in_force(Factor.FACE, at, plan),
    Gap.NO_PIN: lambda at, plan: _is_asked_for(Factor.PIN, plan) & ~has_pin(),
    Gap.NO_PIN_IN_FORCE: _lacks_pin_in_force,
    Gap.NO_ACCESS_GROUP: lambda at, plan: ~is_in_a_group(),
    Gap.GROUPS_OPEN_NOTHING: lambda at, plan: (
        is_in_a_group() & ~is_in_a_group_that_opens_something()
    ),
    Gap.NO_MEMBERSHIP_IN_FORCE: lambda at, plan: (
        is_in_a_group_that_opens_something() & ~has_membership_in_force(at)
    ),
    Gap.SUSPENDED: lambda at, plan: _is_suspended(at),
    Gap.EXPIRED: lambda at, plan: _is_expired(at),
    Gap.BARRED: lambda at, plan: Q(standing=Gap.BARRED.value),
    Gap.DEPARTED: lambda at, plan: Q(standing=Gap.DEPARTED.value),
    Gap.NOT_HELD: lambda at, plan: has_record_not_held(),
}
"""Whom each gap is found in."""


def _needs_no_card(plan: Plan) -> Q:
    """Match whoever has other credentials than cards, of which every door of theirs asks for no
    more.
    """
    others = {
        Factor.PIN: has_pin_that_opens_alone(),
        Factor.PLATE: has_plate(),
        Factor.FINGER: has_template(Factor.FINGER),
        Factor.FACE: has_template(Factor.FACE),
    }
    opening = {group.id for group in plan.groups.values() if group.schedules_of_door}
    shut_to: dict[Factors, frozenset[int]] = {}
    found = Q(pk__in=[])
    for count in range(1, len(others) + 1):
        for factors in combinations(others, count):
            shut = groups_not_open_to(factors, plan)
            # what nobody can be is not asked about, nor what fewer of these find already
            is_known = any(
                set(fewer) < set(factors) and shut_to[fewer] == shut for fewer in shut_to
            )
            if is_known or opening <= shut:
                continue
            shut_to[factors] = shut
            has_all = reduce(and_, (others[factor] for factor in factors))
            found |= has_all & ~is_in_any_of(shut)
    return is_in_a_group_that_opens_something() & found
