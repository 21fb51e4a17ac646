"""Where the files of images are: beside the database, a folder for each image."""

import secrets
import shutil
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings
from PIL import Image as Pillow
from PIL import ImageOps

from cadrin.core.credentials.face.portrait import Box

SIZES = {"list": (64, 80), "page": (240, 300), "print": (960, 1200)}
"""Pixels at most, of what is made of the crop; the original is kept beside them."""
_QUALITY = 90


def new_token() -> str:
    return secrets.token_hex(16)


def folder_of(token: str) -> Path:
    return Path(settings.IMAGES) / token[:2] / token


def path_of(token: str, size: str) -> Path:
    """Return the file of an image in a size of `SIZES`, or the ``original``."""
    return folder_of(token) / f"{size}.jpg"


def write_files(token: str, original: Pillow.Image, crop: Box) -> None:
    """Write the original and all sizes of the crop."""
    folder = folder_of(token)
    folder.mkdir(parents=True)
    original.save(folder / "original.jpg", quality=95)
    part = original.crop(
        (round(crop.x), round(crop.y), round(crop.x + crop.width), round(crop.y + crop.height))
    )
    for size, most in SIZES.items():
        ImageOps.contain(part, most).save(folder / f"{size}.jpg", quality=_QUALITY)


def remove_files(token: str) -> None:
    shutil.rmtree(folder_of(token), ignore_errors=True)


def kept_tokens() -> Iterator[tuple[str, datetime]]:
    """Yield every image that has files, with when they were written."""
    for folder in Path(settings.IMAGES).glob("??/*"):
        yield folder.name, datetime.fromtimestamp(folder.stat().st_mtime, UTC)
