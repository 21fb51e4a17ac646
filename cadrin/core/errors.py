"""One family of errors: each carries problems as data, and whoever shows them finds the words."""

import dataclasses
from collections.abc import Iterable, Mapping, Sequence
from typing import Self

Param = str | int | None


@dataclasses.dataclass(frozen=True, slots=True)
class Problem:
    """One thing that is wrong, as data.

    ``field`` is the path of the input at fault, as the API names it (``cards.0.card_number``);
    None means the whole. ``params`` holds only what may be shown to an operator.
    """

    code: str
    field: str | None = None
    params: Mapping[str, Param] = dataclasses.field(default_factory=dict)

    def under(self, path: str) -> "Problem":
        """Return the same problem seen from one level further out."""
        return Problem(
            self.code, path if self.field is None else f"{path}.{self.field}", self.params
        )


class CadrinError(Exception):
    """Root of every error the core and the commands raise on purpose."""

    def __init__(self, problems: Iterable[Problem]) -> None:
        self.problems = tuple(problems)
        super().__init__(", ".join(problem.code for problem in self.problems))

    @property
    def code(self) -> str:
        return self.problems[0].code

    @classmethod
    def of(cls, code: str, field: str | None = None, **params: Param) -> Self:
        return cls([Problem(code, field, params)])


class Invalid(CadrinError):
    """What was given cannot be accepted as it is."""


class NotPermitted(CadrinError):
    """The operator may not do this."""


class NotFound(CadrinError):
    """What was asked for is not there, or no longer."""


class Stale(CadrinError):
    """Somebody else saved in between.

    ``current_version`` is what a new attempt must name; ``since`` tells who changed what, as the
    journal has it, oldest first.
    """

    def __init__(self, current_version: int, since: Sequence[Mapping[str, object]]) -> None:
        super().__init__([Problem("save.stale", None, {"current_version": current_version})])
        self.current_version = current_version
        self.since = tuple(since)
