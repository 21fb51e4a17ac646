"""Remedies: everything that stands against what was presented, and the acts that together would
open the door now.

Every remedy was tried: its acts are done to the plan and the cardholder, and the read is decided
again with them.
"""

from collections.abc import Iterable, Iterator
from datetime import datetime
from typing import NamedTuple

from cadrin.core.decision.acts import after_acts
from cadrin.core.decision.reasons import Reason
from cadrin.core.decision.remedy_steps import RemedyStep
from cadrin.core.decision.situation import Situation, verdict_in

MOST_ACTS = 12
"""Nearly every act answers one reason, and none comes twice."""
MOST_REMEDIES = 6

Remedy = tuple[RemedyStep, ...]


class Outlook(NamedTuple):
    """How it would go now: the reason, everything that stands against it, and remedies, the
    shortest first.
    """

    reason: Reason
    against: tuple[Reason, ...]
    remedies: tuple[Remedy, ...]

    def without_knowing_the_pin(self) -> "Outlook":
        """Return the same where nobody knows whether the PIN was right: then one is missing, and
        none was wrong.
        """
        every = (self.reason, *self.against)
        against = [Reason.PIN_MISSING if reason is Reason.PIN_WRONG else reason for reason in every]
        return Outlook(against[0], tuple(dict.fromkeys(against[1:])), self.remedies)


def outlook(situation: Situation, at: datetime, groups: Iterable[int] | None = None) -> Outlook:
    """Judge what was presented as if it were now. ``groups`` are those that may be offered; None
    are all.

    ``against`` is along the first remedy; without any, as far as it can be remedied.
    """
    offered = frozenset(situation.plan.groups if groups is None else groups)
    reason = verdict_in(situation, at).reason
    if reason is Reason.GRANTED:
        return Outlook(reason, (), ())
    found = sorted(_ways_through(situation, at, offered, (), ()), key=lambda way: len(way[0]))
    opening = [way for way in found if way[2]][:MOST_REMEDIES]
    if not opening:
        return Outlook(reason, max((against for _, against, _ in found), key=len), ())
    return Outlook(reason, opening[0][1], tuple(remedy for remedy, _, _ in opening))


_Way = tuple[Remedy, tuple[Reason, ...], bool]
"""What was done, what stood against it on the way, and whether the door opened in the end."""


def _ways_through(
    situation: Situation,
    at: datetime,
    groups: frozenset[int],
    done: Remedy,
    against: tuple[Reason, ...],
) -> Iterator[_Way]:
    reason = verdict_in(situation, at).reason
    if reason is Reason.GRANTED:
        yield done, against, True
        return
    tried = False
    # room for a card may need more than one act; every other reason is answered by one
    if (reason not in against or reason is Reason.UNKNOWN_CARD) and len(done) < MOST_ACTS:
        for step, after in after_acts(situation, reason, at, groups):
            tried = True
            so_far = against if reason in against else (*against, reason)
            yield from _ways_through(after, at, groups, (*done, step), so_far)
    if not tried:
        yield done, (*against, reason), False
