"""Readiness: what a cardholder still lacks before a door will open for them, each gap with its
name.

Whoever starts later is judged at the moment they start: all set for Monday is ready.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.credentials.factors import BIOMETRIC, Factor, Factors, ReaderPolicy
from cadrin.core.validity import State, state_at, state_in_span


class Need(StrEnum):
    """What a door asks for, in the order of the work."""

    CARD = "card"
    PLATE = "plate"
    FINGER = "finger"
    FACE = "face"
    PIN = "pin"
    ACCESS = "access"
    VALIDITY = "validity"
    DELIVERY = "delivery"


class Gap(StrEnum):
    """What is missing."""

    NO_CARD = "no_card"
    NO_CARD_IN_FORCE = "no_card_in_force"
    CARD_NOT_READ = "card_not_read"
    NO_PLATE = "no_plate"
    NO_CONSENT = "no_consent"
    NO_FINGER = "no_finger"
    NO_FINGER_IN_FORCE = "no_finger_in_force"
    NO_FACE = "no_face"
    NO_FACE_IN_FORCE = "no_face_in_force"
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


Policies = tuple[ReaderPolicy, ...]
"""What the readers into one door ask for."""


def readiness(
    holder: Holder, plan: Plan, at: datetime, records_not_held: int = 0
) -> tuple[ReadinessItem, ...]:
    """Judge every need. ``records_not_held`` counts this cardholder's records not yet at their
    controller.
    """
    moment = at if holder.span.start is None else max(at, holder.span.start)
    doors = plan.doors_into(holder.memberships) if plan.policy_of_reader else ()
    policies = [plan.policies_into(door_id) for door_id in doors]
    pin_gap, plate_gap = _pin_gap(holder, policies, moment), _plate_gap(holder, policies)
    return (
        ReadinessItem(Need.CARD, _card_gap(holder, policies, moment)),
        *([ReadinessItem(Need.PLATE, plate_gap)] if plate_gap or holder.plates else []),
        *_biometric_items(holder, policies, moment),
        *([ReadinessItem(Need.PIN, pin_gap)] if pin_gap or holder.pins else []),
        ReadinessItem(Need.ACCESS, _access_gap(holder, plan, moment)),
        ReadinessItem(Need.VALIDITY, _validity_gap(holder, moment)),
        ReadinessItem(Need.DELIVERY, Gap.NOT_HELD if records_not_held else None),
    )


def is_ready(items: tuple[ReadinessItem, ...]) -> bool:
    return all(item.gap is None for item in items)


def needs(factor: Factor, policies: Policies) -> bool:
    """Say whether nobody gets through a door without a factor; without readers on the way in nobody
    does.
    """
    return bool(policies) and all(policy.needs(factor) for policy in policies)


def formats_read(policies: Policies) -> frozenset[int] | None:
    """Return the formats that one reader of a door or another can read; None when it is all, or it
    takes no cards.
    """
    taking = [policy for policy in policies if policy.takes(Factor.CARD)]
    if not taking or any(policy.formats is None for policy in taking):
        return None
    return frozenset[int]().union(*(policy.formats or () for policy in taking))


def groups_by_formats_read(plan: Plan) -> Mapping[frozenset[int], frozenset[int]]:
    """Return the groups with a door that reads only some formats, by those formats."""
    found: dict[frozenset[int], set[int]] = {}
    for group in plan.groups.values() if plan.policy_of_reader else ():
        for door_id in group.doors_in:
            read = formats_read(plan.policies_into(door_id))
            if read is not None:
                found.setdefault(read, set()).add(group.id)
    return {read: frozenset(groups) for read, groups in found.items()}


def groups_that_need(factor: Factor, plan: Plan) -> frozenset[int]:
    """Return the groups with a door through which nobody gets without a factor."""
    return plan.once(
        ("need", factor),
        lambda: (
            group.id
            for group in plan.groups.values()
            if any(needs(factor, plan.policies_into(door_id)) for door_id in group.doors_in)
        ),
    )


def groups_not_open_to(factors: Factors, plan: Plan) -> frozenset[int]:
    """Return the groups with a door that asks, at every hour, for more than these factors."""
    return plan.once(
        ("not open to", factors),
        lambda: (
            group.id
            for group in plan.groups.values()
            if not all(_opens_to(factors, plan.policies_into(id_)) for id_ in group.doors_in)
        ),
    )


def _opens_to(factors: Factors, policies: Policies) -> bool:
    """Say whether a door asks somewhere, at some hour, for no more than these."""
    return any(
        set(asked) <= set(factors) for policy in policies for asked in policy.asked_at_any_hour
    )


def _card_gap(holder: Holder, doors: Iterable[Policies], at: datetime) -> Gap | None:
    every = tuple(doors)
    others = [Factor.PIN] if any(pin.opens_alone for pin in holder.pins) else []
    others += [Factor.PLATE] if holder.plates else []
    others += [factor for factor in BIOMETRIC if holder.biometrics(factor)]
    if others and every and all(_opens_to(tuple(others), policies) for policies in every):
        return None  # they need no card, and a PIN or a plate is a matter of its own
    if not holder.cards:
        return Gap.NO_CARD
    if not any(card.reason_against_at_any_hour(at) is None for card in holder.cards):
        return Gap.NO_CARD_IN_FORCE
    carried = {card.key.format_id for card in holder.cards}
    read = (formats_read(policies) for policies in every)
    return (
        Gap.CARD_NOT_READ
        if any(formats is not None and not carried & formats for formats in read)
        else None
    )


def _biometric_items(
    holder: Holder, doors: Iterable[Policies], at: datetime
) -> Iterable[ReadinessItem]:
    every = tuple(doors)
    for factor, need in ((Factor.FINGER, Need.FINGER), (Factor.FACE, Need.FACE)):
        is_asked = any(needs(factor, policies) for policies in every)
        if is_asked and not holder.is_by_card_alone(at):
            yield ReadinessItem(need, _biometric_gap(holder, factor, at))
        elif holder.biometrics(factor):
            yield ReadinessItem(need, None)


GAPS_IN_TEMPLATES = {
    Factor.FINGER: (Gap.NO_FINGER, Gap.NO_FINGER_IN_FORCE),
    Factor.FACE: (Gap.NO_FACE, Gap.NO_FACE_IN_FORCE),
}
"""What is missing where there is no template of a factor, and where none works."""


def _biometric_gap(holder: Holder, factor: Factor, at: datetime) -> Gap | None:
    has_consent = any(
        consent.factor is factor and at in consent.span for consent in holder.consents
    )
    if not has_consent:
        return Gap.NO_CONSENT
    theirs = holder.biometrics(factor)
    none, none_in_force = GAPS_IN_TEMPLATES[factor]
    if not theirs:
        return none
    works = any(template.reason_against(at) is None for template in theirs)
    return None if works else none_in_force


def _plate_gap(holder: Holder, doors: Iterable[Policies]) -> Gap | None:
    is_asked = any(needs(Factor.PLATE, policies) for policies in doors)
    return Gap.NO_PLATE if is_asked and not holder.plates else None


def _pin_gap(holder: Holder, doors: Iterable[Policies], at: datetime) -> Gap | None:
    """Say what of a PIN is missing: where a door asks for one, or where they have nothing else."""
    is_asked = any(needs(Factor.PIN, policies) for policies in doors)
    has_another = holder.cards or holder.plates or holder.fingers or holder.faces
    if not is_asked and (has_another or not holder.pins):
        return None
    if not holder.pins:
        return Gap.NO_PIN
    return (
        None if any(pin.reason_against(at) is None for pin in holder.pins) else Gap.NO_PIN_IN_FORCE
    )


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
