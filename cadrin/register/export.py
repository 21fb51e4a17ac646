"""Export what is listed, in the order it is listed in."""

import tempfile
from collections.abc import Iterator, Sequence
from datetime import datetime
from typing import IO, Any, NamedTuple, cast
from zoneinfo import ZoneInfo

from cadrin.access.queries import home_site
from cadrin.core.errors import Invalid
from cadrin.core.export.tables import Column, csv_chunks, json_chunks, write_xlsx
from cadrin.core.export.vcard import Person, vcard
from cadrin.core.own_fields import FieldType
from cadrin.core.schedules import zone_named
from cadrin.people.models import OwnField
from cadrin.register.listing import ids_in_order, own_id_in, rows_of
from cadrin.register.selection import Selection, in_steps

COLUMNS = {
    "number": "Number",
    "last_name": "Last name",
    "first_name": "First name",
    "display_name": "Display name",
    "title": "Title",
    "department": "Department",
    "company": "Company",
    "kind": "Kind",
    "email": "E-mail",
    "phones": "Telephone",
    "language": "Language",
    "standing": "Standing",
    "state": "State",
    "readiness": "Readiness",
    "cards": "Cards",
    "groups": "Access groups",
    "activation": "Activation",
    "expiry": "Expiry",
    "remarks": "Remarks",
}
"""Every column of the list, by its key; own fields come after them as ``own.<id>``."""
_NAMED_OTHERWISE = {
    "department": "department_name",
    "company": "company_name",
    "kind": "kind_name",
    "readiness": "gaps",
    "activation": "activation_at",
    "expiry": "expiry_at",
}
_ROWS_AT_ONCE = 1000


class Export(NamedTuple):
    """A file to be sent, piece by piece."""

    chunks: Iterator[bytes]
    content_type: str
    ending: str


def export(kind: str, keys: Sequence[str], selection: Selection, sort: str, at: datetime) -> Export:
    """Write the selected cardholders with these columns. Raises Invalid for a column or a kind that is none."""
    fields = {own.pk: own for own in OwnField.objects.filter(removed_at=None)}
    unknown = [key for key in keys if key not in COLUMNS and own_id_in(key) not in fields]
    if unknown or not keys:
        raise Invalid.of("export.unknown_column", "columns", name=unknown[0][:30] if unknown else "")
    columns = [Column(key, COLUMNS.get(key) or str(fields[own_id_in(key) or 0])) for key in keys]
    rows = _rows(selection, sort, at)
    zone = zone_named(home_site()["zone"])
    texts = ([_text(row, key, fields, zone) for key in keys] for row in rows)
    match kind:
        case "csv":
            return Export((chunk.encode() for chunk in csv_chunks(columns, texts)), "text/csv; charset=utf-8", "csv")
        case "json":
            return Export((chunk.encode() for chunk in json_chunks(columns, texts)), "application/json", "json")
        case "xlsx":
            file = tempfile.TemporaryFile()  # noqa: SIM115 - closed by whoever sends it
            write_xlsx(columns, texts, file)
            file.seek(0)
            return Export(_pieces(file), "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "xlsx")
        case "vcard":
            return Export((vcard(_person(row)).encode() for row in rows), "text/vcard; charset=utf-8", "vcf")
    raise Invalid.of("input.invalid_choice", "kind")


def _rows(selection: Selection, sort: str, at: datetime) -> Iterator[dict[str, Any]]:
    for some in in_steps(ids_in_order(selection, sort, at), _ROWS_AT_ONCE):
        yield from rows_of(some, at)


def _pieces(file: IO[bytes]) -> Iterator[bytes]:
    with file:
        while piece := file.read(1 << 16):
            yield piece


def _text(row: dict[str, Any], key: str, fields: dict[int, OwnField], zone: ZoneInfo) -> str:
    if own_id := own_id_in(key):
        return _own_text(fields[own_id], row["own"].get(str(own_id), ""))
    value = row[_NAMED_OTHERWISE.get(key, key)]
    if isinstance(value, datetime):
        return f"{value.astimezone(zone):%Y-%m-%d %H:%M}"
    if isinstance(value, list):
        return "; ".join(str(one) for one in value)
    return "" if value is None else str(value)


def _own_text(field: OwnField, value: str) -> str:
    if field.type != FieldType.CHOICE:
        return value
    labels = {choice["key"]: choice["labels"].get("en", choice["key"]) for choice in field.choices}
    return cast(str, labels.get(value, value))


def _person(row: dict[str, Any]) -> Person:
    return Person(
        row["number"],
        row["display_name"],
        row["first_name"],
        row["last_name"],
        row["company_name"] or "",
        row["department_name"] or "",
        row["title"],
        row["email"],
        tuple(row["phones"]),
        row["language"],
    )
