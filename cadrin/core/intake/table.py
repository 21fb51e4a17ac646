"""A table as it was read from a file, whatever kind of file that was."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from enum import StrEnum

from cadrin.core.errors import Problem

Cells = tuple[str, ...]
MOST_BYTES = 100 * 2**20
MOST_ROWS = 200_000
MOST_COLUMNS = 200
LONGEST_CELL = 32_767
"""Characters: what a cell of a spreadsheet holds at most."""


class FileKind(StrEnum):
    DELIMITED = "delimited"
    WORKBOOK = "workbook"
    JSON = "json"
    VCARD = "vcard"
    LDIF = "ldif"
    PHOTOS = "photos"
    CONTROLLER = "controller"


@dataclass(frozen=True, slots=True)
class ReadingChoices:
    """What somebody decided about reading a file; empty is guessed."""

    encoding: str = ""
    delimiter: str = ""
    sheet: str = ""


@dataclass(frozen=True, slots=True)
class Table:
    """The rows of a file, as text: dates as ISO 8601 writes them, where the file knows them.

    ``rows`` can be walked once. ``notes`` say what was noticed on the way, for the operator.
    """

    kind: FileKind
    rows: Iterable[Cells]
    encoding: str = ""
    delimiter: str = ""
    sheet: str = ""
    sheets: tuple[str, ...] = ()
    has_headings: bool = False
    """The first row is known to be headings: the kind of file has names for its fields."""
    notes: tuple[Problem, ...] = field(default=())
