"""Lists as they come, and an intake that is decided and applied without a worker."""

from dataclasses import replace
from datetime import datetime
from typing import Any

from cadrin.core.intake.choices import Choices, ColumnChoice
from cadrin.intake.commands.deciding import apply_intake, save_choices
from cadrin.intake.commands.taking import take_file
from cadrin.intake.kept_choices import choices_of
from cadrin.intake.models import Intake
from cadrin.intake.queries import rows_of_intake
from cadrin.intake.work import IntakeWork
from cadrin.operators.actor import Actor
from tests.house import NOON

HEADED = "Number;Last name;First name;Department;E-mail;Start\n"


def a_list(*rows: str, headings: str = HEADED) -> bytes:
    """Return a list of a few people, as a spreadsheet writes it."""
    return (headings + "".join(f"{row}\n" for row in rows)).encode()


class List:
    """An intake and what is done about it."""

    def __init__(self, actor: Actor, data: bytes, name: str = "starters.csv") -> None:
        self.actor = actor
        self.id = take_file(actor, name, data, NOON)

    @property
    def kept(self) -> Intake:
        return Intake.objects.get(pk=self.id)

    @property
    def choices(self) -> Choices:
        return choices_of(self.kept.choices)

    @property
    def rows(self) -> dict[str, int]:
        """Return how many rows come to what, without what none comes to."""
        return {state: n for state, n in self.kept.summary["rows"].items() if n}

    @property
    def faults(self) -> dict[str, int]:
        return {fault["code"]: fault["count"] for fault in self.kept.summary["faults"]}

    def targets(self) -> list[str]:
        return [choice.target for _, choice in sorted(self.choices.columns.items())]

    def decide(self, **changes: Any) -> "List":
        choices = replace(self.choices, **changes)
        save_choices(self.actor, self.id, self.kept.version, choices, NOON)
        return self

    def with_column(self, n: int, **changes: Any) -> "List":
        choices = self.choices
        column = replace(choices.columns.get(n, ColumnChoice()), **changes, is_guess=False)
        return self.decide(columns={**choices.columns, n: column})

    def with_defaults(self, **changes: Any) -> "List":
        return self.decide(defaults=replace(self.choices.defaults, **changes))

    def apply(self, at: datetime = NOON) -> "List":
        apply_intake(self.actor, self.id, self.kept.version, at)
        work(at)
        return self

    def shown(self, **filters: Any) -> list[dict[str, Any]]:
        return rows_of_intake(self.actor, self.kept, **filters).rows

    def every_row(self, **filters: Any) -> list[dict[str, Any]]:
        """Return all rows that are asked for, a page after the other."""
        found, after = [], 0
        while True:
            page = rows_of_intake(self.actor, self.kept, after=after, **filters)
            found += page.rows
            if page.following is None:
                return found
            after = page.following


def work(at: datetime = NOON) -> None:
    """Do everything that waits, as the worker does."""
    doing = IntakeWork()
    while doing.step(lambda: at, lambda: True):
        pass
