"""Put a card in place of another one."""

from dataclasses import replace

from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.replacing import STAYS_WITH_THE_OLD, next_issue_level
from cadrin.credentials.card_draft import CardDraft, CardIdentity
from cadrin.credentials.queries import formats

IDENTITY = ("format_id", "facility_code", "card_number")


def next_issue(card: CardDraft) -> CardDraft | None:
    """Return the next issue of a card, with the same numbers; None where there is none."""
    layout = formats().get(card.format_id)
    highest = layout.issue_level.highest if layout and layout.issue_level else None
    level = next_issue_level(card.issue_level, highest)
    return None if level is None else replace(card, issue_level=level)


def replaced(old: CardDraft, numbers: CardIdentity, became: CardStatus) -> tuple[CardDraft, ...]:
    """Return what stands in place of a card: itself as what became of it, and the new one.

    One that is returned is gone; both are saved together.
    """
    blank = CardDraft(*numbers)
    kept = (*IDENTITY, *STAYS_WITH_THE_OLD)
    new = replace(old, **{name: getattr(blank, name) for name in kept})
    if became is CardStatus.RETURNED:
        return (new,)
    return replace(old, status=became, suspended_until=None), new
