"""What each row says, by what its columns are taken for."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from cadrin.core.errors import Param, Problem
from cadrin.core.intake.cells import ColumnReader, Known
from cadrin.core.intake.choices import Choices, ForExisting
from cadrin.core.intake.delimited import problem_with_cell
from cadrin.core.intake.table import Cells
from cadrin.core.intake.targets import Target
from cadrin.core.texts import INVISIBLE

ROW = -1
"""Where a fault is that belongs to no column."""
_GATHERED = frozenset({Target.PHONE, Target.GROUPS, Target.CARD, Target.PLATE})
INVISIBLE_CHARACTERS = "input.invisible_characters"


class Fault(NamedTuple):
    """What stands against a row, at a column."""

    column: int
    code: str
    params: Mapping[str, Param] = {}

    @classmethod
    def of(cls, column: int, problem: Problem) -> "Fault":
        return cls(column, problem.code, problem.params)


@dataclass(slots=True)
class RowSaid:
    """A row: what it says, by target, and what could not be read of it."""

    row: int
    cells: Cells
    values: dict[str, Any] = field(default_factory=dict)
    faults: list[Fault] = field(default_factory=list)

    @property
    def is_blank(self) -> bool:
        return not any(cell.strip() for cell in self.cells)


class Understanding:
    """Reads the rows of a file by what was decided about its columns."""

    def __init__(self, choices: Choices, known: Known, headings: Sequence[str]) -> None:
        self.choices, self.known = choices, known
        self.columns = {
            n: (choice.target, ColumnReader(choice, known))
            for n, choice in choices.columns.items()
            if choice.target
        }
        self.policies = {
            choice.target: choice.existing for choice in choices.columns.values() if choice.target
        }
        self._width = len(headings)
        self._strips = INVISIBLE_CHARACTERS in choices.accepted

    def policy(self, target: str) -> ForExisting:
        return self.policies.get(target, ForExisting.OVERWRITE)

    def read(self, row: int, cells: Cells) -> RowSaid:
        """Return what a row says."""
        said = RowSaid(row, self.mended(row, cells))
        if len(said.cells) > self._width and any(said.cells[self._width :]):
            told: dict[str, Param] = {"cells": len(said.cells), "headings": self._width}
            said.faults.append(Fault(ROW, "intake.too_many_cells", told))
        for n, (target, reader) in self.columns.items():
            cell = said.cells[n] if n < len(said.cells) else ""
            if not cell:
                continue
            if problem := problem_with_cell(cell):
                said.faults.append(Fault.of(n, problem))
                continue
            value = reader.read(cell)
            if isinstance(value, Problem):
                said.faults.append(Fault.of(n, value))
            elif value is None or value == ():
                continue
            elif target in _GATHERED and target in said.values:
                said.values[target] = (*said.values[target], *value)
            else:
                said.values[target] = value
        self._join_card(said)
        return said

    def mended(self, row: int, cells: Cells) -> Cells:
        """Return the cells of a row as they are taken to be."""
        choices = self.choices
        if self._strips:
            cells = tuple(INVISIBLE.sub("", cell) for cell in cells)
        if not choices.cells and not any(c.replaced for c in choices.columns.values()):
            return cells
        width = max(len(cells), *(n + 1 for n in choices.columns), 0)
        padded = (*cells, *[""] * (width - len(cells)))
        return tuple(choices.said(row, n, cell) for n, cell in enumerate(padded))

    def _join_card(self, said: RowSaid) -> None:
        """Make one card of its number and its facility code, where they stand in columns of their own."""
        code = said.values.pop(Target.CARD_FACILITY, self.known.facility_code)
        number = said.values.pop(Target.CARD_NUMBER, None)
        if number is None:
            return
        column = self.choices.column_for(Target.CARD_NUMBER)
        format_id = self.known.format_id
        layout = self.known.formats.get(format_id or 0)
        if format_id is None or layout is None:
            said.faults.append(Fault(column or 0, "intake.no_format"))
        elif layout.facility_code and code is None:
            said.faults.append(Fault(column or 0, "intake.no_facility_code"))
        else:
            card = (format_id, code if layout.facility_code else 0, number)
            said.values[Target.CARD] = (*said.values.get(Target.CARD, ()), card)
