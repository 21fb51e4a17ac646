"""What each door and each area asks for beside rights: hours, a second person, room, anti-passback."""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from cadrin.core.schedules import Schedule
from cadrin.core.validity import Span


class Ordered(StrEnum):
    """What an operator ordered of a door."""

    OPEN = "open"
    SHUT = "shut"


class Lock(StrEnum):
    """Why a door is locked or unlocked at an instant."""

    LOCKED = "locked"
    RELEASED = "released"
    """After a read, or by the button on the way out."""
    BY_HOURS = "by_hours"
    KEPT_OPEN = "kept_open"
    KEPT_SHUT = "kept_shut"
    CLOSED = "closed"

    @property
    def is_unlocked(self) -> bool:
        return self in (Lock.RELEASED, Lock.BY_HOURS, Lock.KEPT_OPEN)


@dataclass(frozen=True, slots=True)
class DoorRules:
    """What a door does. Seconds are whole; None where there is no such rule.

    It stays unlocked for ``open_seconds`` after a read, longer for whoever needs it. One that is open
    for more than ``held_seconds`` after it should be shut again tells of it; ``tells_forced`` says
    that it tells when it is opened while it is locked. In its unlocked hours nobody needs a read
    (with ``first_person`` from the first one on who is let in); in its closed hours nobody is let in
    but by a group that overrides it. ``second_seconds`` is the time in which a second person must
    show theirs. Doors of an ``interlock`` must be shut before this one is unlocked.
    ``consent_seconds`` is the time an operator has to let somebody in. ``from_area`` and ``to_area``
    are given where one of them counts people; 0 is outside.
    """

    open_seconds: int = 5
    extended_open_seconds: int = 20
    held_seconds: int | None = None
    tells_forced: bool = False
    unlocked: Schedule | None = None
    closed: Schedule | None = None
    first_person: bool = False
    second_seconds: int | None = None
    interlock: tuple[int, ...] = ()
    consent_seconds: int | None = None
    has_exit_button: bool = False
    from_area: int | None = None
    to_area: int | None = None
    ordered: Ordered | None = None
    ordered_until: datetime | None = None

    def order_at(self, at: datetime) -> Ordered | None:
        """Return what is ordered of it at an instant."""
        if self.ordered is None or (self.ordered_until is not None and at >= self.ordered_until):
            return None
        return self.ordered

    def lets_nobody_in(self, at: datetime) -> Lock | None:
        """Return why the door lets nobody in but who overrides it; None when it lets people in."""
        if self.ordered is not None and (ordered := self.order_at(at)) is not None:
            return Lock.KEPT_SHUT if ordered is Ordered.SHUT else None
        return Lock.CLOSED if self.closed is not None and self.closed.is_open(at) else None

    def spans_without_anybody(self, span: Span) -> tuple[Span, ...]:
        """Return the time in a bounded span in which it lets nobody in but who overrides it, as far as
        it is known now. Pieces may touch.
        """
        ordered = Span(None, self.ordered_until) if self.ordered else None
        closed = self.closed.open_spans(span) if self.closed else ()
        if ordered is None:
            return closed
        if self.ordered is Ordered.SHUT:
            # whoever comes after the order meets the closed hours again
            until = span.end if self.ordered_until is None else self.ordered_until
            first = Span(span.start, min(until, span.end) if until and span.end else until)
            return (*(() if first.is_empty else (first,)), *_after(closed, self.ordered_until))
        return _after(closed, self.ordered_until)


def _after(spans: tuple[Span, ...], at: datetime | None) -> tuple[Span, ...]:
    """Return what of bounded spans comes after an instant; nothing does after one that never comes."""
    if at is None:
        return ()
    cut = [Span(max(span.start, at) if span.start else at, span.end) for span in spans]
    return tuple(span for span in cut if not span.is_empty)


ANY_DOOR = DoorRules()


class Passback(StrEnum):
    """What becomes of somebody who comes in where they are already, or goes out where they are not:
    nothing, a flag on the read, or a denial.
    """

    NONE = "none"
    SOFT = "soft"
    HARD = "hard"


@dataclass(frozen=True, slots=True)
class AreaRules:
    """Of whom an area keeps count. After ``forgiven_after_seconds`` nobody is held to where they were
    last; ``most`` is how many may be inside.
    """

    passback: Passback = Passback.NONE
    forgiven_after_seconds: int | None = None
    most: int | None = None

    @property
    def counts_people(self) -> bool:
        """Say whether where people are is kept for it at all."""
        return self.passback is not Passback.NONE or self.most is not None


ANY_AREA = AreaRules()
OUTSIDE = 0
"""Where somebody is who went out of the last area that counts people."""
