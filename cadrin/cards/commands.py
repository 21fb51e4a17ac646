"""Give cards to cardholders, take them back, and say what has become of them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from cadrin.cards.models import Card
from cadrin.cards.queries import formats
from cadrin.core.cards.formats import CardNumbers
from cadrin.core.cards.status import HELD_STATUSES, CardStatus
from cadrin.core.errors import Problem
from cadrin.core.validity import Span, problems_with_span
from cadrin.journal.commands import About, Act, changes_between

CARD = "card"


@dataclass(frozen=True, slots=True)
class CardDraft:
    """A card as an operator wants a cardholder to have it."""

    format_id: int
    facility_code: int
    card_number: int
    status: CardStatus = CardStatus.ISSUED
    activation_at: datetime | None = None
    expiry_at: datetime | None = None

    @property
    def identity(self) -> tuple[int, int, int]:
        return self.format_id, self.facility_code, self.card_number

    @property
    def span(self) -> Span:
        return Span(self.activation_at, self.expiry_at)


def problems_with_cards(drafts: Sequence[CardDraft], holder_id: int | None) -> tuple[Problem, ...]:
    """Give everything against a cardholder having these cards; ``holder_id`` is None for a new one."""
    known, problems, seen = formats(), [], set()
    existing = {
        (card.format_id, card.facility_code, card.card_number): card
        for card in Card.objects.filter(
            card_number__in=[draft.card_number for draft in drafts if draft.card_number >= 0]
        ).select_related("holder")
    }
    for place, draft in enumerate(drafts):
        here: list[Problem] = list(problems_with_span(draft.span))
        card_format = known.get(draft.format_id)
        if card_format is None:
            here.append(Problem("input.no_longer_there", "format"))
        else:
            here += card_format.problems_with(CardNumbers(draft.facility_code, draft.card_number))
        if draft.status not in HELD_STATUSES:
            here.append(Problem("card.status_has_no_holder", "status", {"status": draft.status.value}))
        if draft.identity in seen:
            here.append(Problem("card.twice", "card_number"))
        seen.add(draft.identity)
        card = existing.get(draft.identity)
        if card and card.holder_id != holder_id and card.holder:
            name = {"holder": card.holder.display_name, "holder_id": card.holder_id, "status": card.status}
            here.append(Problem("card.already_issued", "card_number", {"card": str(card), **name}))
        elif card and card.holder_id is None and card.status not in (CardStatus.IN_STOCK, CardStatus.RETURNED):
            here.append(Problem("card.cannot_be_issued", "card_number", {"card": str(card), "status": card.status}))
        problems += [problem.under(f"cards.{place}") for problem in here]
    return tuple(problems)


def set_cards(holder_id: int, drafts: Sequence[CardDraft], holder_version: int, holder_topic: str) -> list[Act]:
    """Make a cardholder's cards these; one that is missing is returned. Gives the acts for the journal.

    The caller holds the transaction and has checked `problems_with_cards`.
    """
    acts = []
    had = {
        (card.format_id, card.facility_code, card.card_number): card
        for card in Card.objects.filter(holder_id=holder_id)
    }
    wanted = {draft.identity: draft for draft in drafts}

    def act(action: str, card: Card, before: Mapping[str, object], after: Mapping[str, object]) -> Act:
        about = (About(holder_topic, holder_id, holder_version), About(CARD, card.pk))
        identity = [card.format_id, card.facility_code, card.card_number]
        changes = {"card": (str(card), str(card))} | dict(changes_between(before, after))
        return Act(action, about, changes, {"identity": (identity, identity)})

    for identity, card in had.items():
        if identity not in wanted:
            before = card.status
            card.holder_id, card.status = None, CardStatus.RETURNED
            card.save(update_fields=["holder", "status"])
            acts.append(act("card.returned", card, {"status": before}, {"status": card.status}))
    for identity, draft in wanted.items():
        after = {"status": draft.status.value, "activation_at": draft.activation_at, "expiry_at": draft.expiry_at}
        if identity in had:
            card = had[identity]
            before_all = {name: getattr(card, name) for name in after}
            if before_all == after:
                continue
            _write(card, holder_id, draft)
            acts.append(act("card.changed", card, before_all, after))
        else:
            format_id, facility_code, card_number = identity
            card = Card.objects.filter(
                format_id=format_id, facility_code=facility_code, card_number=card_number
            ).first() or Card(format_id=format_id, facility_code=facility_code, card_number=card_number)
            before_status = card.status or None
            _write(card, holder_id, draft)
            acts.append(act("card.issued", card, {"status": before_status}, after))
    return acts


def _write(card: Card, holder_id: int, draft: CardDraft) -> None:
    card.holder_id, card.status = holder_id, draft.status.value
    card.activation_at, card.expiry_at = draft.activation_at, draft.expiry_at
    card.save()
