"""Workbooks: XLSX, XLSB, ODS and old XLS. Values only: nothing in a workbook is run or fetched."""

import io
import re
import zipfile
from collections.abc import Iterator
from datetime import date, datetime, time, timedelta
from typing import Any
from xml.etree.ElementTree import Element

from defusedxml.ElementTree import iterparse
from python_calamine import CalamineError, CalamineWorkbook, PasswordError

from cadrin.core.errors import Invalid, Param, Problem
from cadrin.core.intake.table import Cells, FileKind, Table

OLE = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
_ENCRYPTED = "EncryptedPackage".encode("utf-16-le")
MOST_UNPACKED = 500 * 2**20
MOST_TIMES_UNPACKED = 200
"""A sheet of zeros packs to a hundredth; what packs to less is made to fill a memory."""


def problem_with_archive(data: bytes) -> Problem | None:
    """Return what speaks against unpacking an archive, by what it says of itself, or None."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            size = sum(item.file_size for item in archive.infolist())
            is_locked = any(item.flag_bits & 1 for item in archive.infolist())
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError):
        return Problem("intake.cut_off_file", "file")
    if size > MOST_UNPACKED or size > MOST_TIMES_UNPACKED * max(len(data), 2**16):
        return Problem("intake.unpacks_too_large", "file", {"most": MOST_UNPACKED // 2**20})
    return Problem("intake.password", "file") if is_locked else None


def read_workbook(data: bytes, sheet: str = "") -> Table:
    """Read one sheet, the first with anything in it unless one is named. Raises Invalid."""
    if data.startswith(OLE) and _ENCRYPTED in data:
        raise Invalid.of("intake.password", "file")
    try:
        book = CalamineWorkbook.from_filelike(io.BytesIO(data))
        names = tuple(book.sheet_names)
        if sheet and sheet not in names:
            raise Invalid.of("intake.no_such_sheet", "sheet", sheet=sheet[:60])
        chosen = book.get_sheet_by_name(sheet) if sheet else _first_with_cells(book)
        merged = len(chosen.merged_cell_ranges or ())
        rows = chosen.to_python(skip_empty_area=False)
    except PasswordError as error:
        raise Invalid.of("intake.password", "file") from error
    except (CalamineError, OSError, ValueError, OverflowError) as error:
        raise Invalid.of("intake.not_readable", "file") from error
    notes = [_note("intake.merged_cells", merged)] if merged else []
    notes += _notes_of_archive(data, names.index(chosen.name)) if data.startswith(b"PK") else []
    return Table(
        FileKind.WORKBOOK, _texts(rows), sheet=chosen.name, sheets=names, notes=tuple(notes)
    )


def _first_with_cells(book: CalamineWorkbook) -> Any:
    sheets = [book.get_sheet_by_name(name) for name in book.sheet_names]
    if not sheets:
        raise Invalid.of("intake.no_rows", "file")
    return next((sheet for sheet in sheets if sheet.height), sheets[0])


def _texts(rows: list[list[Any]]) -> Iterator[Cells]:
    for row in rows:
        cells = tuple(map(text_of, row))
        last = len(cells)
        while last and not cells[last - 1]:
            last -= 1
        yield cells[:last]


def text_of(value: Any) -> str:
    """Return the value of a cell as text; a day, an instant and an hour as ISO 8601 writes them.

    >>> text_of(412.0), text_of(datetime(2026, 3, 1)), text_of(datetime(2026, 3, 1, 7, 30)), text_of(True)
    ('412', '2026-03-01', '2026-03-01 07:30', 'true')
    """
    if isinstance(value, str):
        return value
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and abs(value) < 10**15 else repr(value)
    if isinstance(value, datetime):
        if value.time() == time():
            return value.date().isoformat()
        return value.isoformat(" ", "seconds" if value.second else "minutes")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, time):
        return value.isoformat("seconds" if value.second else "minutes")
    if isinstance(value, timedelta):
        return str(value)
    return "" if value is None else str(value)


def _note(code: str, count: int = 0) -> Problem:
    params: dict[str, Param] = {"count": count} if count else {}
    return Problem(code, None, params)


_PARTS_TOLD = (("vbaProject.bin", "intake.has_macros"), ("externalLinks/", "intake.has_links"))


def _notes_of_archive(data: bytes, sheet_number: int) -> list[Problem]:
    """Say what a workbook has beside its values, read from its parts and never followed."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        names = archive.namelist()
        notes = [_note(code) for part, code in _PARTS_TOLD if any(part in name for name in names)]
        if "content.xml" in names:
            with archive.open("content.xml") as content:
                formulas = content.read().count(b"table:formula=")
            return notes + ([_note("intake.has_formulas", formulas)] if formulas else [])
        path = _path_of_sheet(archive, sheet_number)
        if path not in names:
            return notes
        hidden, formulas = _counts_in_sheet(archive.read(path))
    notes += [_note("intake.hidden_rows", hidden)] if hidden else []
    return notes + ([_note("intake.has_formulas", formulas)] if formulas else [])


_HIDDEN = re.compile(rb'<row [^>]*\bhidden="(?:1|true)"')
_FORMULA = re.compile(rb"<f[ >/]")


def _counts_in_sheet(sheet: bytes) -> tuple[int, int]:
    return len(_HIDDEN.findall(sheet)), len(_FORMULA.findall(sheet))


def _path_of_sheet(archive: zipfile.ZipFile, number: int) -> str:
    """Return the part of the archive that holds a sheet, by its place (ISO/IEC 29500-1, 18.2)."""
    try:
        with (
            archive.open("xl/workbook.xml") as book,
            archive.open("xl/_rels/workbook.xml.rels") as rels,
        ):
            ids = [_attribute(item, "id") for item in _elements(book, "sheet")]
            targets = {
                item.get("Id", ""): item.get("Target", "")
                for item in _elements(rels, "Relationship")
            }
        target = targets[ids[number]]
    except (KeyError, IndexError, SyntaxError, ValueError):
        return ""
    return target.lstrip("/") if target.startswith("/") else f"xl/{target}"


def _elements(file: Any, name: str) -> Iterator[Element]:
    for _, element in iterparse(file):
        if element.tag.rpartition("}")[2] == name:
            yield element


def _attribute(element: Element, name: str) -> str:
    return next(
        (
            value
            for key, value in element.attrib.items()
            if key.startswith("{") and key.endswith(name)
        ),
        "",
    )
