"""Delimited text as it really comes: any delimiter, quoting and line ending (RFC 4180 and around it)."""

import csv
import io
import re
from collections import Counter
from collections.abc import Iterator
from itertools import islice
from typing import NamedTuple

from cadrin.core.errors import Problem
from cadrin.core.intake.table import LONGEST_CELL, Cells

DELIMITERS = (",", ";", "\t", "|", "~", "^")
_LOOKED_AT = 60
_CHARACTERS_LOOKED_AT = 100_000
_SAYS_ITS_DELIMITER = re.compile(r"sep=(.)\r?\n", re.IGNORECASE)
_ALLOWED_CELL = 4 * 2**20
"""More than a cell may hold: one that is longer is told with its row, and not cut off here."""
csv.field_size_limit(_ALLOWED_CELL)


class Dialect(NamedTuple):
    """How a text is delimited. ``skips`` is a spreadsheet's own line about it, before the table."""

    delimiter: str
    quote: str = '"'
    skips: int = 0
    has_spaces_before_quotes: bool = False


def guessed_dialect(text: str) -> Dialect:
    """Return how a text is delimited: the delimiter by which most rows have the same number of cells.

    >>> guessed_dialect("Name;Born\\nReve, T.;1 Jan 1990\\n").delimiter
    ';'
    """
    if said := _SAYS_ITS_DELIMITER.match(text):
        return _with_quotes(Dialect(said[1], skips=said.end()), text)
    start = text[:_CHARACTERS_LOOKED_AT]
    return max(
        (_with_quotes(Dialect(delimiter), start) for delimiter in DELIMITERS),
        key=lambda dialect: _evenness(dialect, start),
    )


def dialect_with(delimiter: str, text: str) -> Dialect:
    """Return the dialect of a text whose delimiter somebody chose."""
    said = _SAYS_ITS_DELIMITER.match(text)
    return _with_quotes(Dialect(delimiter, skips=said.end() if said else 0), text)


def _with_quotes(dialect: Dialect, text: str) -> Dialect:
    start = text[:_CHARACTERS_LOOKED_AT]
    at = re.escape(dialect.delimiter)
    single = len(re.findall(rf"(?:^|{at})'[^'\n]*'(?={at}|$)", start, re.MULTILINE))
    quote = "'" if '"' not in start and single > start.count("\n") else '"'
    spaced = re.search(rf'{at} +"', start) is not None
    return dialect._replace(quote=quote, has_spaces_before_quotes=spaced)


def _evenness(dialect: Dialect, text: str) -> tuple[float, int]:
    counts = Counter(len(row) for row in islice(_rows(text, dialect), _LOOKED_AT) if row)
    # the last row may have been cut where we stopped looking
    columns, times = counts.most_common(1)[0] if counts else (0, 0)
    return (times / counts.total() if columns > 1 else 0.0, columns)


def _rows(text: str, dialect: Dialect) -> Iterator[list[str]]:
    stream = io.StringIO(text, newline="")
    stream.seek(dialect.skips)
    return csv.reader(
        stream,
        delimiter=dialect.delimiter,
        quotechar=dialect.quote,
        skipinitialspace=dialect.has_spaces_before_quotes,
    )


def rows_of(text: str, dialect: Dialect) -> Iterator[Cells]:
    """Yield the rows of a text; an empty line is a row without cells."""
    return map(tuple, _rows(text, dialect))


def is_cut_off(text: str, dialect: Dialect, last: Cells) -> bool:
    """Say whether the text ends within quotes: its end is missing, and its last row is the rest of it."""
    ends = text.rstrip().endswith(dialect.quote)
    return not ends and any("\n" in cell or "\r" in cell for cell in last[-1:])


def problem_with_cell(cell: str) -> Problem | None:
    """Return what no cell of any table may have, or None."""
    if len(cell) > LONGEST_CELL:
        return Problem("intake.cell_too_long", None, {"most": LONGEST_CELL})
    return Problem("intake.nul", None) if "\0" in cell else None
