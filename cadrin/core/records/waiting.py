"""When a controller is sent what people gain, and when a silent one is tried again."""

from datetime import datetime

from cadrin.core.schedules import Schedule

FIRST_WAIT_SECONDS, LONGEST_WAIT_SECONDS = 1.0, 16.0
_MOST_DOUBLINGS = 10


def is_held_back(*, is_paused: bool, hours: Schedule | None, at: datetime) -> bool:
    """Say whether what people gain waits: while it is paused, or outside of the hours in which it is
    sent; without hours it goes at once.
    """
    return is_paused or (hours is not None and not hours.is_open(at))


def wait_after(failures: int) -> float:
    """Return the seconds to wait after so many rounds without an answer: twice as long each time.

    >>> [wait_after(failures) for failures in (1, 2, 3, 20)]
    [1.0, 2.0, 4.0, 16.0]
    """
    return min(FIRST_WAIT_SECONDS * 2.0 ** min(failures - 1, _MOST_DOUBLINGS), LONGEST_WAIT_SECONDS)
