"""From a picture of a face to the template that is kept; what blocks it, and how good it is."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PIL import Image as Pillow

from cadrin.core.credentials.face.descriptor import PUBLISHED_MATCH, descriptor_of, distance
from cadrin.core.credentials.face.measuring import faces_in, measures_of
from cadrin.core.credentials.face.portrait import (
    LIMITS,
    SURE,
    Face,
    Finding,
    Found,
    Measures,
    findings,
    geometry_of,
    proposed_crop,
)
from cadrin.core.credentials.face.template import FaceTemplate
from cadrin.core.errors import Problem

ESSENTIAL = (Finding.NO_FACE, Finding.SEVERAL_FACES, Finding.TOO_SMALL, Finding.BLURRED)
"""What is advice for a portrait and blocks a template."""
MOST_TEMPLATES = 4
"""Of one person: with glasses and without, with a beard and without."""


@dataclass(frozen=True, slots=True)
class FaceRule:
    """What the site asks of a face: the least quality of a picture, 0 to 100, and how far apart two
    pictures of one person may be.
    """

    least_quality: int = 40
    match: float = PUBLISHED_MATCH


@dataclass(frozen=True, slots=True)
class FaceShot:
    """A picture as it was measured: its template (None where there is no one face to take), its
    quality, and what was found, what blocks it first.
    """

    template: FaceTemplate | None
    quality: int
    found: tuple[Found, ...]


def shot_of(picture: Pillow.Image) -> FaceShot:
    """Measure a picture of a face."""
    faces = faces_in(picture)
    sure = [face for face in faces if face.score > SURE]
    largest = max(sure, key=lambda face: face.box.height, default=None)
    measures = measures_of(picture, largest) if largest else None
    crop = proposed_crop(picture.width, picture.height, faces)
    found = findings(faces, crop, measures)
    ordered = tuple(sorted(found, key=lambda item: item.finding not in ESSENTIAL))
    if largest is None or len(sure) > 1:
        return FaceShot(None, 0, ordered)
    quality = quality_of(largest, measures)
    is_blocked = any(item.finding in ESSENTIAL for item in found)
    template = None if is_blocked else FaceTemplate(descriptor_of(picture, largest), quality)
    return FaceShot(template, quality, ordered)


def quality_of(face: Face, measures: Measures | None) -> int:
    """Return how good a picture of a face is, 0 to 100: the least of how large, straight, sharp and
    evenly lit it is.

    Our own measure: 50 is where a portrait would be found fault with, by `LIMITS`.
    """
    found = geometry_of(face)
    shares = [
        found.eye_distance / LIMITS["eye_distance"].lowest,
        2 - abs(found.roll) / LIMITS["roll"].highest,
        2 - abs(found.yaw) / LIMITS["yaw"].highest,
    ]
    if measures is not None:
        uneven = abs(np.log(max(measures.left_by_right, 1e-3)))
        shares += [
            measures.sharpness / LIMITS["sharpness"].lowest,
            2 - uneven / np.log(LIMITS["left_by_right"].highest),
            measures.brightness / LIMITS["brightness"].lowest,
            (255 - measures.brightness) / (255 - LIMITS["brightness"].highest),
        ]
    return round(50 * float(np.clip(min(shares), 0, 2)))


def is_same_face(template: FaceTemplate, others: Sequence[FaceTemplate], rule: FaceRule) -> bool:
    """Say whether a face is like any of these."""
    return any(distance(template.numbers, other.numbers) <= rule.match for other in others)


def problem_with_shot(shot: FaceShot, rule: FaceRule) -> Problem | None:
    """Return why a picture is not taken, or None."""
    blocking = [item for item in shot.found if item.finding in ESSENTIAL]
    if blocking:
        return Problem(f"face.{blocking[0].finding.value}", "picture")
    if shot.template is None or shot.quality < rule.least_quality:
        params = {"quality": shot.quality, "least": rule.least_quality}
        return Problem("face.poor_picture", "picture", params)
    return None
