"""Choices as they are kept and sent: plain JSON, by the names of the core's fields."""

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from cadrin.core.intake.choices import (
    Choices,
    ColumnChoice,
    Defaults,
    ForExisting,
    MatchBy,
    Missing,
    Newcomers,
)
from cadrin.core.intake.dates import DateOrder, ShortYears
from cadrin.core.intake.table import ReadingChoices

Plain = Mapping[str, Any]


def as_plain(choices: Choices) -> dict[str, Any]:
    """Return choices as JSON takes them."""
    plain = asdict(choices)
    return plain | {
        "columns": [
            {"column": n, **asdict(column)} for n, column in sorted(choices.columns.items())
        ],
        "left_out": sorted(choices.left_out),
        "cells": [
            {"row": row, "column": column, "text": text}
            for (row, column), text in sorted(choices.cells.items())
        ],
        "same_as": [
            {"row": row, "cardholder": id_} for row, id_ in sorted(choices.same_as.items())
        ],
        "accepted": sorted(choices.accepted),
    }


def choices_of(plain: Plain) -> Choices:
    """Return choices as they were kept; what is missing is undecided."""
    if not plain:
        return Choices()
    return Choices(
        reading=ReadingChoices(**plain["reading"]),
        header_row=plain["header_row"],
        first_row=plain["first_row"],
        columns={column["column"]: _column(column) for column in plain["columns"]},
        defaults=Defaults(
            **plain["defaults"] | {"group_ids": tuple(plain["defaults"]["group_ids"])}
        ),
        match_by=MatchBy(plain["match_by"]),
        match_field=plain["match_field"],
        newcomers=Newcomers(plain["newcomers"]),
        missing=Missing(plain["missing"]),
        missing_department_id=plain["missing_department_id"],
        missing_company_id=plain["missing_company_id"],
        left_out=frozenset(plain["left_out"]),
        cells={(cell["row"], cell["column"]): cell["text"] for cell in plain["cells"]},
        same_as={same["row"]: same["cardholder"] for same in plain["same_as"]},
        accepted=frozenset(plain["accepted"]),
    )


def _column(plain: Plain) -> ColumnChoice:
    return ColumnChoice(
        plain["target"],
        ForExisting(plain["existing"]),
        DateOrder(plain["order"]),
        ShortYears(plain["short_years"]),
        plain["width"],
        dict(plain["replaced"]),
        plain["is_guess"],
    )


def for_another_file(choices: Choices) -> Choices:
    """Return what of choices is about a kind of file, and not about the rows of one."""
    return Choices(
        choices.reading,
        choices.header_row,
        choices.first_row,
        choices.columns,
        choices.defaults,
        choices.match_by,
        choices.match_field,
        choices.newcomers,
        choices.missing,
        choices.missing_department_id,
        choices.missing_company_id,
    )
