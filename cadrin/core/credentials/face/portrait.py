"""Portraits: the geometry of a face, the crop it proposes, and plain findings that advise and never
block.

Geometry follows ICAO Doc 9303 part 3 and ISO/IEC 19794-5 (both from memory); the limits of `LIMITS`
are Cadrin's own, tried on made-up portraits. Lengths are pixels, angles degrees, shares of the
picture 0 to 1.
"""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

RATIO = 4 / 5
"""Width of a portrait by its height."""
HEAD_SHARE, EYES_FROM_BOTTOM = 0.72, 0.56
SURE = 0.8
"""A face found with a lower score is none."""
# from the middle between the eyes to the chin, by the distance from there to the mouth
_CHIN_BY_MOUTH, _CHIN_BY_BOX, _CROWN_BY_CHIN = 1.62, 0.52, 1.02
# how far the tip of the nose stands out, by the distance of the eyes
_NOSE_BY_EYES = 0.62


class Point(NamedTuple):
    x: float
    y: float


class Box(NamedTuple):
    """A part of a picture, from its upper left corner."""

    x: float
    y: float
    width: float
    height: float


class Face(NamedTuple):
    """A face as a detector tells it; left and right are those of the picture."""

    box: Box
    left_eye: Point
    right_eye: Point
    nose: Point
    mouth: Point
    score: float = 1.0

    def scaled(self, by: float) -> "Face":
        """Return the same face in a picture that is so many times as large."""
        left, right, nose, mouth = (
            Point(at.x * by, at.y * by)
            for at in (self.left_eye, self.right_eye, self.nose, self.mouth)
        )
        return Face(Box(*(value * by for value in self.box)), left, right, nose, mouth, self.score)


@dataclass(frozen=True, slots=True)
class Geometry:
    """What follows from where eyes, nose and mouth are."""

    eyes: Point
    eye_distance: float
    roll: float
    yaw: float
    eyes_to_chin: float

    @property
    def head_height(self) -> float:
        return self.eyes_to_chin * (1 + _CROWN_BY_CHIN)


def geometry_of(face: Face) -> Geometry:
    """Work out the geometry of a face; a tilted one is measured along its own axis."""
    (ax, ay), (bx, by) = sorted((face.left_eye, face.right_eye))
    distance = max(math.hypot(bx - ax, by - ay), 1e-6)
    across = Point((bx - ax) / distance, (by - ay) / distance)
    down = Point(-across.y, across.x)
    eyes = Point((ax + bx) / 2, (ay + by) / 2)
    to_mouth = (face.mouth.x - eyes.x) * down.x + (face.mouth.y - eyes.y) * down.y
    middle = Point((eyes.x + face.mouth.x) / 2, (eyes.y + face.mouth.y) / 2)
    aside = (face.nose.x - middle.x) * across.x + (face.nose.y - middle.y) * across.y
    return Geometry(
        eyes,
        distance,
        math.degrees(math.atan2(by - ay, bx - ax)),
        math.degrees(math.asin(max(-1.0, min(1.0, aside / (_NOSE_BY_EYES * distance))))),
        max(_CHIN_BY_MOUTH * to_mouth, _CHIN_BY_BOX * face.box.height),
    )


def proposed_crop(width: int, height: int, faces: Sequence[Face], ratio: float = RATIO) -> Box:
    """Propose the part of a picture to keep: around its largest face, or the middle of it when
    there is none.

    It always lies within the picture, has the ratio, and is as large as it should be or as it can
    be.
    """
    largest = max(
        (face for face in faces if face.score > SURE),
        key=lambda face: face.box.height,
        default=None,
    )
    tallest = min(height, width / ratio)
    if largest is None:
        return _within(width, height, Point(width / 2, height / 2), tallest, ratio, 0.5)
    found = geometry_of(largest)
    return _within(
        width,
        height,
        found.eyes,
        min(tallest, found.head_height / HEAD_SHARE),
        ratio,
        EYES_FROM_BOTTOM,
    )


def _within(
    width: int, height: int, at: Point, tall: float, ratio: float, from_bottom: float
) -> Box:
    wide = tall * ratio
    x = min(max(at.x - wide / 2, 0), width - wide)
    y = min(max(at.y - tall * (1 - from_bottom), 0), height - tall)
    return Box(max(x, 0), max(y, 0), wide, tall)


class Finding(StrEnum):
    """What may be wrong with a portrait."""

    NO_FACE = "no_face"
    SEVERAL_FACES = "several_faces"
    TOO_SMALL = "too_small"
    TILTED = "tilted"
    TURNED = "turned"
    HEAD_TOO_SMALL = "head_too_small"
    HEAD_TOO_LARGE = "head_too_large"
    EYES_TOO_LOW = "eyes_too_low"
    EYES_TOO_HIGH = "eyes_too_high"
    OFF_CENTRE = "off_centre"
    BLURRED = "blurred"
    TOO_DARK = "too_dark"
    TOO_BRIGHT = "too_bright"
    UNEVEN_LIGHT = "uneven_light"
    BUSY_BACKGROUND = "busy_background"


@dataclass(frozen=True, slots=True)
class Measures:
    """What was measured on the pixels of a face: brightness 0 to 255, the rest as `LIMITS` says.

    ``background`` is None where there is too little of it.
    """

    sharpness: float
    brightness: float
    dark_share: float
    bright_share: float
    left_by_right: float
    background: float | None


class Limits(NamedTuple):
    """From and to: outside of it something is found."""

    lowest: float = -math.inf
    highest: float = math.inf


LIMITS: Mapping[str, Limits] = {
    "eye_distance": Limits(80),  # in the original; 90 is asked for travel documents
    "roll": Limits(-8, 8),
    "yaw": Limits(-12, 12),
    "head_share": Limits(0.40, 0.85),
    "eyes_from_bottom": Limits(0.45, 0.72),
    "eyes_across": Limits(0.42, 0.58),
    "sharpness": Limits(18),  # variance of the Laplacian with the eyes 64 px apart
    "brightness": Limits(55, 215),
    "dark_share": Limits(highest=0.2),
    "bright_share": Limits(highest=0.08),
    "left_by_right": Limits(0.6, 1.67),
    "background": Limits(
        highest=12
    ),  # 90th percentile of the colour distance from its median, CIELAB
}


class Found(NamedTuple):
    """A finding with its figure, rounded for people."""

    finding: Finding
    figure: float


def findings(faces: Sequence[Face], crop: Box, measures: Measures | None) -> tuple[Found, ...]:
    """Say what may be wrong with a portrait; ``crop`` is the part of the picture that is kept."""
    sure = [face for face in faces if face.score > SURE]
    if not sure:
        return (Found(Finding.NO_FACE, 0),)
    several = (Found(Finding.SEVERAL_FACES, len(sure)),) if len(sure) > 1 else ()
    largest = max(sure, key=lambda face: face.box.height)
    light = tuple(_of_light(measures)) if measures else ()
    return (*several, *_of_geometry(geometry_of(largest), crop), *light)


def _outside(
    name: str, figure: float, low: Finding | None, high: Finding | None
) -> Iterator[Found]:
    limits = LIMITS[name]
    if low and figure < limits.lowest:
        yield Found(low, round(figure, 2))
    if high and figure > limits.highest:
        yield Found(high, round(figure, 2))


def _of_geometry(found: Geometry, crop: Box) -> Iterator[Found]:
    yield from _outside("eye_distance", found.eye_distance, Finding.TOO_SMALL, None)
    yield from _outside("roll", found.roll, Finding.TILTED, Finding.TILTED)
    yield from _outside("yaw", found.yaw, Finding.TURNED, Finding.TURNED)
    head = found.head_height / crop.height
    yield from _outside("head_share", head, Finding.HEAD_TOO_SMALL, Finding.HEAD_TOO_LARGE)
    from_bottom = 1 - (found.eyes.y - crop.y) / crop.height
    yield from _outside(
        "eyes_from_bottom", from_bottom, Finding.EYES_TOO_LOW, Finding.EYES_TOO_HIGH
    )
    across = (found.eyes.x - crop.x) / crop.width
    yield from _outside("eyes_across", across, Finding.OFF_CENTRE, Finding.OFF_CENTRE)


def _of_light(measures: Measures) -> Iterator[Found]:
    yield from _outside("sharpness", measures.sharpness, Finding.BLURRED, None)
    dark = list(_outside("brightness", measures.brightness, Finding.TOO_DARK, Finding.TOO_BRIGHT))
    yield from dark
    if not dark:
        yield from _outside("dark_share", measures.dark_share, None, Finding.TOO_DARK)
        yield from _outside("bright_share", measures.bright_share, None, Finding.TOO_BRIGHT)
    yield from _outside(
        "left_by_right", measures.left_by_right, Finding.UNEVEN_LIGHT, Finding.UNEVEN_LIGHT
    )
    if measures.background is not None:
        yield from _outside("background", measures.background, None, Finding.BUSY_BACKGROUND)
