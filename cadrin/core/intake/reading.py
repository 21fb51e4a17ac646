"""From the bytes of a file to a table: what kind of file it is, its own bytes say and not its name."""

import re
from collections.abc import Iterator

from cadrin.core.errors import Invalid, Problem
from cadrin.core.intake.delimited import (
    dialect_with,
    guessed_dialect,
    is_cut_off,
    rows_of,
)
from cadrin.core.intake.encodings import CODECS, decoded, guessed_encoding
from cadrin.core.intake.listed import read_json, read_ldif, read_vcards
from cadrin.core.intake.table import MOST_BYTES, FileKind, ReadingChoices, Table
from cadrin.core.intake.workbooks import OLE, problem_with_archive, read_workbook

_ZIP = b"PK"
_PICTURE_OR_PDF = (b"\x89PNG", b"\xff\xd8\xff", b"GIF8", b"%PDF", b"\x7fELF", b"MZ\x90")
_LDIF = re.compile(r"(?:#[^\n]*\n|version:[^\n]*\n|\s)*dn::? ", re.IGNORECASE)
_WORKBOOK_PARTS = (b"xl/workbook.", b"application/vnd.oasis.opendocument.spreadsheet")


def kind_of(data: bytes) -> FileKind:
    """Return what kind of file this is. Raises Invalid for one that holds no table."""
    if not data.strip(b"\0 \t\r\n"):
        raise Invalid.of("intake.empty", "file")
    if len(data) > MOST_BYTES:
        raise Invalid.of("intake.too_large", "file", most=MOST_BYTES // 2**20)
    if data.startswith(_PICTURE_OR_PDF):
        raise Invalid.of("intake.no_table", "file")
    if data.startswith(OLE):
        return FileKind.WORKBOOK
    if data.startswith(_ZIP):
        if problem := problem_with_archive(data):
            raise Invalid([problem])
        return (
            FileKind.WORKBOOK if any(part in data for part in _WORKBOOK_PARTS) else FileKind.PHOTOS
        )
    return _kind_of_text(decoded(data[:4000], guessed_encoding(data)).lstrip())


def _kind_of_text(start: str) -> FileKind:
    if start[:1] in ("{", "["):
        return FileKind.JSON
    if start[:11].upper() == "BEGIN:VCARD":
        return FileKind.VCARD
    return FileKind.LDIF if _LDIF.match(start) else FileKind.DELIMITED


def read_table(data: bytes, choices: ReadingChoices) -> Table:
    """Read a file as a table, by what was decided about it and what it looks like. Raises Invalid."""
    kind = kind_of(data)
    if kind is FileKind.WORKBOOK:
        return read_workbook(data, choices.sheet)
    if kind is FileKind.LDIF:
        return read_ldif(data)
    if kind is FileKind.PHOTOS:
        raise Invalid.of("intake.no_table", "file")
    if choices.encoding and choices.encoding not in CODECS:
        raise Invalid.of("input.invalid_choice", "encoding")
    encoding = choices.encoding or guessed_encoding(data)
    text = decoded(data, encoding)
    if kind is FileKind.JSON:
        return read_json(text)
    if kind is FileKind.VCARD:
        return read_vcards(text)
    return _delimited(text, encoding, choices.delimiter)


def _delimited(text: str, encoding: str, delimiter: str) -> Table:
    if len(delimiter) > 1 or delimiter in ('"', "\r", "\n"):
        raise Invalid.of("input.invalid_choice", "delimiter")
    dialect = dialect_with(delimiter, text) if delimiter else guessed_dialect(text)
    unread = text.count("\N{REPLACEMENT CHARACTER}")
    notes = (Problem("intake.unread_characters", None, {"count": unread}),) if unread else ()

    def rows() -> Iterator[tuple[str, ...]]:
        row: tuple[str, ...] = ()
        number = 0
        for number, row in enumerate(rows_of(text, dialect), 1):  # noqa: B007 - the last is looked at
            yield row
        if is_cut_off(text, dialect, row):
            raise Invalid.of("intake.ends_in_quotes", "file", row=number)

    return Table(FileKind.DELIMITED, rows(), encoding, dialect.delimiter, notes=notes)
