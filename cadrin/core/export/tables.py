"""A table as CSV, JSON or XLSX. The first row has the names of the columns, by which it can be read
back in.
"""

import csv
import io
import json
import re
from collections.abc import Iterable, Iterator, Sequence
from typing import IO, Any, NamedTuple

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE

Row = Sequence[str]


class Column(NamedTuple):
    """A column: ``key`` for programs, ``label`` for people."""

    key: str
    label: str


BYTE_ORDER_MARK = "\N{ZERO WIDTH NO-BREAK SPACE}"
"""Begins a CSV, so that spreadsheets take it for UTF-8."""
_BEGINS_A_FORMULA = "=+-@\t\r'" + "".join(chr(ord(sign) + 0xFEE0) for sign in "=+-@")
"""The fullwidth forms too: some spreadsheets take them for the others."""
_NOT_IN_A_TITLE = re.compile(r"[\[\]:*?/\\]")
_LONGEST_TITLE = 31
"""What a sheet may be called (ECMA-376, Part 1, 18.2.19 gives the length)."""
_PLAIN_NUMBER = re.compile(r"-?\d+(\.\d+)?")


def harmless(text: str) -> str:
    """Return a cell that no spreadsheet takes for a formula (OWASP, CSV injection): an apostrophe
    goes before it.

    >>> harmless("=1+1"), harmless("-12.5"), harmless("Reve")
    ("'=1+1", '-12.5', 'Reve')
    """
    is_risky = text[:1] in _BEGINS_A_FORMULA and text and not _PLAIN_NUMBER.fullmatch(text)
    return f"'{text}" if is_risky else text


def as_written(cell: str) -> str:
    """Return back what `harmless` was given.

    >>> as_written("'=1+1"), as_written("Reve")
    ('=1+1', 'Reve')
    """
    return cell[1:] if cell[:1] == "'" else cell


def csv_chunks(columns: Sequence[Column], rows: Iterable[Row]) -> Iterator[str]:
    """Write RFC 4180 with a byte order mark, a chunk for each row."""
    buffer = io.StringIO()
    writer = csv.writer(buffer)

    def written() -> str:
        text = buffer.getvalue()
        buffer.seek(0)
        buffer.truncate()
        return text

    writer.writerow([harmless(column.label) for column in columns])
    yield BYTE_ORDER_MARK + written()
    for row in rows:
        writer.writerow([harmless(cell) for cell in row])
        yield written()


def json_chunks(columns: Sequence[Column], rows: Iterable[Row]) -> Iterator[str]:
    """Write one array of objects (RFC 8259), a chunk for each row."""
    before = "[\n"
    for row in rows:
        cells = {column.key: cell for column, cell in zip(columns, row, strict=True)}
        yield before + json.dumps(cells, ensure_ascii=False)
        before = ",\n"
    yield "[]\n" if before == "[\n" else "\n]\n"


def write_xlsx(
    columns: Sequence[Column], rows: Iterable[Row], file: IO[bytes], title: str = "Cardholders"
) -> None:
    """Write a workbook of one sheet. Every cell is text, so that nothing is a formula and no zero
    is lost.
    """
    book = Workbook(write_only=True)
    sheet = book.create_sheet(_NOT_IN_A_TITLE.sub(" ", title)[:_LONGEST_TITLE])
    sheet.freeze_panes = "A2"

    def cell(text: str) -> Any:
        made = WriteOnlyCell(sheet, value=ILLEGAL_CHARACTERS_RE.sub("", text))
        made.data_type = "s"
        return made

    sheet.append([cell(column.label) for column in columns])
    for row in rows:
        sheet.append([cell(item) for item in row])
    book.save(file)
