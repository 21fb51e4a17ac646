"""From presses of a finger on a scanner to the one template that is kept."""

from collections.abc import Sequence
from dataclasses import dataclass

from cadrin.core.credentials.finger.comparison import prints_of, similarity
from cadrin.core.credentials.finger.minutiae import minutiae_of
from cadrin.core.credentials.finger.picture import ridges_of_finger
from cadrin.core.credentials.finger.quality import Advice, PressMeasures, measures_of, quality_of
from cadrin.core.credentials.finger.ridges import Picture
from cadrin.core.credentials.finger.skeleton import clear_ridges
from cadrin.core.credentials.finger.template import FEWEST, FingerTemplate
from cadrin.core.errors import Invalid, Problem


@dataclass(frozen=True, slots=True)
class FingerRule:
    """What the site asks of presses, and when two prints are one finger.

    ``least_quality`` is from 0 to 100; ``presses`` how many are taken of each finger;
    ``agreement`` how alike they must be, and ``match`` how alike prints at a door or in a search
    must be (0 to 1).
    """

    least_quality: int = 60
    presses: int = 3
    agreement: float = 0.45
    match: float = 0.42


FEWEST_PRESSES, MOST_PRESSES = 2, 5


@dataclass(frozen=True, slots=True)
class FingerPress:
    """A press as it was measured: its template (None with too few minutiae), quality, and the one
    thing that would make the next better; None where nothing is wrong.
    """

    template: FingerTemplate | None
    quality: int
    advice: Advice | None


def press_of(picture: Picture) -> FingerPress:
    """Measure a press. Raises Invalid for a picture of no finger."""
    ridges = ridges_of_finger(picture)
    clear = clear_ridges(picture, ridges)
    minutiae = minutiae_of(clear, ridges)
    press = measures_of(picture, ridges, clear)
    quality = quality_of(press, sum(minutia.quality for minutia in minutiae) / 100)
    height, width = picture.shape
    is_enough = len(minutiae) >= FEWEST
    template = FingerTemplate(width, height, minutiae, quality) if is_enough else None
    return FingerPress(template, quality, advice_for(press, quality))


_SMALL_MM2 = 130
_DRY_SHARE, _WET_SHARE = 0.3, 0.56
_OFF_CENTRE = 0.14
_GOOD = 80
"""Quality from which on nothing is said of how the finger was laid."""


def advice_for(press: PressMeasures, quality: int) -> Advice | None:
    """Return the one thing that would make the next press better, what matters most first."""
    sides = (
        (press.right < -_OFF_CENTRE, Advice.MOVE_RIGHT),
        (press.right > _OFF_CENTRE, Advice.MOVE_LEFT),
        (press.down < -_OFF_CENTRE, Advice.MOVE_DOWN),
        (press.down > _OFF_CENTRE, Advice.MOVE_UP),
    )
    is_small = press.area_mm2 < _SMALL_MM2
    if is_small:
        off_centre = next((advice for applies, advice in sides if applies), None)
        return off_centre or Advice.MORE_OF_THE_FINGER
    if quality >= _GOOD:
        return None
    if press.dark_share < _DRY_SHARE:
        return Advice.DRY
    if press.dark_share > _WET_SHARE:
        return Advice.WET
    return next((advice for applies, advice in sides if applies), _rest(press, quality))


def _rest(press: PressMeasures, quality: int) -> Advice | None:
    if press.contrast < 40:
        return Advice.PRESS_HARDER
    return Advice.LAY_AGAIN if quality < FingerRule().least_quality else None


def is_same_finger(
    press: FingerTemplate, others: Sequence[FingerTemplate], rule: FingerRule
) -> bool:
    """Say whether a press agrees with every one that was taken before."""
    prints = prints_of(press.minutiae)
    return all(similarity(prints, prints_of(other.minutiae)) >= rule.agreement for other in others)


def problem_with_press(
    press: FingerPress, others: Sequence[FingerTemplate], rule: FingerRule
) -> Problem | None:
    """Return why a press is not taken, or None."""
    if press.template is None or press.quality < rule.least_quality:
        params = {"quality": press.quality, "least": rule.least_quality}
        return Problem("finger.poor_press", "press", params)
    if not is_same_finger(press.template, others, rule):
        return Problem("finger.another_finger", "press")
    return None


def press_kept(presses: Sequence[FingerTemplate], rule: FingerRule) -> int:
    """Return the place of the press that agrees best with the others; of two the better one.

    One real press is kept and nothing merged: of what was tried on made-up fingers (the benchmarks
    tell) a merged template brought nothing at the usual quality, and a real press can be written as
    a record that others read. Raises Invalid when presses are missing or do not agree.
    """
    if len(presses) < rule.presses:
        raise Invalid.of("finger.presses_missing", "press", missing=rule.presses - len(presses))
    prints = [prints_of(press.minutiae) for press in presses]
    agreement = [
        [similarity(a, b) for j, b in enumerate(prints) if j != i] for i, a in enumerate(prints)
    ]
    if min(min(row) for row in agreement) < rule.agreement:
        raise Invalid.of("finger.another_finger", "press")
    return max(
        range(len(presses)),
        key=lambda place: (round(sum(agreement[place]), 3), presses[place].quality),
    )


def template_from(presses: Sequence[FingerTemplate], rule: FingerRule) -> FingerTemplate:
    """Return the template of the press that is kept. Raises Invalid as `press_kept`."""
    return presses[press_kept(presses, rule)]
