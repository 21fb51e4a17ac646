"""Read what was sent as an image, and trust nothing about it."""

import io
import warnings

import pillow_heif
from PIL import Image as Pillow
from PIL import ImageOps, UnidentifiedImageError

from cadrin.core.errors import Invalid

MOST_BYTES = 20 * 1024 * 1024
MOST_PIXELS_ACROSS = 8000
MOST_MEGAPIXELS = 50
KEPT_PIXELS_ACROSS = 4000
"""More than any badge or screen shows: a larger picture is kept at this size."""
FEWEST_PIXELS_ACROSS = 32
FORMATS = ("JPEG", "PNG", "WEBP", "HEIF")

pillow_heif.register_heif_opener()


def read_image(sent: bytes) -> Pillow.Image:
    """Return the picture upright, in RGB and without what else was in the file. Raises Invalid.

    The size is looked at before anything is unpacked, so that a small file cannot fill the memory.
    """
    if len(sent) > MOST_BYTES:
        raise Invalid.of("photo.too_large", "image", most=MOST_BYTES // 2**20)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Pillow.DecompressionBombWarning)
            opened = Pillow.open(io.BytesIO(sent), formats=FORMATS)
            if max(opened.size) > MOST_PIXELS_ACROSS:
                raise Invalid.of("photo.too_many_pixels", "image", most=MOST_PIXELS_ACROSS)
            if min(opened.size) < FEWEST_PIXELS_ACROSS:
                raise Invalid.of("photo.too_few_pixels", "image", least=FEWEST_PIXELS_ACROSS)
            if opened.width * opened.height > MOST_MEGAPIXELS * 1_000_000:
                raise Invalid.of("photo.too_many_megapixels", "image", most=MOST_MEGAPIXELS)
            # a JPEG unpacks smaller at once
            opened.draft("RGB", (KEPT_PIXELS_ACROSS, KEPT_PIXELS_ACROSS))
            opened.load()
            if max(opened.size) > KEPT_PIXELS_ACROSS:
                opened.thumbnail((KEPT_PIXELS_ACROSS, KEPT_PIXELS_ACROSS))
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError) as failure:
        raise Invalid.of("photo.not_readable", "image") from failure
    except (Pillow.DecompressionBombError, Pillow.DecompressionBombWarning) as failure:
        raise Invalid.of("photo.too_many_pixels", "image", most=MOST_PIXELS_ACROSS) from failure
    upright = ImageOps.exif_transpose(opened)
    if upright.mode in ("RGBA", "LA", "PA") or "transparency" in upright.info:
        with_alpha = upright.convert("RGBA")
        upright = Pillow.new("RGBA", with_alpha.size, "white")
        upright.alpha_composite(with_alpha)
    # a new picture of the same pixels: nothing else of the file comes along
    plain = Pillow.new("RGB", upright.size)
    plain.paste(upright.convert("RGB"))
    return plain
