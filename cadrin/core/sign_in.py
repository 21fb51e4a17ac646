"""How long somebody who gave wrong passwords must wait, and how long a session lasts."""

from datetime import datetime, timedelta

TRIES = 5
"""Wrong passwords in a row before one has to wait; from then on after each further five."""
TRIES_OF_AN_ADDRESS = 50
"""The same for all names together from one address, which may be that of a whole office."""
COUNTED_FOR_AN_ADDRESS = timedelta(minutes=15)
FIRST_WAIT = timedelta(minutes=1)
LONGEST_WAIT = timedelta(minutes=15)
COUNTED_FOR = timedelta(hours=24)
"""A wrong password counts until no other came for so long, or the right one did."""


def wait_after(failures: int, free: int = TRIES) -> timedelta:
    """Return how long nobody is let in after so many wrong passwords: none, then twice as long with
    each five.

    So nobody is locked out for good, and nobody makes more than 70 tries in an hour.

    >>> [wait_after(n).total_seconds() / 60 for n in (0, 4, 5, 9, 10, 15, 20, 25, 500)]
    [0.0, 0.0, 1.0, 1.0, 2.0, 4.0, 8.0, 15.0, 15.0]
    """
    rounds = failures // free
    # the exponent is bounded, so that no number of failures makes it overflow
    return min(FIRST_WAIT * 2 ** min(rounds - 1, 10), LONGEST_WAIT) if rounds else timedelta(0)


def wait_left(failures: int, last_at: datetime, at: datetime, free: int = TRIES) -> timedelta:
    """Return how much of the wait is left; nothing when it is over.

    >>> from datetime import UTC
    >>> noon = datetime(2026, 6, 1, 12, tzinfo=UTC)
    >>> [wait_left(5, noon, noon + timedelta(seconds=s)).total_seconds() for s in (0, 59, 60, 900)]
    [60.0, 1.0, 0.0, 0.0]
    """
    return max(last_at + wait_after(failures, free) - at, timedelta(0))


def has_ended(seen_at: datetime, at: datetime, idle_for: timedelta) -> bool:
    """Say whether a session is over because nobody was at the page for so long.

    >>> from datetime import UTC
    >>> noon = datetime(2026, 6, 1, 12, tzinfo=UTC)
    >>> [has_ended(noon, noon + timedelta(minutes=m), timedelta(minutes=30)) for m in (0, 29, 30)]
    [False, False, True]
    """
    return at >= seen_at + idle_for
