"""How a door stands, as far as its controller told: open or shut, and since when something is amiss."""

from datetime import datetime
from typing import NamedTuple

from cadrin.core.doors.passing import Happening

ALARMS = (Happening.FORCED, Happening.HELD)
"""What a person should look at; that doors are opened and shut is only how they stand."""


class Stands(NamedTuple):
    """Open or shut since an instant; ``alarm`` is what was amiss first, until it is shut."""

    is_open: bool
    at: datetime
    alarm: Happening | None = None


def after_telling(before: Stands | None, happening: Happening, at: datetime) -> Stands | None:
    """Return how a door stands after its controller told this; None where it told of later already."""
    if before is not None and at < before.at:
        return None
    if happening is Happening.SHUT:
        return Stands(False, at)
    known = before.alarm if before is not None and before.is_open else None
    return Stands(True, at, known or (happening if happening in ALARMS else None))
