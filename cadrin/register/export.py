"""Export what is listed, in the order it is listed in."""

import tempfile
from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from typing import IO, Any, NamedTuple, cast
from zoneinfo import ZoneInfo

from django.db import transaction

from cadrin.core.errors import Invalid
from cadrin.core.export.tables import Column, csv_chunks, json_chunks, write_xlsx
from cadrin.core.export.vcard import Person, vcard
from cadrin.core.people.custom_fields import FieldType
from cadrin.core.schedules import zone_named
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.settings import REGISTER
from cadrin.people.lists import custom_fields
from cadrin.register.listing import ids_in_order, own_id_in, rows_of
from cadrin.register.selection import Selection, in_steps
from cadrin.sites.queries import home_site

KINDS = ("csv", "xlsx", "json", "vcard")
COLUMNS = {
    "number": {"en": "Number", "de": "Nummer"},
    "last_name": {"en": "Last name", "de": "Nachname"},
    "first_name": {"en": "First name", "de": "Vorname"},
    "display_name": {"en": "Display name", "de": "Anzeigename"},
    "title": {"en": "Title", "de": "Funktion"},
    "department": {"en": "Department", "de": "Abteilung"},
    "company": {"en": "Company", "de": "Firma"},
    "kind": {"en": "Kind", "de": "Art"},
    "email": {"en": "E-mail", "de": "E-Mail"},
    "phones": {"en": "Telephone", "de": "Telefon"},
    "language": {"en": "Language", "de": "Sprache"},
    "standing": {"en": "Standing", "de": "Stand"},
    "state": {"en": "State", "de": "Zustand"},
    "readiness": {"en": "Readiness", "de": "Bereitschaft"},
    "cards": {"en": "Cards", "de": "Karten"},
    "groups": {"en": "Access groups", "de": "Zutrittsgruppen"},
    "activation": {"en": "Activation", "de": "Gültig ab"},
    "expiry": {"en": "Expiry", "de": "Gültig bis"},
    "remarks": {"en": "Remarks", "de": "Bemerkungen"},
}
"""Every column of the list, by its key, as each language heads it; own fields come after them as
``own.<id>``.
"""
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


class Wanted(NamedTuple):
    """What an operator wants exported: whom, which columns, in what order, and as what."""

    kind: str
    columns: tuple[str, ...]
    selection: Selection
    sort: str


def export(actor: Actor, wanted: Wanted, at: datetime) -> Export:
    """Write the selected cardholders with these columns, headed in the actor's language, and say so
    in the journal.

    Raises Invalid for a column, an order or a kind that is none, or NotPermitted.
    """
    actor.require(Permission.EXPORT)
    kind, keys = wanted.kind, wanted.columns
    fields = {row["id"]: row for row in custom_fields()}
    unknown = [key for key in keys if key not in COLUMNS and own_id_in(key) not in fields]
    if unknown or not keys:
        raise Invalid.of(
            "export.unknown_column", "columns", name=unknown[0][:30] if unknown else ""
        )
    columns = [Column(key, _heading(key, fields, actor.language)) for key in keys]
    if kind not in KINDS:
        raise Invalid.of("input.invalid_choice", "kind")
    ids = ids_in_order(actor, wanted.selection, wanted.sort, at)
    _record(actor, wanted, len(ids), at)
    rows = _rows(actor, ids, at, is_judged="readiness" in keys)
    if kind == "vcard":
        cards = (vcard(_person(row)).encode() for row in rows)
        return Export(cards, "text/vcard; charset=utf-8", "vcf")
    zone = zone_named(home_site()["zone"])
    texts = ([_text(row, key, fields, zone, actor.language) for key in keys] for row in rows)
    return _table(kind, columns, texts)


def export_table(
    actor: Actor,
    kind: str,
    name: str,
    headings: Sequence[str],
    rows: Sequence[Sequence[str]],
    at: datetime,
) -> Export:
    """Write a table as it stands on the operator's screen, and say so in the journal.

    Raises Invalid or NotPermitted.
    """
    actor.require(Permission.EXPORT)
    if any(len(row) != len(headings) for row in rows):
        raise Invalid.of("export.ragged", "rows")
    changes = {"kind": (None, kind), "name": (None, name), "rows": (None, len(rows))}
    with transaction.atomic():
        record(actor, at, [Act("register.table_exported", (About(REGISTER, 1),), changes)])
    columns = [Column(str(place), heading) for place, heading in enumerate(headings)]
    return _table(kind, columns, rows, name)


def _table(
    kind: str,
    columns: Sequence[Column],
    texts: Iterable[Sequence[str]],
    title: str = "Cardholders",
) -> Export:
    match kind:
        case "csv":
            return Export(
                (chunk.encode() for chunk in csv_chunks(columns, texts)),
                "text/csv; charset=utf-8",
                "csv",
            )
        case "json":
            return Export(
                (chunk.encode() for chunk in json_chunks(columns, texts)),
                "application/json",
                "json",
            )
        case "xlsx":
            file = tempfile.TemporaryFile()  # noqa: SIM115 - closed by whoever sends it
            write_xlsx(columns, texts, file, title)
            file.seek(0)
            return Export(
                _pieces(file),
                "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
                "xlsx",
            )
    raise AssertionError(kind)  # every member of KINDS has its case


@transaction.atomic
def _record(actor: Actor, wanted: Wanted, count: int, at: datetime) -> None:
    changes = {
        "kind": (None, wanted.kind),
        "people": (None, count),
        "columns": (None, list(wanted.columns)),
    }
    record(actor, at, [Act("register.exported", (About(REGISTER, 1),), changes)])


def _rows(
    actor: Actor, ids: list[int], at: datetime, *, is_judged: bool
) -> Iterator[dict[str, Any]]:
    for some in in_steps(ids, _ROWS_AT_ONCE):
        yield from rows_of(actor, some, at, is_judged=is_judged)


def _heading(key: str, fields: Mapping[int, Mapping[str, Any]], language: str) -> str:
    own_id = own_id_in(key)
    if own_id is None:
        return COLUMNS[key][language]
    labels = fields[own_id]["labels"]
    return str(labels.get(language) or next(iter(labels.values()), own_id))


def _pieces(file: IO[bytes]) -> Iterator[bytes]:
    with file:
        while piece := file.read(1 << 16):
            yield piece


def _text(
    row: dict[str, Any],
    key: str,
    fields: Mapping[int, Mapping[str, Any]],
    zone: ZoneInfo,
    language: str,
) -> str:
    if own_id := own_id_in(key):
        return _own_text(fields[own_id], row["own"].get(str(own_id), ""), language)
    value = row[_NAMED_OTHERWISE.get(key, key)]
    if isinstance(value, datetime):
        return f"{value.astimezone(zone):%Y-%m-%d %H:%M}"
    if isinstance(value, list):
        return "; ".join(str(item) for item in value)
    return "" if value is None else str(value)


def _own_text(field: Mapping[str, Any], value: str, language: str) -> str:
    if field["type"] != FieldType.CHOICE:
        return value
    labels = {
        choice["key"]: choice["labels"].get(language) or choice["labels"].get("en", choice["key"])
        for choice in field["choices"]
    }
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
