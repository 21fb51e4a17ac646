"""Where a picture shows a finger, which way its ridges run and how far they are apart.

Pictures have 500 pixels an inch, dark ridges on a light ground. Directions are radians, from 0 to pi,
counter-clockwise from the right; down the picture is positive for rows, up for angles.
"""

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

Picture = NDArray[np.uint8]
Floats = NDArray[Any]
"""Numbers of single precision; what OpenCV gives says less of itself."""
Mask = NDArray[np.bool_]

NARROWEST, WIDEST = 5.0, 16.0
"""Pixels from one ridge to the next, at most and at least: people have 8 to 10 (common practice)."""
_BLOCK = 16
_ACROSS, _ALONG = 16, 8
_SPECTRUM = 128
_LEAST_CONTRAST = 10.0
"""Standard deviation of light within some ridges, below which nothing lies on the glass."""


@dataclass(frozen=True, slots=True)
class Ridges:
    """What is known of the ridges at each pixel: ``is_finger``, ``direction``, ``coherence`` (0 no
    direction to 1 only one) and ``period`` in pixels; ``ground`` is the mean light around,
    ``contrast`` its standard deviation, ``regularity`` how much of what lies across the ridges is one wave (0 to 1).
    """

    is_finger: Mask
    direction: Floats
    coherence: Floats
    period: Floats
    ground: Floats
    contrast: Floats
    regularity: float


def ridges_in(picture: Picture) -> Ridges | None:
    """Return the ridges in a picture, or None where nothing lies on the glass."""
    light = picture.astype(np.float32)
    ground = cv2.GaussianBlur(light, (0, 0), 8)
    contrast = _contrast(light, ground)
    is_finger = _finger(contrast)
    if is_finger is None:
        return None
    flat = (light - ground) / (contrast + 1)
    direction, coherence = _directions(flat)
    period, regularity = _periods(flat, direction, is_finger)
    return Ridges(is_finger, direction, coherence, period, ground, contrast, regularity)


def _contrast(light: Floats, ground: Floats) -> Floats:
    spread = cv2.GaussianBlur(light * light, (0, 0), 8) - ground * ground
    contrast: Floats = np.sqrt(np.maximum(spread, 0)).astype(np.float32)
    return contrast


def _finger(contrast: Floats) -> Mask | None:
    """Return the largest place with ridges, without holes."""
    strongest = float(np.percentile(contrast, 95))
    if strongest < _LEAST_CONTRAST:
        return None
    found: Floats = (contrast > max(0.35 * strongest, _LEAST_CONTRAST)).astype(np.uint8)
    round_ = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (25, 25))
    found = cv2.morphologyEx(
        cv2.morphologyEx(found, cv2.MORPH_CLOSE, round_), cv2.MORPH_OPEN, round_
    )
    outlines, _ = cv2.findContours(found, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not outlines:
        return None
    filled = np.zeros_like(found)
    cv2.drawContours(filled, [max(outlines, key=cv2.contourArea)], -1, 1, cv2.FILLED)
    # the blur of the contrast reaches beyond the edge of the finger
    inner = cv2.erode(filled, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (7, 7)))
    return inner.astype(bool)


def _directions(flat: Floats) -> tuple[Floats, Floats]:
    """Return direction and coherence of the ridges, from the structure tensor of the gradients."""
    fine = cv2.GaussianBlur(flat, (0, 0), 1.0)
    right = cv2.Sobel(fine, cv2.CV_32F, 1, 0)
    up = -cv2.Sobel(fine, cv2.CV_32F, 0, 1)
    # strong edges count no more than weak ones: a blotch would drown the ridges beside it
    energy = cv2.GaussianBlur(right * right + up * up, (0, 0), 4) + 1e-4
    cosine = cv2.GaussianBlur((right * right - up * up) / energy, (0, 0), 7)
    sine = cv2.GaussianBlur(2 * right * up / energy, (0, 0), 7)
    coherence = np.minimum(np.hypot(cosine, sine), 1)
    # ridges run across the gradient
    direction = (np.arctan2(sine, cosine) / 2 + np.pi / 2) % np.pi
    return direction.astype(np.float32), coherence.astype(np.float32)


def _periods(flat: Floats, direction: Floats, is_finger: Mask) -> tuple[Floats, float]:
    """Return how far ridges are apart at each pixel: the strongest wave across them, block by
    block.
    """
    height, width = flat.shape
    rows, columns = np.mgrid[_BLOCK // 2 : height : _BLOCK, _BLOCK // 2 : width : _BLOCK]
    shape = rows.shape
    inside = is_finger[rows, columns].ravel()
    if not inside.any():
        return np.full(flat.shape, 9.0, np.float32), 0.0
    y, x = rows.ravel()[inside], columns.ravel()[inside]
    angle = direction[y, x][:, None, None]
    across = np.arange(-_ACROSS, _ACROSS, dtype=np.float32)[None, :, None]
    along = np.arange(-_ALONG, _ALONG + 1, 2, dtype=np.float32)[None, None, :]
    at_x = x[:, None, None] - across * np.sin(angle) + along * np.cos(angle)
    at_y = y[:, None, None] - across * np.cos(angle) - along * np.sin(angle)
    sampled = cv2.remap(
        flat,
        at_x.reshape(len(x), -1).astype(np.float32),
        at_y.reshape(len(x), -1).astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REFLECT,
    ).reshape(len(x), across.size, along.size)
    wave = sampled.mean(2)
    wave = (wave - wave.mean(1, keepdims=True)) * np.hanning(across.size)
    power = np.abs(np.fft.rfft(wave, _SPECTRUM)) ** 2
    first, last = int(_SPECTRUM / WIDEST), int(_SPECTRUM / NARROWEST) + 1
    peak = power[:, first:last].argmax(1) + first
    around = sum(power[np.arange(len(x)), peak + step] for step in range(-3, 4))
    share = around / (power.sum(1) + 1e-9)
    known = np.zeros(shape, np.float32).ravel()
    weight = np.zeros(shape, np.float32).ravel()
    known[inside], weight[inside] = _SPECTRUM / peak * share, share
    # what is known of the neighbours counts too, the more the clearer their ridges are
    smooth = cv2.GaussianBlur(known.reshape(shape), (0, 0), 1.5) / (
        cv2.GaussianBlur(weight.reshape(shape), (0, 0), 1.5) + 1e-6
    )
    smooth = np.clip(smooth, NARROWEST, WIDEST)
    period = cv2.resize(smooth, (width, height), interpolation=cv2.INTER_LINEAR)
    return period, float(np.median(share))
