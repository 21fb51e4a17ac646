"""Readiness: what a cardholder still lacks before a door will open for them, each gap with its name.

Whoever starts later is judged at the moment they start: all set for Monday is ready.
"""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.access.rights import judge_card
from cadrin.core.validity import State, state_at, state_in_span


class Need(StrEnum):
    """What a door asks for, in the order of the work."""

    CARD = "card"
    ACCESS = "access"
    VALIDITY = "validity"
    DELIVERY = "delivery"


class Gap(StrEnum):
    """What is missing."""

    NO_CARD = "no_card"
    NO_CARD_IN_FORCE = "no_card_in_force"
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
    return (
        ReadinessItem(Need.CARD, _card_gap(holder, moment)),
        ReadinessItem(Need.ACCESS, _access_gap(holder, plan, moment)),
        ReadinessItem(Need.VALIDITY, _validity_gap(holder, moment)),
        ReadinessItem(Need.DELIVERY, Gap.NOT_HELD if records_not_held else None),
    )


def is_ready(items: tuple[ReadinessItem, ...]) -> bool:
    return all(item.gap is None for item in items)


def _card_gap(holder: Holder, at: datetime) -> Gap | None:
    if not holder.cards:
        return Gap.NO_CARD
    return None if any(judge_card(card, at) is None for card in holder.cards) else Gap.NO_CARD_IN_FORCE


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
