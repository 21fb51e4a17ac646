"""Files that name their fields: JSON, vCard (RFC 6350 and RFC 2426), LDIF (RFC 2849)."""

import io
import json
import re
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

import vobject
from ldif import LDIFParser

from cadrin.core.errors import Invalid
from cadrin.core.intake.table import Cells, FileKind, Table

BETWEEN_SEVERAL = "; "
Record = Mapping[str, str]


def table_of(kind: FileKind, records: Iterable[Record]) -> Table:
    """Return a table with a column for each name that any record has, in the order in which they come."""
    rows = list(records)
    names = list(dict.fromkeys(name for record in rows for name in record))

    def cells() -> Iterator[Cells]:
        yield tuple(names)
        for record in rows:
            yield tuple(record.get(name, "") for name in names)

    return Table(kind, cells(), has_headings=True)


def read_json(text: str) -> Table:
    """Read a list of objects, or an object that holds one. Raises Invalid."""
    try:
        found = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise Invalid.of("intake.not_readable", "file") from error
    if isinstance(found, dict):
        found = next((value for value in found.values() if isinstance(value, list)), [found])
    if not isinstance(found, list) or not all(isinstance(item, dict) for item in found):
        raise Invalid.of("intake.json_is_no_list", "file")
    return table_of(FileKind.JSON, (dict(_flat(item)) for item in found))


def _flat(value: Mapping[str, Any], path: str = "") -> Iterator[tuple[str, str]]:
    for name, inner in value.items():
        here = f"{path}.{name}".strip(".")
        if isinstance(inner, dict):
            yield from _flat(inner, here)
        elif isinstance(inner, list):
            yield here, BETWEEN_SEVERAL.join(map(_plain, inner))
        else:
            yield here, _plain(inner)


def _plain(value: Any) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, dict):
        return " ".join(map(_plain, value.values()))
    return "" if value is None else str(value)


_VCARD_FIELDS = {
    "uid": "uid", "fn": "full_name", "email": "email", "tel": "phone", "title": "title",
    "bday": "born_on", "note": "remarks", "lang": "language",
}  # fmt: skip
_EIGHT_DIGITS = re.compile(r"(\d{4})(\d\d)(\d\d)")


def read_vcards(text: str) -> Table:
    """Read every card of a file; of a property that comes several times, all values. Raises Invalid."""
    try:
        records = [dict(_record(card)) for card in vobject.readComponents(text)]
    except Exception as error:  # its parser raises many kinds, of which it shares no root
        raise Invalid.of("intake.not_readable", "file") from error
    return table_of(FileKind.VCARD, records)


def _record(card: Any) -> Iterator[tuple[str, str]]:
    contents = card.contents
    for name in contents.get("n", ())[:1]:
        yield "last_name", _joined(name.value.family)
        yield "first_name", _joined(name.value.given)
    for organisation in contents.get("org", ())[:1]:
        parts = [str(part) for part in organisation.value]
        yield "company", parts[0] if parts else ""
        yield "department", parts[1] if len(parts) > 1 else ""
    for name, heading in _VCARD_FIELDS.items():
        values = [_vcard_text(name, item.value) for item in contents.get(name, ())]
        if values:
            yield heading, BETWEEN_SEVERAL.join(filter(None, values))


def _vcard_text(name: str, value: Any) -> str:
    text = _joined(value)
    if name == "tel":
        return text.removeprefix("tel:").replace("-", " ")
    if name == "uid":
        return text.removeprefix("urn:uuid:")
    found = _EIGHT_DIGITS.fullmatch(text) if name == "bday" else None
    return "-".join(found.groups()) if found else text


def _joined(value: Any) -> str:
    return " ".join(map(str, value)) if isinstance(value, list | tuple) else str(value or "")


def read_ldif(data: bytes) -> Table:
    """Read the entries of a directory; attributes that point to files or addresses are not followed.
    Raises Invalid.
    """
    try:
        entries = list(LDIFParser(io.BytesIO(data), ignored_attr_types=["objectclass"]).parse())
    except (ValueError, KeyError, IndexError) as error:
        raise Invalid.of("intake.not_readable", "file") from error
    return table_of(
        FileKind.LDIF,
        (
            {"dn": dn}
            | {
                name: BETWEEN_SEVERAL.join(value for value in values if isinstance(value, str))
                for name, values in entry.items()
            }
            for dn, entry in entries
        ),
    )
