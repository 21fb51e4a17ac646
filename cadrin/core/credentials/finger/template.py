"""The template of a finger: its minutiae and what they were seen with."""

from dataclasses import dataclass

from cadrin.core.credentials.finger.minutiae import Minutia
from cadrin.core.errors import Invalid, Problem

PIXELS_PER_CM = 197
"""500 pixels an inch, the least that is taken (common practice)."""
FEWEST, MOST = 6, 254
"""Minutiae of a template: with fewer nobody can be told, and a record counts them in one byte
whose last value says nothing.
"""
LARGEST_SIDE = 2048
"""Pixels; the largest scanners for one finger have fewer."""


@dataclass(frozen=True, slots=True)
class FingerTemplate:
    """Minutiae in a picture of ``width`` by ``height`` pixels at 500 an inch; ``quality`` from 0 to
    100. Raises Invalid for one that no finger can give.
    """

    width: int
    height: int
    minutiae: tuple[Minutia, ...]
    quality: int

    def __post_init__(self) -> None:
        problems = []
        if not (0 < self.width <= LARGEST_SIDE and 0 < self.height <= LARGEST_SIDE):
            problems.append(Problem("finger.size", "finger", {"most": LARGEST_SIDE}))
        if not FEWEST <= len(self.minutiae) <= MOST:
            count = {"found": len(self.minutiae), "fewest": FEWEST, "most": MOST}
            problems.append(Problem("finger.minutiae_count", "finger", count))
        if any(not self._has(minutia) for minutia in self.minutiae):
            problems.append(Problem("finger.minutia_outside", "finger"))
        if not 0 <= self.quality <= 100:
            problems.append(Problem("finger.quality_range", "finger"))
        if problems:
            raise Invalid(problems)

    def _has(self, minutia: Minutia) -> bool:
        is_inside = 0 <= minutia.x < self.width and 0 <= minutia.y < self.height
        return is_inside and 0 <= minutia.angle < 256 and 0 <= minutia.quality <= 100
