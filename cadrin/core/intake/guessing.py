"""What the columns of a table most likely are: by their headings and by what is in them."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from cadrin.core.errors import Problem
from cadrin.core.intake.cells import ColumnReader, Known
from cadrin.core.intake.choices import ColumnChoice
from cadrin.core.intake.dates import DateRule, ShortYears, order_in, read_day
from cadrin.core.intake.table import Cells
from cadrin.core.intake.targets import (
    DERIVED,
    OWN,
    SEVERAL_COLUMNS,
    TARGET_OF_HEADING,
    Target,
    heading_key,
)
from cadrin.core.people.contacts import is_email, read_phone
from cadrin.core.people.names import fold

SAMPLED = 200
"""Rows that are looked at."""
_MOST = 0.6
"""The share of a column's cells that must look like something."""


class Sureness(StrEnum):
    """How sure a guess is: heading and contents agree, one of them says so, or nothing does."""

    SURE = "sure"
    LIKELY = "likely"
    UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True)
class Guess:
    choice: ColumnChoice
    sureness: Sureness


def guessed_header_row(rows: Sequence[Cells]) -> int:
    """Return which row holds the headings, from 1, or 0 for none.

    The first row that has as many cells as its followers and of which some are known headings; else
    the first row, where it has no number, date or address in it and the next ones have.
    """
    looked_at = rows[:30]
    width = max((sum(map(bool, row)) for row in looked_at), default=0)
    for number, row in enumerate(looked_at, 1):
        known = sum(heading_key(cell) in TARGET_OF_HEADING for cell in row)
        if known >= 2 or (known and sum(map(bool, row)) <= 2 and width <= 2):
            return number
    first = next((row for row in looked_at if any(row)), ())
    has_values = any(any(c.isdigit() for c in cell) or "@" in cell for cell in first)
    return 0 if has_values or not first else list(looked_at).index(first) + 1


def guessed_columns(
    headings: Cells, rows: Sequence[Cells], known: Known, today: int
) -> list[Guess]:
    """Return a guess for each column; two columns are never guessed to be the same single thing."""
    width = max([len(headings), *map(len, rows)], default=0)
    taken: set[str] = set()
    guesses: dict[int, Guess] = {}
    by_heading = [_target_of(headings[n], known) if n < len(headings) else "" for n in range(width)]
    columns = [
        [row[n].strip() for row in rows if n < len(row) and row[n].strip()] for n in range(width)
    ]
    if Target.FIRST_NAME in by_heading and Target.LAST_NAME not in by_heading:
        # beside a first name, what is headed "Name" is the last one
        by_heading = [Target.LAST_NAME if t == Target.FULL_NAME else t for t in by_heading]
    # those with a known heading choose first
    for n in sorted(range(width), key=lambda n: not by_heading[n]):
        is_derived = n < len(headings) and heading_key(headings[n]) in DERIVED
        target, sureness = (
            ("", Sureness.SURE) if is_derived else _guess(by_heading[n], columns[n], known, taken)
        )
        if target and target not in SEVERAL_COLUMNS and target in taken:
            target, sureness = "", Sureness.UNKNOWN
        taken.add(target)
        guesses[n] = Guess(_with_dates(target, columns[n]), sureness)
    return [guesses[n] for n in range(width)]


def _target_of(heading: str, known: Known) -> str:
    key = heading_key(heading)
    for field in known.custom_fields.values():
        if heading_key(field.label) == key:
            return f"{OWN}{field.id}"
    return TARGET_OF_HEADING.get(key, "") if key else ""


def _guess(
    by_heading: str, values: list[str], known: Known, taken: set[str]
) -> tuple[str, Sureness]:
    if by_heading:
        fits = not values or _share(_reads_as(by_heading, known), values) >= _MOST
        return by_heading, Sureness.SURE if fits else Sureness.LIKELY
    if not values:
        return "", Sureness.UNKNOWN
    for target, looks in _LOOKS:
        if target not in taken and _share(_seeing(looks, known), values) >= _MOST:
            return target, Sureness.LIKELY
    return "", Sureness.UNKNOWN


def _seeing(looks: Callable[[str, Known], bool], known: Known) -> Callable[[str], bool]:
    return lambda cell: looks(cell, known)


def _share(fits: Callable[[str], bool], values: list[str]) -> float:
    return sum(map(fits, values)) / len(values) if values else 0.0


def _reads_as(target: str, known: Known) -> Callable[[str], bool]:
    # where day and month stand is a matter of its own, and no reason for doubt
    reader = ColumnReader(_with_dates(target, []), known)
    asked = ("intake.date_ambiguous", "intake.year_short", "intake.card_ambiguous")

    def reads(cell: str) -> bool:
        found = reader.read(cell)
        if target == Target.EMAIL:
            return is_email(cell)
        return not isinstance(found, Problem) or found.code in asked

    return reads


def _is_day(cell: str, known: Known) -> bool:
    found = read_day(cell, DateRule(known.this_year, short_years=ShortYears.PAST))
    return not isinstance(found, Problem) or found.code == "intake.date_ambiguous"


def _was_long_ago(cell: str, known: Known) -> bool:
    digits = [
        part for part in cell.replace("/", ".").replace("-", ".").split(".") if len(part) == 4
    ]
    return _is_day(cell, known) and any(
        part.isdigit() and int(part) < known.this_year - 13 for part in digits
    )


_LOOKS: tuple[tuple[Target, Callable[[str, Known], bool]], ...] = (
    (Target.EMAIL, lambda cell, known: "@" in cell and is_email(cell)),
    (Target.DEPARTMENT, lambda cell, known: fold(cell) in known.departments),
    (Target.COMPANY, lambda cell, known: fold(cell) in known.companies),
    (Target.KIND, lambda cell, known: fold(cell) in known.kinds),
    (Target.GROUPS, lambda cell, known: fold(cell.split(";")[0]) in known.groups),
    (Target.BORN_ON, _was_long_ago),
    (Target.ACTIVATION, _is_day),
    (Target.EXPIRY, _is_day),
    (Target.PHOTO, lambda cell, known: cell.lower().endswith((".jpg", ".jpeg", ".png", ".heic"))),
    (
        Target.PHONE,
        lambda cell, known: cell[:1] in "+0(" and (read_phone(cell, "GB") or "")[:1] == "+",
    ),
    (
        Target.CARD,
        lambda cell, known: any(c.isdigit() for c in cell) and len(known.explain(cell)) == 1,
    ),
)
"""What cells without a known heading look like, the plainest first."""


def _with_dates(target: str, values: list[str]) -> ColumnChoice:
    """Return the choice for a column, with the order of its dates where they show it."""
    return ColumnChoice(target, order=order_in(values))
