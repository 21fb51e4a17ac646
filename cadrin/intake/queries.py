"""Read intakes for the screen: how far they are, what they come to, and their rows."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, NamedTuple

import orjson

from cadrin.core.errors import Problem
from cadrin.core.intake.choices import Choices
from cadrin.core.intake.targets import Target
from cadrin.intake.commands.deciding import intakes_seen, problems_with_applying
from cadrin.intake.judging import RowState
from cadrin.intake.kept_choices import choices_of
from cadrin.intake.models import Intake, IntakeBlock, IntakeMapping
from cadrin.intake.states import AT_WORK, IntakeState
from cadrin.intake.storing import blocks_of, rows_in
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows

ROWS_ON_A_PAGE = 100
_LATEST = 50
SAMPLES = 3


def intakes(actor: Actor) -> Rows:
    """Return the latest intakes that the actor may see, newest first."""
    rows = Intake.objects.filter(intakes_seen(actor)).order_by("-id")[:_LATEST]
    return [in_short(intake) for intake in rows]


def unfinished(actor: Actor) -> Rows:
    """Return the intakes that wait for a person, newest first."""
    waiting = Intake.objects.filter(
        intakes_seen(actor), state__in=[IntakeState.OPEN, *AT_WORK]
    ).order_by("-id")
    return [in_short(intake) for intake in waiting[:_LATEST]]


def in_short(intake: Intake) -> dict[str, Any]:
    """Return what a list of intakes shows of one."""
    rows = intake.summary.get("rows", {})
    return {
        "id": intake.pk,
        "name": intake.name,
        "kind": intake.kind,
        "state": intake.state,
        "at": intake.at,
        "by": intake.operator_name,
        "rows": intake.rows,
        "new": rows.get(RowState.NEW, 0),
        "changed": rows.get(RowState.CHANGED, 0) + rows.get(RowState.MISSING, 0),
        "faulty": rows.get(RowState.FAULTY, 0),
        "done": intake.done,
        "total": intake.total,
        "is_assessed": intake.assessed == intake.version,
        "over_at": intake.over_at,
        "can_be_undone": intake.state == IntakeState.APPLIED and intake.forgotten_at is None,
        "left": intake.result.get("left_count", 0),
    }


def in_full(intake: Intake) -> dict[str, Any]:
    """Return everything about an intake but its rows."""
    is_assessed = intake.assessed == intake.version
    summary: Mapping[str, Any] = intake.summary if is_assessed else {}
    is_open = intake.state == IntakeState.OPEN
    return {
        **in_short(intake),
        "version": intake.version,
        "changed_by": intake.changed_by,
        "changed_at": intake.changed_at,
        "reading": intake.reading,
        "choices": intake.choices,
        "columns": _columns(intake),
        "summary": summary or None,
        "failed": intake.summary.get("failed", ""),
        "problems": problems_with_applying(intake) if is_open else [],
        "result": intake.result,
    }


def _columns(intake: Intake) -> list[dict[str, Any]]:
    headings: Sequence[str] = intake.reading.get("headings", ())
    samples = _samples(intake, len(headings))
    sureness = intake.reading.get("sureness", {})
    return [
        {
            "column": n,
            "heading": heading,
            "samples": samples[n],
            "sureness": sureness.get(str(n), "unknown"),
        }
        for n, heading in enumerate(headings)
    ]


def _samples(intake: Intake, width: int) -> list[list[str]]:
    """Return the first values of each column; of one taken for PINs, none."""
    choices = choices_of(intake.choices)
    found: list[list[str]] = [[] for _ in range(width)]
    block = IntakeBlock.objects.filter(intake=intake, place=0).first()
    secret = choices.column_for(Target.PIN)
    for row, cells in enumerate(rows_in(block) if block else [], 1):
        if row < (choices.first_row or 1):
            continue
        for n, cell in enumerate(cells[:width]):
            text = cell.strip()
            if text and n != secret and len(found[n]) < SAMPLES and text not in found[n]:
                found[n].append(text[:80])
    return found


class RowsPage(NamedTuple):
    """Rows of an intake, and the row to go on from; None after the last."""

    rows: list[dict[str, Any]]
    following: int | None


def rows_of_intake(
    intake: Intake,
    *,
    state: str = "",
    code: str = "",
    column: int | None = None,
    after: int = 0,
    most: int = ROWS_ON_A_PAGE,
) -> RowsPage:
    """Return rows in the order of the file, as they were and what they come to: all, or those in a
    state or with a kind of fault.
    """
    choices = choices_of(intake.choices)
    secret = choices.column_for(Target.PIN)
    found: list[dict[str, Any]] = []
    for place, block in enumerate(_blocks_after(intake, after)):
        cells = {block.first_row + n: row for n, row in enumerate(rows_in(block))}
        outcomes = orjson.loads(block.outcomes) if block.outcomes else _unjudged(cells)
        for told in outcomes:
            row = told["row"]
            if (row and row <= after) or not _is_asked(told, state, code, column):
                continue
            if len(found) == most:
                return RowsPage(found, found[-1]["row"] or None)
            found.append(_shown(told, cells.get(row, ()), choices, secret))
        if place > 0 and not block.sealed and len(found) >= most:
            break
    return RowsPage(found, None)


def _blocks_after(intake: Intake, after: int) -> Iterator[IntakeBlock]:
    for block in blocks_of(intake.pk):
        if block.first_row == 0 or block.first_row + 250 > after:
            yield block


def _unjudged(cells: Mapping[int, Sequence[str]]) -> list[dict[str, Any]]:
    return [
        {
            "row": row,
            "state": "",
            "id": None,
            "name": "",
            "faults": [],
            "changes": {},
            "parts": [],
            "cards": [],
        }
        for row in cells
    ]


def _is_asked(told: Mapping[str, Any], state: str, code: str, column: int | None) -> bool:
    if not state and not code:
        return told["state"] != RowState.BLANK
    if state and told["state"] != RowState(state):
        return False
    return not code or any(
        fault[1] == code and (column is None or fault[0] == column) for fault in told["faults"]
    )


def _shown(
    told: Mapping[str, Any], cells: Sequence[str], choices: Choices, secret: int | None
) -> dict[str, Any]:
    row = told["row"]
    became = {
        n: text
        for n, cell in enumerate(cells)
        if (text := choices.said(row, n, cell)) != cell and n != secret
    }
    return {
        "row": row,
        "state": told["state"],
        "cardholder_id": told["id"],
        "name": told["name"],
        "cells": ["•••" if n == secret and cell else cell[:200] for n, cell in enumerate(cells)],
        "mended": [{"column": n, "text": text} for n, text in sorted(became.items())],
        "faults": [
            {"column": fault[0], "problem": Problem(fault[1], None, fault[2])}
            for fault in told["faults"]
        ],
        "changes": [
            {"field": name, "before": _text(pair[0]), "after": _text(pair[1])}
            for name, pair in told["changes"].items()
        ],
        "parts": [part for part in told["parts"] if part not in told["changes"]],
        "cards": [f"{code}-{number:05}" for _, code, number in told["cards"]],
    }


def _text(value: Any) -> str:
    if isinstance(value, list):
        return ", ".join(map(str, value))
    return "" if value is None else str(value)


def mappings() -> Rows:
    """Return the mappings that were kept, by name."""
    return list(IntakeMapping.objects.order_by("name").values("id", "name", "headings"))
