"""An archive of photos, each named by its person's number, name or address, or as the list says."""

import io
import re
import zipfile
from collections.abc import Iterator
from typing import NamedTuple

from cadrin.core.errors import CadrinError, Invalid, Problem
from cadrin.core.intake.assembling import names_in
from cadrin.core.people.names import fold, number_key
from cadrin.photos.reading import MOST_BYTES, read_image

ENDINGS = (".jpg", ".jpeg", ".png", ".webp", ".heic", ".heif")
MOST_PHOTOS = 20_000
_BETWEEN = re.compile(r"[\s_.,-]+")


class Photo(NamedTuple):
    """A picture in the archive: its path there, and its name without folder and ending."""

    path: str
    stem: str


class Archive:
    """The pictures of an archive, found by what they are called."""

    def __init__(self, data: bytes) -> None:
        try:
            self._zip = zipfile.ZipFile(io.BytesIO(data))
        except zipfile.BadZipFile as error:
            raise Invalid.of("intake.cut_off_file", "file") from error
        self._by_name: dict[str, Photo] = {}
        self._by_key: dict[str, list[Photo]] = {}
        for photo in self.photos():
            self._by_name[photo.path.rpartition("/")[2].lower()] = photo
            for key in keys_of(photo.stem):
                self._by_key.setdefault(key, []).append(photo)

    def photos(self) -> Iterator[Photo]:
        """Yield every picture; what an archive keeps for itself is left aside."""
        for item in self._zip.infolist()[:MOST_PHOTOS]:
            name = item.filename.rpartition("/")[2]
            is_hidden = name.startswith(".") or item.filename.startswith("__MACOSX")
            if not item.is_dir() and name.lower().endswith(ENDINGS) and not is_hidden:
                yield Photo(item.filename, name.rpartition(".")[0])

    def named(self, name: str) -> Photo | None:
        """Return the picture that a list names, with or without its ending."""
        asked = name.replace("\\", "/").rpartition("/")[2].lower()
        if found := self._by_name.get(asked):
            return found
        endings = (self._by_name.get(asked + ending) for ending in ENDINGS)
        return next((photo for photo in endings if photo), None)

    def of_person(self, number: str, first: str, last: str, email: str) -> Photo | None:
        """Return the only picture that is called by a person's number, address or name."""
        wanted = (
            number_key(number), fold(email), _plain(f"{first} {last}"), _plain(f"{last} {first}")
        )  # fmt: skip
        for key in wanted:
            found = self._by_key.get(key, []) if key else []
            if len(found) == 1:
                return found[0]
        return None

    def picture(self, path: str) -> bytes:
        """Return the bytes of a picture. Raises Invalid."""
        try:
            item = self._zip.getinfo(path)
            if item.file_size > MOST_BYTES:
                raise Invalid.of("photo.too_large", "image", most=MOST_BYTES // 2**20)
            return self._zip.read(item)
        except (KeyError, zipfile.BadZipFile, RuntimeError, OSError) as error:
            raise Invalid.of("photo.not_readable", "image") from error

    def problem_with(self, path: str) -> Problem | None:
        """Return why a picture cannot be taken, or None."""
        try:
            read_image(self.picture(path))
        except CadrinError as error:
            return error.problems[0]
        return None


def keys_of(stem: str) -> set[str]:
    """Return everything that a picture's name may stand for.

    >>> sorted(keys_of("Lindqvist, Mara"))
    ['LINDQVIST,MARA', 'lindqvist mara', 'lindqvist, mara', 'mara lindqvist']
    """
    first, last = names_in(stem)
    return {number_key(stem), fold(stem), _plain(stem), _plain(f"{first} {last}")} - {""}


def _plain(name: str) -> str:
    return _BETWEEN.sub(" ", fold(name)).strip()
