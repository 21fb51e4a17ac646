"""The rows with faults as a file like the one that came, with a column that says why."""

import csv
import io
from collections.abc import Iterator
from typing import Any

import orjson

from cadrin.core.export.tables import BYTE_ORDER_MARK, as_written, harmless
from cadrin.core.intake.targets import Target
from cadrin.intake.judging import RowState
from cadrin.intake.kept_choices import choices_of
from cadrin.intake.models import Intake
from cadrin.intake.storing import blocks_of, rows_in

REASONS = {"en": "Reasons", "de": "Gründe"}
"""Heading of the column; a column so headed is left aside when the file comes again."""


def faults_as_csv(intake: Intake, language: str) -> Iterator[bytes]:
    """Yield the file, a piece for each block: headings, and the rows with faults as they stand now.

    PINs are left out: nobody gets them back out of here.
    """
    choices = choices_of(intake.choices)
    secret = choices.column_for(Target.PIN)
    headings: list[str] = intake.reading["headings"]
    between = intake.reading.get("delimiter") or ","
    yield _written(
        [[*map(harmless, headings), REASONS.get(language, REASONS["en"])]], between, BYTE_ORDER_MARK
    )
    for block in blocks_of(intake.pk):
        told = orjson.loads(block.outcomes) if block.outcomes else []
        faulty = {row["row"]: row["faults"] for row in told if row["state"] == RowState.FAULTY}
        lines = []
        for n, cells in enumerate(rows_in(block) if faulty else []):
            row = block.first_row + n
            if row in faulty:
                padded = [*cells, *[""] * (len(headings) - len(cells))]
                said = [
                    "" if column == secret else choices.said(row, column, cell)
                    for column, cell in enumerate(padded)
                ]
                lines.append(
                    [
                        *(harmless(as_written(cell)) for cell in said),
                        _reasons(faulty[row], headings),
                    ]
                )
        if lines:
            yield _written(lines, between)


def _reasons(faults: list[Any], headings: list[str]) -> str:
    told = []
    for column, code, params in faults:
        place = headings[column] if 0 <= column < len(headings) else ""
        text = str(params.get("text", params.get("name", "")))
        told.append(
            " ".join(
                part for part in (place, code.partition(".")[2].replace("_", " "), text) if part
            )
        )
    return "; ".join(told)


def _written(lines: list[list[str]], between: str, begins: str = "") -> bytes:
    text = io.StringIO()
    csv.writer(text, delimiter=between).writerows(lines)
    return (begins + text.getvalue()).encode()
