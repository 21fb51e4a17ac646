"""Explain one read: what stood against it then, what stands against it now, and what would open the
door.
"""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any, NamedTuple

from cadrin.access.house import house_now
from cadrin.access.plan import access_plan, holders
from cadrin.access.scoping import group_ids_hidden
from cadrin.activity.queries import read_seen
from cadrin.core.access.plan import Holder, Plan
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.life import FREE, CardStatus
from cadrin.core.credentials.card.raw_reads import DecodeFault, RawRead
from cadrin.core.credentials.card.reading import read_card
from cadrin.core.credentials.card.room import ANY_MEMORY
from cadrin.core.credentials.factors import BIOMETRIC, FACTORS, Factor, Factors, factors_of
from cadrin.core.decision.afterwards import biometric_shown, pin_typed, saw_the_pin
from cadrin.core.decision.reasons import REASONS, Reason
from cadrin.core.decision.remedies import Outlook, Remedy, outlook
from cadrin.core.decision.situation import Presented, Situation
from cadrin.core.decision.verdict import Step, steps_to
from cadrin.core.errors import Invalid
from cadrin.core.records.states import RecordState
from cadrin.credentials.plates import find_holder_of_plate
from cadrin.credentials.queries import find_card
from cadrin.delivery.queries import state_at_controller
from cadrin.delivery.wanted import memories
from cadrin.operators.actor import Actor
from cadrin.people.scoping import only_seen

if TYPE_CHECKING:
    from cadrin.credentials.models import Card


class NamedStep(NamedTuple):
    """One act of a remedy, with the name of the group it is about."""

    act: str
    group_id: int | None
    group_name: str
    card: CardKey | None
    without: Factor | None


class Explanation(NamedTuple):
    """One read explained.

    ``holder_id`` and ``holder_name`` say whose the card or the PIN is, also where the door did not
    get so far. ``steps`` led to its verdict. ``now_reason`` is how it would go if the same were
    shown now; None at a desk, and where nobody can say. ``against`` is everything that stands
    against it now, ``remedies`` what would open the door, the shortest first. ``not_held`` says how
    far its controller is from holding the cardholder's record; None when it holds it.
    ``clock_off_seconds`` is set where the controller's clock, as it was then, may be the reason.
    """

    read: dict[str, Any]
    steps: tuple[Step, ...]
    now_reason: Reason | None
    against: tuple[Reason, ...]
    remedies: tuple[tuple[NamedStep, ...], ...]
    not_held: str | None
    clock_off_seconds: int
    holder_id: int | None = None
    holder_name: str = ""


def explanation(actor: Actor, read_id: int, at: datetime) -> Explanation:
    """Explain a read. Raises NotFound."""
    row = read_seen(actor, read_id)
    if not row["reason"]:
        return Explanation(row, (), None, (), (), None, 0)
    reason = Reason(row["reason"])
    factors = factors_of(Factor(name) for name in row["factors"])
    steps = steps_to(reason, factors)
    is_of_a_clock = reason is not Reason.GRANTED and REASONS[reason].is_of_a_clock
    off = (row["clock_off_seconds"] or 0) if is_of_a_clock else 0
    plan = access_plan()
    if plan.door_of_reader.get(row["reader_id"] or 0) is None:
        return Explanation(row, steps, None, (), (), None, off)
    situation = _situation(row, factors, reason, plan, at)
    holder = situation.holder
    if holder is not None and not only_seen(actor, [holder.id]):
        return Explanation(row, steps, None, (), (), None, off)
    now = outlook(situation, at, plan.groups.keys() - group_ids_hidden(actor))
    not_held = _not_held(row["controller_id"], holder) if now.reason is Reason.GRANTED else None
    if Factor.PIN in factors and len(factors) > 1 and not saw_the_pin(reason):
        now = now.without_knowing_the_pin()
    who = (holder.id, holder.display_name) if holder else (None, "")
    return Explanation(row, steps, now.reason, now.against, _named(now, plan), not_held, off, *who)


def _named(now: Outlook, plan: Plan) -> tuple[tuple[NamedStep, ...], ...]:
    def named(remedy: Remedy) -> tuple[NamedStep, ...]:
        return tuple(
            NamedStep(
                step.act,
                step.group_id,
                plan.groups[step.group_id].name if step.group_id else "",
                step.card,
                step.without,
            )
            for step in remedy
        )

    return tuple(named(remedy) for remedy in now.remedies)


def _situation(
    row: dict[str, Any], factors: Factors, reason: Reason, plan: Plan, at: datetime
) -> Situation:
    """Return what was presented, as far as the read tells: of a PIN whose it is, and whether it was
    right.
    """
    read = None
    if row["raw"] and Factor.CARD in factors:
        try:
            read = RawRead.parse(row["raw"])
        except Invalid:
            read = None
    card = _card_of(read, plan)
    plate = row["plate"] or None
    driver_id = find_holder_of_plate(plate) if plate else None
    who = card.holder_id if card else None
    who = who or driver_id or (row["cardholder_id"] if Factor.CARD not in factors else None)
    holder = holders([who]).get(who) if who else None
    typed = pin_typed(holder, factors, reason, at)
    presented = Presented(row["reader_id"], read, Factor.PIN in factors, typed, plate)
    for factor in BIOMETRIC:
        missing = FACTORS[factor].missing
        laid = biometric_shown(holder, factor, factors, reason, missing)
        presented = presented.with_biometric(factor, laid)
    is_free = card is None or card.holder_id is not None or CardStatus(card.status) in FREE
    memory = memories().get(row["controller_id"], ANY_MEMORY)
    return Situation(
        presented,
        plan,
        holder,
        memory,
        is_free,
        is_plate_of_another=driver_id not in (None, who),
        house=house_now(presented.reader_id, holder, plan),
    )


def _card_of(read: RawRead | None, plan: Plan) -> Card | None:
    """Find the card that was read as a door does: the first that somebody has, in the order of the
    formats.
    """
    found = read_card(read, plan.formats) if read else ()
    known = (
        []
        if isinstance(found, DecodeFault)
        else [card for key in found if (card := find_card(key))]
    )
    return next((card for card in known if card.holder_id), known[0] if known else None)


def _not_held(controller_id: int, holder: Holder | None) -> str | None:
    if holder is None:
        return None
    state = state_at_controller(controller_id, holder.id)
    return None if state is RecordState.HELD else state.value
