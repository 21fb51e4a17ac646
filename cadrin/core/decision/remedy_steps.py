"""One act of a remedy, and what it needs to know of the situation that it changes."""

from collections.abc import Callable, Iterator
from datetime import datetime
from typing import NamedTuple

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.raw_reads import DecodeFault
from cadrin.core.credentials.card.reading import read_card
from cadrin.core.credentials.factors import FACTORS, Factor
from cadrin.core.decision.reasons import Act, Reason
from cadrin.core.decision.situation import Situation
from cadrin.core.validity import Span


class RemedyStep(NamedTuple):
    """One act; ``group_id`` where it is about a group, ``card`` where about another card than the
    one shown.

    ``without`` is what was shown beside it, and must not be shown again.
    """

    act: Act
    group_id: int | None = None
    card: CardKey | None = None
    without: Factor | None = None


Steps = Iterator[tuple[RemedyStep, Situation]]
"""Each act that can be done, with the situation after it."""


def span_holding(span: Span, at: datetime) -> Span:
    """Return a span that holds the instant, as much like it as can be."""
    start = None if span.start is not None and at < span.start else span.start
    end = None if span.end is not None and span.end <= at else span.end
    return Span(start, end)


def keys_shown(situation: Situation) -> tuple[CardKey, ...]:
    read = situation.presented.read
    found = read_card(read, situation.plan.formats) if read else ()
    return () if isinstance(found, DecodeFault) else found


def shown_card(situation: Situation, holder: Holder) -> Card | None:
    return next(
        (card for key in keys_shown(situation) for card in holder.cards if card.key == key), None
    )


Do = Callable[[Situation, Holder, Reason, datetime], Steps]


def factor_not_taken(reason: Reason) -> Factor:
    return next(factor for factor, facts in FACTORS.items() if facts.not_taken is reason)
