"""Fingers and faces: error rates, times, search and quality, ours beside a public-domain reference on
the same pictures in the same run.

``CADRIN_BENCH_PEOPLE`` is how many made-up people there are (100 where it is not set; with 100 it
takes more than an hour, most of it in the reference's quality). No rate is claimed below 3 by the number of
comparisons (the rule of three, 95 %).
"""

import itertools
import os
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

import nbis
import numpy as np
from PIL import Image as Pillow

from benchmarks.measuring import Table
from cadrin.core.credentials.face.descriptor import Descriptor, distance
from cadrin.core.credentials.face.enrolment import shot_of
from cadrin.core.credentials.finger.comparison import Prints, prints_of, similarity
from cadrin.core.credentials.finger.enrolment import FingerRule, press_of
from cadrin.core.credentials.finger.minutiae import Minutia
from cadrin.core.credentials.finger.picture import write_picture
from cadrin.core.credentials.finger.ridges import Picture
from cadrin.core.credentials.finger.search import Gallery
from cadrin.core.errors import Invalid
from cadrin.core.made_up.face.drawing import Shot, drawn
from cadrin.core.made_up.face.person import person
from cadrin.core.made_up.fingers import HEIGHT, WIDTH, pressed, random_press, ridges_of

PEOPLE = int(os.environ.get("CADRIN_BENCH_PEOPLE", "100"))
FINGERS_OF_ONE, PRESSES, SHOTS = 2, 6, 4
MANY = 10_000
SEARCHES = 50
RULE_OF_THREE = 3


@dataclass
class Seen:
    """One press, as both make it out. ``quality`` is ours, ``nfiq2`` the reference's; a side that
    sees no finger has no minutiae.
    """

    finger: int
    ours: Prints | None
    minutiae: tuple[Minutia, ...]
    quality: int
    theirs: Any
    nfiq2: int


class Pair(NamedTuple):
    """Two presses, the scores of both, and the lower quality of the two."""

    is_same: bool
    ours: float
    theirs: float
    quality: int
    nfiq2: int


def bench_biometrics(table: Table) -> None:
    for kind, is_hard in (("normal", False), ("hard", True)):
        seen = _presses(table, kind, hard=is_hard)
        pairs = _pairs(table, kind, seen)
        _rates(table, kind, pairs)
        _thresholds(table, kind, pairs)
        _foretelling(table, kind, pairs)
        if not is_hard:
            _search(table, seen)
    _faces(table)


def _presses(table: Table, kind: str, *, hard: bool) -> list[Seen]:
    plain, with_quality = (_extractor(nfiq2=nfiq2) for nfiq2 in (False, True))
    seen, ours_s, theirs_s = [], 0.0, 0.0
    for finger in range(PEOPLE * FINGERS_OF_ONE):
        random = np.random.default_rng(finger + 100_000 * hard)
        for press in range(PRESSES):
            how = random_press(random, hard=hard)
            picture = pressed(ridges_of(finger), how, press + 1000 * finger)
            content = write_picture(picture)
            ours, spent = _timed(_ours, picture)
            ours_s += spent
            theirs, spent = _timed(plain.extract_minutiae, content)
            theirs_s += spent
            measured = with_quality.extract_minutiae(content).quality()
            nfiq2 = int(getattr(measured, "score", 0))
            prints, minutiae, quality = ours
            seen.append(Seen(finger, prints, minutiae, quality, theirs, nfiq2))
    count = len(seen)
    table.add(
        f"fingers, {kind}: extraction, {count:,} presses",
        f"{ours_s / count * 1000:.0f} ms each",
        f"the reference {theirs_s / count * 1000:.0f} ms",
        ours_s / theirs_s,
        "<= 2",
    )
    return seen


def _ours(picture: Picture) -> tuple[Prints | None, tuple[Minutia, ...], int]:
    try:
        found = press_of(picture)
    except Invalid:
        return None, (), 0
    if found.template is None:
        return None, (), found.quality
    return prints_of(found.template.minutiae), found.template.minutiae, found.quality


def _extractor(*, nfiq2: bool) -> Any:
    return nbis.new_nbis_extractor(
        nbis.NbisExtractorSettings(
            min_quality=0.0,
            get_center=False,
            check_fingerprint=False,
            compute_nfiq2=nfiq2,
            ppi=500,
        )
    )


def _timed(work: Callable[..., Any], *arguments: Any) -> tuple[Any, float]:
    began = time.perf_counter()
    found = work(*arguments)
    return found, time.perf_counter() - began


def _pairs(table: Table, kind: str, seen: Sequence[Seen]) -> list[Pair]:
    """Compare every two presses of a finger, and the first presses of every two fingers."""
    firsts = seen[::PRESSES]
    wanted = [
        pair
        for start in range(0, len(seen), PRESSES)
        for pair in itertools.combinations(seen[start : start + PRESSES], 2)
    ]
    wanted += itertools.combinations(firsts, 2)
    found, ours_s, theirs_s = [], 0.0, 0.0
    for one, two in wanted:
        ours, theirs = 0.0, 0.0
        if one.ours is not None and two.ours is not None:
            ours, spent = _timed(similarity, one.ours, two.ours)
            ours_s += spent
        theirs, spent = _timed(one.theirs.compare, two.theirs)
        theirs_s += spent
        found.append(
            Pair(
                one.finger == two.finger,
                ours,
                theirs,
                min(one.quality, two.quality),
                min(one.nfiq2, two.nfiq2),
            )
        )
    table.add(
        f"fingers, {kind}: comparison, {len(found):,} pairs",
        f"{ours_s / len(found) * 1000:.2f} ms each",
        f"the reference {theirs_s / len(found) * 1000:.2f} ms",
        ours_s / theirs_s,
        "<= 1",
    )
    return found


def _rates(table: Table, kind: str, pairs: Sequence[Pair]) -> None:
    least = FingerRule().least_quality
    for gate, goal, kept in (
        ("", "<= 1.3", pairs),
        (f", quality from {least}", "<= 1.0", [p for p in pairs if p.quality >= least]),
    ):
        same = [pair for pair in kept if pair.is_same]
        other = [pair for pair in kept if not pair.is_same]
        if not same or not other:
            continue
        ours = equal_error([p.ours for p in same], [p.ours for p in other])
        theirs = equal_error([p.theirs for p in same], [p.theirs for p in other])
        table.add(
            f"fingers, {kind}{gate}: equal error, {len(same):,} and {len(other):,}",
            _claim(ours, len(same)),
            f"the reference {_claim(theirs, len(same))}",
            ours / theirs if theirs else float(ours > 0),
            goal,
        )
        for one_in in (1_000, 10_000):
            if len(other) < RULE_OF_THREE * one_in:
                continue
            missed = [
                missed_at(
                    [getattr(pair, side) for pair in same],
                    [getattr(pair, side) for pair in other],
                    1 / one_in,
                )
                for side in ("ours", "theirs")
            ]
            table.add(
                f"fingers, {kind}{gate}: missed at 1 false in {one_in:,}",
                _claim(missed[0], len(same)),
                f"the reference {_claim(missed[1], len(same))}",
                missed[0] / missed[1] if missed[1] else float(missed[0] > 0),
                "none set",
            )


def _thresholds(table: Table, kind: str, pairs: Sequence[Pair]) -> None:
    """Say how many of different fingers are taken for one, by threshold in hundredths: what
    `false_matches` is made from.
    """
    other = [pair.ours for pair in pairs if not pair.is_same]
    counts = {at: sum(score >= at / 100 for score in other) for at in range(20, 62, 2)}
    table.say(f"fingers, {kind}: false of {len(other):,} by threshold", str(counts))


def equal_error(same: Sequence[float], other: Sequence[float]) -> float:
    """Return the rate at which as many of the same are missed as others are taken."""
    thresholds = np.unique(np.concatenate([same, other]))
    missed = np.searchsorted(np.sort(same), thresholds) / len(same)
    false = 1 - np.searchsorted(np.sort(other), thresholds) / len(other)
    place = int(np.abs(missed - false).argmin())
    return float((missed[place] + false[place]) / 2)


def missed_at(same: Sequence[float], other: Sequence[float], false: float) -> float:
    """Return how many of the same are missed where so few others are taken."""
    threshold = float(np.quantile(other, 1 - false, method="higher"))
    return float((np.asarray(same) <= threshold).mean())


def _claim(rate: float, count: int) -> str:
    least = RULE_OF_THREE / count
    return f"{rate:.2%}" if rate >= least else f"below {least:.2%}"


def _foretelling(table: Table, kind: str, pairs: Sequence[Pair]) -> None:
    """Say how well a quality foretells the score of a genuine pair, as rank correlation, and how
    many of the worst fifth are missed where of the best none is.
    """
    same = [pair for pair in pairs if pair.is_same]
    ours = rank_correlation([p.quality for p in same], [p.ours for p in same])
    theirs = rank_correlation([p.nfiq2 for p in same], [p.theirs for p in same])
    table.add(
        f"fingers, {kind}: quality foretells the score, rank correlation",
        f"{ours:.2f}",
        f"NFIQ 2 {theirs:.2f}",
        ours / theirs if theirs else 0.0,
        "none set",
    )
    fifth = max(len(same) // 5, 1)
    for name, quality in (("ours", "quality"), ("NFIQ 2", "nfiq2")):
        ordered = sorted(same, key=lambda pair: getattr(pair, quality))
        worst, best = (
            sum(pair.ours < FingerRule().match for pair in part) / len(part)
            for part in (ordered[:fifth], ordered[-fifth:])
        )
        table.say(
            f"fingers, {kind}: missed at {FingerRule().match} of the worst and best fifth by {name}",
            f"{_claim(worst, fifth)}, {_claim(best, fifth)}",
        )


def rank_correlation(a: Sequence[float], b: Sequence[float]) -> float:
    """Return Spearman's rank correlation, ties having their mean rank."""
    ranks = [_ranks(np.asarray(values, float)) for values in (a, b)]
    return float(np.corrcoef(*ranks)[0, 1])


def _ranks(values: Any) -> Any:
    _, inverse, counts = np.unique(values, return_inverse=True, return_counts=True)
    ends = np.cumsum(counts)
    means = ends - (counts - 1) / 2
    return means[inverse]


def _search(table: Table, seen: Sequence[Seen]) -> None:
    """Look fingers up among ten thousand: the real ones, and fillers."""
    firsts = [one for one in seen[::PRESSES] if one.ours is not None]
    prints = {place: one.ours for place, one in enumerate(firsts) if one.ours is not None}
    random = np.random.default_rng(7)
    while len(prints) < MANY:
        left, right = (firsts[int(random.integers(len(firsts)))] for _ in range(2))
        prints[len(prints)] = prints_of(_filler(left, right, random))
    gallery = Gallery(prints)
    spent, first = 0.0, 0
    asked = [(place, seen[place * PRESSES + 1]) for place in range(min(SEARCHES, len(firsts)))]
    asked = [(place, one) for place, one in asked if one.ours is not None]
    for place, one in asked:
        found, seconds = _timed(gallery.search, one.ours, FingerRule().match)
        spent += seconds
        first += bool(found) and found[0].key == place
    table.add(
        f"one finger among {MANY:,}, on one core",
        f"{spent / len(asked) * 1000:.0f} ms",
        "500 ms",
        spent / len(asked) / 0.5,
        "<= 1",
    )
    table.add(
        f"  found first, of {len(asked)}",
        f"{first}",
        f"{len(asked)}",
        first / len(asked),
        ">= 0.99",
    )


def _filler(left: Seen, right: Seen, random: np.random.Generator) -> tuple[Minutia, ...]:
    """Put a finger together from the mirror images of two halves, each moved a little: no finger
    that is asked for has any part of it.
    """
    made = []
    for side, seen in enumerate((left, right)):
        across, along = random.integers(-25, 26, 2)
        for minutia in seen.minutiae:
            x, y = WIDTH - minutia.x + int(across), minutia.y + int(along)
            if (x >= WIDTH // 2) is bool(side) and 0 <= x < WIDTH and 0 <= y < HEIGHT:
                angle = (128 - minutia.angle) % 256
                made.append(Minutia(minutia.kind, x, y, angle, minutia.quality))
    return tuple(made)


def _faces(table: Table) -> None:
    """Compare drawn faces: the network is the library's own, and has no reference beside its
    published threshold.
    """
    numbers: list[list[Descriptor]] = []
    spent = 0.0
    for who in range(PEOPLE):
        random = np.random.default_rng(who)
        theirs = []
        for shot in range(SHOTS):
            how = Shot(
                yaw=float(random.normal(0, 6)),
                pitch=float(random.normal(0, 3)),
                roll=float(random.normal(0, 3)),
                brightness=float(random.uniform(0.8, 1.1)),
                smile=float(random.uniform(0, 0.6)),
            )
            picture = Pillow.fromarray(drawn(person(who), how, shot))
            found, seconds = _timed(shot_of, picture)
            spent += seconds
            if found.template is not None:
                theirs.append(found.template.numbers)
        numbers.append(theirs)
    same = [-distance(a, b) for theirs in numbers for a, b in itertools.combinations(theirs, 2)]
    other = [
        -distance(a, b)
        for one, two in itertools.combinations(numbers, 2)
        for a in one[:2]
        for b in two[:2]
    ]
    taken = sum(map(len, numbers))
    table.say(
        "faces: a picture is measured and made numbers of",
        f"{spent / (PEOPLE * SHOTS) * 1000:.0f} ms",
    )
    table.say("faces: pictures taken", f"{taken} of {PEOPLE * SHOTS}")
    table.say(
        f"faces, drawn: equal error, {len(same):,} and {len(other):,}",
        _claim(equal_error(same, other), len(same)),
    )
    counts = {at: sum(score >= -at / 100 for score in other) for at in range(20, 72, 2)}
    table.say(f"faces, drawn: false of {len(other):,} by threshold", str(counts))
    for limit in (0.33, 0.38, 0.6):
        missed = sum(score < -limit for score in same) / len(same)
        false = sum(score >= -limit for score in other) / len(other)
        table.say(
            f"faces, drawn: at {limit}, missed and false",
            f"{_claim(missed, len(same))}, {_claim(false, len(other))}",
        )
