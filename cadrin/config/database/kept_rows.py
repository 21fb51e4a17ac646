"""Rows as they are kept, to be put back exactly so later."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from django.db import models
from django.db.models import Q

from cadrin.config.database.inserting import insert_rows

KeptRows = Sequence[Mapping[str, Any]]
"""Rows of one table, by column, as JSON takes them."""


def rows_as_kept(model: type[models.Model], match: Q) -> list[dict[str, Any]]:
    """Return the rows that match, every column of them."""
    fields = [field.attname for field in model._meta.concrete_fields]
    return [
        {name: _plain(value) for name, value in row.items()}
        for row in model._default_manager.filter(match).order_by("pk").values(*fields)
    ]


def _plain(value: Any) -> Any:
    return value.isoformat() if hasattr(value, "isoformat") else value


def put_rows_back(
    model: type[models.Model],
    before: Iterable[Mapping[str, Any]],
    now: Q,
    kept: Sequence[str] = (),
) -> None:
    """Make the rows that match ``now`` those that there were ``before``: the others are deleted, those
    that are gone inserted with their ids, those that differ changed but for the columns ``kept``.

    The caller holds the transaction.
    """
    wanted = {row["id"]: row for row in before}
    there = {row["id"]: row for row in rows_as_kept(model, now)}
    if gone := there.keys() - wanted.keys():
        model._default_manager.filter(pk__in=gone).delete()
    for id_ in wanted.keys() & there.keys():
        changed = {
            name: value
            for name, value in wanted[id_].items()
            if there[id_][name] != value and name not in kept
        }
        if changed:
            model._default_manager.filter(pk=id_).update(
                **{name: _as_field(model, name, value) for name, value in changed.items()}
            )
    missing = [wanted[id_] for id_ in sorted(wanted.keys() - there.keys())]
    if missing:
        names = [field.attname for field in model._meta.concrete_fields]
        insert_rows(
            model,
            [field.name for field in model._meta.concrete_fields],
            ([_as_field(model, name, row[name]) for name in names] for row in missing),
        )


def _as_field(model: type[models.Model], name: str, value: Any) -> Any:
    field = next(field for field in model._meta.concrete_fields if field.attname == name)
    return field.to_python(value) if isinstance(field, models.DateField) and value else value
