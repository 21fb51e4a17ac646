"""Readiness: what a cardholder still lacks before a door will open for them, each gap with its name.

Whoever starts later is judged at the moment they start: all set for Monday is ready.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from cadrin.core.access.plan import Holder, Plan, ReaderMode, Way
from cadrin.core.access.rights import judge_card_at_any_hour, judge_pin
from cadrin.core.validity import State, state_at, state_in_span


class Need(StrEnum):
    """What a door asks for, in the order of the work."""

    CARD = "card"
    PIN = "pin"
    ACCESS = "access"
    VALIDITY = "validity"
    DELIVERY = "delivery"


class Gap(StrEnum):
    """What is missing."""

    NO_CARD = "no_card"
    NO_CARD_IN_FORCE = "no_card_in_force"
    CARD_NOT_READ = "card_not_read"
    NO_PIN = "no_pin"
    NO_PIN_IN_FORCE = "no_pin_in_force"
    NO_ACCESS_GROUP = "no_access_group"
    GROUPS_OPEN_NOTHING = "groups_open_nothing"
    NO_MEMBERSHIP_IN_FORCE = "no_membership_in_force"
    EXPIRED = "expired"
    SUSPENDED = "suspended"
    BARRED = "barred"
    DEPARTED = "departed"
    NOT_HELD = "not_held"


@dataclass(frozen=True, slots=True)
class ReadinessItem:
    """One need, and the gap in it; None when it is met."""

    need: Need
    gap: Gap | None


def readiness(holder: Holder, plan: Plan, at: datetime, records_not_held: int = 0) -> tuple[ReadinessItem, ...]:
    """Judge every need. ``records_not_held`` counts this cardholder's records not yet at their controller."""
    moment = at if holder.span.start is None else max(at, holder.span.start)
    ways = [plan.ways_into(door_id) for door_id in plan.doors_of(holder.memberships)] if plan.way_of_reader else []
    pin_gap = _pin_gap(holder, ways, moment)
    return (
        ReadinessItem(Need.CARD, _card_gap(holder, ways, moment)),
        *([ReadinessItem(Need.PIN, pin_gap)] if pin_gap or holder.pins else []),
        ReadinessItem(Need.ACCESS, _access_gap(holder, plan, moment)),
        ReadinessItem(Need.VALIDITY, _validity_gap(holder, moment)),
        ReadinessItem(Need.DELIVERY, Gap.NOT_HELD if records_not_held else None),
    )


def is_ready(items: tuple[ReadinessItem, ...]) -> bool:
    return all(item.gap is None for item in items)


def needs_pin(ways: Iterable[Way]) -> bool:
    """Say whether nobody gets through a door without a PIN, by what its readers take; without readers nobody does."""
    every = tuple(ways)
    return bool(every) and all(way.mode in (ReaderMode.PIN, ReaderMode.CARD_AND_PIN) for way in every)


def formats_read(ways: Iterable[Way]) -> frozenset[int] | None:
    """Give the formats that one reader of a door or another can read; None when it is all, or it takes no cards."""
    taking = [way for way in ways if way.mode.takes_cards]
    if not taking or any(way.formats is None for way in taking):
        return None
    return frozenset[int]().union(*(way.formats or () for way in taking))


def groups_by_formats_read(plan: Plan) -> Mapping[frozenset[int], frozenset[int]]:
    """Give the groups with a door that reads only some formats, by those formats."""
    found: dict[frozenset[int], set[int]] = {}
    for group in plan.groups.values() if plan.way_of_reader else ():
        for door_id in group.schedules_of_door:
            read = formats_read(plan.ways_into(door_id))
            if read is not None:
                found.setdefault(read, set()).add(group.id)
    return {read: frozenset(groups) for read, groups in found.items()}


def groups_that_need_pins(plan: Plan) -> frozenset[int]:
    """Give the groups with a door through which nobody gets without a PIN."""
    return frozenset(
        group.id
        for group in (plan.groups.values() if plan.way_of_reader else ())
        if any(needs_pin(plan.ways_into(door_id)) for door_id in group.schedules_of_door)
    )


def goes_by_pin_alone(ways: Iterable[Way]) -> bool:
    """Say whether a PIN alone opens a door, by what its readers take."""
    return any(way.mode.takes_pins_alone for way in ways)


def groups_that_need_cards(plan: Plan) -> frozenset[int]:
    """Give the groups with a door through which nobody gets by a PIN alone."""
    return frozenset(
        group.id
        for group in plan.groups.values()
        if not all(goes_by_pin_alone(plan.ways_into(door_id)) for door_id in group.schedules_of_door)
    )


def _card_gap(holder: Holder, ways: Iterable[Iterable[Way]], at: datetime) -> Gap | None:
    every = [tuple(one) for one in ways]
    has_pin_alone = any(pin.opens_alone for pin in holder.pins)
    if has_pin_alone and every and all(map(goes_by_pin_alone, every)):
        return None  # they need no card, and a PIN is a matter of its own
    if not holder.cards:
        return Gap.NO_CARD
    if not any(judge_card_at_any_hour(card, at) is None for card in holder.cards):
        return Gap.NO_CARD_IN_FORCE
    carried = {card.key.format_id for card in holder.cards}
    read = (formats_read(one) for one in every)
    return Gap.CARD_NOT_READ if any(one is not None and not carried & one for one in read) else None


def _pin_gap(holder: Holder, ways: Iterable[Iterable[Way]], at: datetime) -> Gap | None:
    """Say what of a PIN is missing: where a door asks for one, or where they have nothing else."""
    is_asked = any(map(needs_pin, ways)) or (not holder.cards and bool(holder.pins))
    if not is_asked:
        return None
    if not holder.pins:
        return Gap.NO_PIN
    return None if any(judge_pin(pin, at) is None for pin in holder.pins) else Gap.NO_PIN_IN_FORCE


def _access_gap(holder: Holder, plan: Plan, at: datetime) -> Gap | None:
    if not holder.memberships:
        return Gap.NO_ACCESS_GROUP
    if not plan.doors_of(holder.memberships):
        return Gap.GROUPS_OPEN_NOTHING
    states = {state_in_span(membership.span, at).state for membership in holder.memberships}
    return None if states & {State.IN_FORCE, State.PENDING} else Gap.NO_MEMBERSHIP_IN_FORCE


def _validity_gap(holder: Holder, at: datetime) -> Gap | None:
    state = state_at(holder.standing, holder.span, at, holder.suspended_until).state
    return None if state in (State.IN_FORCE, State.PENDING) else Gap(state.value)
