"""Explain one read: what stood against it then, what stands against it now, and what would open the door."""

from datetime import datetime
from typing import Any, NamedTuple

from cadrin.access.plan import holders, the_plan
from cadrin.access.scoping import group_ids_hidden
from cadrin.activity.queries import read_seen
from cadrin.cards.models import Card
from cadrin.cards.queries import find_card
from cadrin.core.access.plan import CardKey, Holder, Plan
from cadrin.core.access.rights import Reason
from cadrin.core.cards.formats import DecodeFault, RawRead
from cadrin.core.cards.room import ANY_MEMORY
from cadrin.core.cards.status import FREE, CardStatus
from cadrin.core.decision.afterwards import GIVEN_BY_A_CLOCK, pin_typed, saw_the_pin
from cadrin.core.decision.decide import Shown, Step, read_card, steps_to
from cadrin.core.decision.remedies import Outlook, Presented, Remedy, Situation, outlook
from cadrin.core.delivery import RecordKind
from cadrin.core.errors import Invalid
from cadrin.delivery.models import DeliveryState, Record
from cadrin.delivery.wanted import memories
from cadrin.operators.actor import Actor
from cadrin.people.scoping import only_seen


class NamedMending(NamedTuple):
    """One act of a remedy, with the name of the group it is about."""

    mend: str
    group_id: int | None
    group_name: str
    card: CardKey | None


class Explanation(NamedTuple):
    """One read explained.

    ``holder_id`` and ``holder_name`` say whose the card or the PIN is, also where the door did not get so far.
    ``steps`` led to its verdict. ``now_reason`` is how it would go if the same were shown now; None at a desk, and
    where nobody can say. ``against`` is everything that stands against it now, ``remedies`` what would open the door,
    the shortest first. ``not_held`` says how far its controller is from holding the cardholder's record; None when it
    holds it. ``clock_off_seconds`` is set where the controller's clock, as it was then, may be the reason.
    """

    read: dict[str, Any]
    steps: tuple[Step, ...]
    now_reason: Reason | None
    against: tuple[Reason, ...]
    remedies: tuple[tuple[NamedMending, ...], ...]
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
    steps = steps_to(reason, Shown(row["shown"]))
    off = (row["clock_off_seconds"] or 0) if reason in GIVEN_BY_A_CLOCK else 0
    plan = the_plan()
    if plan.door_of_reader.get(row["reader_id"] or 0) is None:
        return Explanation(row, steps, None, (), (), None, off)
    situation = _situation(row, reason, plan, at)
    holder = situation.holder
    if holder is not None and not only_seen(actor, [holder.id]):
        return Explanation(row, steps, None, (), (), None, off)
    now = outlook(situation, at, plan.groups.keys() - group_ids_hidden(actor))
    not_held = _not_held(row["controller_id"], holder) if now.reason is Reason.GRANTED else None
    if Shown(row["shown"]) is Shown.CARD_AND_PIN and not saw_the_pin(reason):
        now = now.without_knowing_the_pin()
    who = (holder.id, holder.display_name) if holder else (None, "")
    return Explanation(row, steps, now.reason, now.against, _named(now, plan), not_held, off, *who)


def _named(now: Outlook, plan: Plan) -> tuple[tuple[NamedMending, ...], ...]:
    def named(remedy: Remedy) -> tuple[NamedMending, ...]:
        return tuple(
            NamedMending(step.mend, step.group_id, plan.groups[step.group_id].name if step.group_id else "", step.card)
            for step in remedy
        )

    return tuple(named(remedy) for remedy in now.remedies)


def _situation(row: dict[str, Any], reason: Reason, plan: Plan, at: datetime) -> Situation:
    """Give what was shown, as far as the read tells: of a PIN it is known whose it is, and whether it was right."""
    shown, read = Shown(row["shown"]), None
    if row["raw"] and shown is not Shown.PIN:
        try:
            read = RawRead.parse(row["raw"])
        except Invalid:
            read = None
    card = _card_of(read, plan)
    who = row["cardholder_id"] if shown is Shown.PIN else card.holder_id if card else None
    holder = holders([who]).get(who) if who else None
    presented = Presented(row["reader_id"], read, shown is not Shown.CARD, pin_typed(holder, shown, reason, at))
    is_free = card is None or card.holder_id is not None or CardStatus(card.status) in FREE
    return Situation(presented, plan, holder, memories().get(row["controller_id"], ANY_MEMORY), is_free)


def _card_of(read: RawRead | None, plan: Plan) -> Card | None:
    """Find the card that was read as a door does: the first that somebody has, in the order of the formats."""
    found = read_card(read, plan.formats) if read else ()
    known = [] if isinstance(found, DecodeFault) else [card for key in found if (card := find_card(key))]
    return next((card for card in known if card.holder_id), known[0] if known else None)


def _not_held(controller_id: int, holder: Holder | None) -> str | None:
    if holder is None:
        return None
    record = Record.objects.filter(
        controller_id=controller_id, kind=RecordKind.CARDHOLDER, subject_id=holder.id
    ).first()
    if record is None:
        return DeliveryState.WAITING.value
    return None if record.state == DeliveryState.HELD else str(record.state)
