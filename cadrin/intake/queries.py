"""Read intakes for the screen: how far they are, what they come to, and their rows."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from datetime import date, datetime
from typing import Any, NamedTuple

import orjson

from cadrin.access.queries import group_choices
from cadrin.core.errors import Problem
from cadrin.core.intake.choices import Choices
from cadrin.core.intake.delimited import DELIMITERS
from cadrin.core.intake.encodings import CODECS
from cadrin.core.intake.table import Cells
from cadrin.core.intake.targets import OWN, Target
from cadrin.core.people.names import fold
from cadrin.intake.commands.deciding import intakes_seen, problems_with_applying
from cadrin.intake.commands.taking import may_take
from cadrin.intake.judging import RowState
from cadrin.intake.kept_choices import choices_of
from cadrin.intake.knowing import what_is_known
from cadrin.intake.models import ROWS_IN_A_BLOCK, Intake, IntakeBlock, IntakeMapping, IntakePiece
from cadrin.intake.states import IntakeState
from cadrin.intake.storing import PHOTOS, blocks_of, rows_in
from cadrin.intake.understanding import Understanding
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.lists import companies, custom_fields, departments, kinds

ROWS_ON_A_PAGE = 100
_LATEST = 50
SAMPLES = 3


def intakes(actor: Actor) -> Rows:
    """Return the latest intakes that the actor may see, newest first."""
    rows = Intake.objects.filter(intakes_seen(actor)).order_by("-id")[:_LATEST]
    return [in_short(intake) for intake in rows]


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


def in_full(actor: Actor, intake: Intake) -> dict[str, Any]:
    """Return everything about an intake but its rows; ``targets`` is what the actor may take a column
    for.
    """
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
        "targets": _targets(actor),
        "has_photos": IntakePiece.objects.filter(intake=intake, part=PHOTOS).exists(),
        "summary": summary or None,
        "failed": intake.summary.get("failed", ""),
        "problems": [asdict(p) for p in problems_with_applying(intake)] if is_open else [],
        "result": intake.result,
        "encodings": list(CODECS),
        "delimiters": [*DELIMITERS, " "],
    }


def _targets(actor: Actor) -> list[str]:
    targets = [target.value for target in Target if may_take(actor, target)]
    return targets + [f"{OWN}{field['id']}" for field in custom_fields()]


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
    """Rows of an intake, and where to go on; None after the last."""

    rows: list[dict[str, Any]]
    following: int | None


def rows_of_intake(
    actor: Actor,
    intake: Intake,
    *,
    state: str = "",
    code: str = "",
    column: int | None = None,
    after: int = 0,
    most: int = ROWS_ON_A_PAGE,
) -> RowsPage:
    """Return rows in the order of the file, and then people who are missing from it, as they were and
    what they come to: all, or those in a state or with a kind of fault.

    ``after`` is how many are passed over.
    """
    choices = choices_of(intake.choices)
    words = Words(actor, choices, intake)
    found: list[dict[str, Any]] = []
    for block in blocks_of(intake.pk, after // ROWS_IN_A_BLOCK):
        start = block.place * ROWS_IN_A_BLOCK
        cells: list[Cells] | None = None
        for n, told in enumerate(_outcomes(block, choices)):
            if start + n < after or not _is_asked(told, state, code, column):
                continue
            if len(found) == most:
                return RowsPage(found, start + n)
            if cells is None:  # opened only where one of them is shown
                cells = rows_in(block)
            found.append(_shown(told, cells[n] if cells else (), words))
    return RowsPage(found, None)


def _outcomes(block: IntakeBlock, choices: Choices) -> list[dict[str, Any]]:
    """Return what the rows of a block come to, in order: before they were judged, nothing yet, and
    what stands above the table is blank.
    """
    if block.outcomes:
        return list(orjson.loads(block.outcomes))
    return [
        {
            "row": row,
            "state": "" if row >= (choices.first_row or 1) else RowState.BLANK,
            "id": None,
            "name": "",
            "faults": [],
            "changes": {},
            "parts": [],
            "cards": [],
        }
        for row in range(block.first_row, block.first_row + len(rows_in(block)))
    ]


def _is_asked(told: Mapping[str, Any], state: str, code: str, column: int | None) -> bool:
    if not state and not code:
        return bool(told["state"] != RowState.BLANK)
    if state and told["state"] != state:
        return False
    faults: list[tuple[int, str, Any]] = told["faults"]
    kinds = [place for place, kind, _ in faults if kind == code]
    return not code or (bool(kinds) and (column is None or column in kinds))


class Words:
    """What cells came to, in words, for the rows that are looked at."""

    def __init__(self, actor: Actor, choices: Choices, intake: Intake) -> None:
        self.choices = choices
        self.secret = choices.column_for(Target.PIN)
        self._known = what_is_known(actor, choices, intake.at)
        self._understanding = Understanding(choices, self._known, intake.reading["headings"])
        self._names = {
            Target.DEPARTMENT: _names(departments(actor)),
            Target.COMPANY: _names(companies(actor)),
            Target.KIND: _names(kinds()),
            Target.GROUPS: _names(group_choices(actor)),
        }

    def mended(self, row: int, cells: Sequence[str]) -> dict[int, str]:
        """Return what cells were mended to say."""
        after = self._understanding.mended(row, tuple(cells))
        padded = (*cells, *[""] * (len(after) - len(cells)))
        return {
            n: text
            for n, (text, cell) in enumerate(zip(after, padded, strict=True))
            if text != cell and n != self.secret
        }

    def became(self, row: int, cells: Sequence[str]) -> dict[int, str]:
        """Return what cells are taken for, where that reads otherwise than they do."""
        after = self._understanding.mended(row, tuple(cells))
        found = {}
        for n, (target, reader) in self._understanding.columns.items():
            cell = after[n] if n < len(after) else ""
            if n == self.secret or not cell:
                continue
            value = reader.read(cell)
            text = "" if isinstance(value, Problem) else self._worded(target, value)
            if text and fold(text) != fold(cell):
                found[n] = text
        return found

    def _worded(self, target: str, value: Any) -> str:
        if isinstance(value, datetime):
            at = value.astimezone(self._known.zone)
            return f"{at:%Y-%m-%d %H:%M}"
        if isinstance(value, date):
            return value.isoformat()
        names = self._names.get(Target(target)) if not target.startswith(OWN) else None
        if names is not None:
            return ", ".join(names.get(id_, "") for id_ in value)
        if target == Target.CARD:
            return ", ".join(f"{code}-{number:05}" for _, code, number in value)
        if isinstance(value, bool) or value is None:
            return ""
        return ", ".join(value) if isinstance(value, tuple) else str(value)


def _names(rows: Rows) -> dict[int, str]:
    return {row["id"]: row["name"] for row in rows}


def _shown(told: Mapping[str, Any], cells: Sequence[str], words: Words) -> dict[str, Any]:
    row, secret = told["row"], words.secret
    return {
        "row": row,
        "state": told["state"],
        "cardholder_id": told["id"],
        "name": told["name"],
        "cells": ["•••" if n == secret and cell else cell[:200] for n, cell in enumerate(cells)],
        "mended": _told(words.mended(row, cells)),
        "became": _told(words.became(row, cells)),
        "faults": [
            {"column": fault[0], "problem": asdict(Problem(fault[1], None, fault[2]))}
            for fault in told["faults"]
        ],
        "changes": [
            {"field": name, "before": _text(pair[0]), "after": _text(pair[1])}
            for name, pair in told["changes"].items()
        ],
        "parts": [part for part in told["parts"] if part not in told["changes"]],
        "cards": [f"{code}-{number:05}" for _, code, number in told["cards"]],
    }


def _told(texts: Mapping[int, str]) -> list[dict[str, Any]]:
    return [{"column": n, "text": text} for n, text in sorted(texts.items())]


def _text(value: Any) -> str:
    if isinstance(value, list):
        return ", ".join(map(str, value))
    return "" if value is None else str(value)


def mappings() -> Rows:
    """Return the mappings that were kept, by name."""
    return list(IntakeMapping.objects.order_by("name").values("id", "name", "headings"))
