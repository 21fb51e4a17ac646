"""Insert many rows by hand: making an object and a statement for each costs ten times the insert."""

from collections.abc import Callable, Iterable, Sequence
from typing import Any

from django.db import connection, models

from cadrin.config.database.asking import database

Prepare = Callable[[Any], Any]


def insert_rows(
    model: type[models.Model],
    names: Sequence[str],
    rows: Iterable[Sequence[Any]],
    *,
    but_known: bool = False,
) -> None:
    """Insert rows of the named columns, as a model's fields keep them; every column without a
    default of the database must be named. The caller holds the transaction. With ``but_known`` a
    row that is there already is passed over.
    """
    listed = list(rows)
    if not listed:
        return
    fields = [model._meta.get_field(name) for name in names]
    columns = ", ".join(f'"{field.column}"' for field in fields)  # type: ignore[union-attr]
    marks = ", ".join(["%s"] * len(fields))
    statement = f'INSERT INTO "{model._meta.db_table}" ({columns}) VALUES ({marks})'  # noqa: S608
    if but_known:
        statement += " ON CONFLICT DO NOTHING"
    with connection.cursor() as cursor:
        cursor.executemany(statement, list(_as_kept(fields, listed)))


def _as_kept(fields: Sequence[Any], rows: Iterable[Sequence[Any]]) -> Iterable[Sequence[Any]]:
    prepare = [(place, made) for place, field in enumerate(fields) if (made := _prepare(field))]
    if not prepare:
        return rows
    return (_row_as_kept(prepare, list(row)) for row in rows)


def _row_as_kept(prepare: Sequence[tuple[int, Prepare]], row: list[Any]) -> list[Any]:
    for place, as_kept in prepare:
        if row[place] is not None:
            row[place] = as_kept(row[place])
    return row


def insert_objects(objects: Sequence[models.Model]) -> None:
    """Insert new objects of one model, and give them their ids."""
    if not objects:
        return
    model = type(objects[0])
    ids = database().take_ids(model._meta.db_table, len(objects))
    for id_, made in zip(ids, objects, strict=True):
        made.pk = id_
    names = [field.attname for field in model._meta.concrete_fields]
    insert_rows(model, names, ([getattr(made, name) for name in names] for made in objects))
    for made in objects:
        made._state.adding = False


def _prepare(field: Any) -> Prepare | None:
    """Return what makes a value one that the database takes; None where it is one already."""
    if isinstance(field, models.JSONField):
        return database().json_as_kept
    if isinstance(field, models.DateTimeField):
        return connection.ops.adapt_datetimefield_value
    if isinstance(field, models.DateField):
        return connection.ops.adapt_datefield_value
    return None
