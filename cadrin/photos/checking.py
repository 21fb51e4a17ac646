"""Whether images and their files belong together: after a restore one of them may be the older."""

from typing import NamedTuple

from cadrin.photos.files import SIZES, kept_tokens, path_of
from cadrin.photos.models import Image


class PhotoCheck(NamedTuple):
    """How many images there are, those that lack a file (with whose they are), and the folders of
    files without an image.
    """

    images: int
    without_files: list[str]
    without_image: list[str]


def check_photos() -> PhotoCheck:
    rows = Image.objects.order_by("id").values_list(
        "token", "cardholder__number", "cardholder__display_name"
    )
    without, known = [], set()
    for token, number, name in rows.iterator():
        known.add(token)
        if not all(path_of(token, size).exists() for size in (*SIZES, "original")):
            whose = f"{number} {name}" if name else "nobody's"
            without.append(f"{token}, {whose}")
    return PhotoCheck(len(known), without, [t for t, _ in kept_tokens() if t not in known])
