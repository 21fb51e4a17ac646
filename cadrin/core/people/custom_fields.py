"""Own fields: fields of a cardholder that the site defined itself.

Values are kept as text in one canonical form: a number as a plain decimal, a date as ISO 8601
writes it, a choice by its key, yes or no as those words. Nothing kept means no value.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal, InvalidOperation
from enum import StrEnum

from cadrin.core.errors import Problem
from cadrin.core.people.names import fold

YES, NO = "yes", "no"
LONGEST_TEXT, LONGEST_LONG_TEXT, LONGEST_NUMBER = 200, 4000, 15


class FieldType(StrEnum):
    TEXT = "text"
    LONG_TEXT = "long_text"
    NUMBER = "number"
    DATE = "date"
    CHOICE = "choice"
    YES_NO = "yes_no"


@dataclass(frozen=True, slots=True)
class CustomField:
    """One field; ``choices`` are the keys of a choice."""

    id: int
    label: str
    type: FieldType
    is_required: bool = False
    is_unique: bool = False
    choices: tuple[str, ...] = ()

    @property
    def path(self) -> str:
        """Name the field as problems and the journal do."""
        return f"own.{self.id}"


Values = Mapping[int, str]
"""Own field to value; a field without a value is left out."""


def _text(longest: int) -> Callable[[CustomField, str], str | Problem]:
    def read(field: CustomField, written: str) -> str | Problem:
        text = written.strip()
        return (
            Problem("input.too_long", field.path, {"most": longest})
            if len(text) > longest
            else text
        )

    return read


def _number(field: CustomField, written: str) -> str | Problem:
    try:
        # a comma is how half of the world writes the decimal point
        number = Decimal("".join(written.split()).replace(",", "."))
    except InvalidOperation:
        return Problem("own.not_a_number", field.path)
    plain = f"{number:f}" if number.is_finite() else ""
    if not plain or len(plain.lstrip("-").replace(".", "")) > LONGEST_NUMBER:
        return Problem("own.not_a_number", field.path)
    return (plain.rstrip("0").rstrip(".") if "." in plain else plain) or "0"


def _date(field: CustomField, written: str) -> str | Problem:
    try:
        return date.fromisoformat(written.strip()).isoformat()
    except ValueError:
        return Problem("own.not_a_date", field.path)


def _choice(field: CustomField, written: str) -> str | Problem:
    return written if written in field.choices else Problem("own.no_such_choice", field.path)


def _yes_no(field: CustomField, written: str) -> str | Problem:
    return written if written in (YES, NO) else Problem("own.not_yes_or_no", field.path)


_READERS = {
    FieldType.TEXT: _text(LONGEST_TEXT),
    FieldType.LONG_TEXT: _text(LONGEST_LONG_TEXT),
    FieldType.NUMBER: _number,
    FieldType.DATE: _date,
    FieldType.CHOICE: _choice,
    FieldType.YES_NO: _yes_no,
}


def read_value(field: CustomField, written: str) -> str | Problem:
    """Return the canonical form of what was written, or what is wrong with it; empty stays empty.

    >>> read_value(CustomField(1, "Depth", FieldType.NUMBER), " 1 250,50 ")
    '1250.5'
    """
    return _READERS[field.type](field, written) if written.strip() else ""


def canonical(fields: Sequence[CustomField], values: Values) -> dict[int, str]:
    """Return the values in canonical form, without the empty and the unreadable ones."""
    read = {field.id: read_value(field, values.get(field.id, "")) for field in fields}
    return {id_: value for id_, value in read.items() if isinstance(value, str) and value}


def problems_with_own(fields: Sequence[CustomField], values: Values) -> tuple[Problem, ...]:
    """Return everything wrong with the values taken by themselves; whether one is unique the
    register knows.
    """
    problems = []
    for field in fields:
        read = read_value(field, values.get(field.id, ""))
        if isinstance(read, Problem):
            problems.append(read)
        elif field.is_required and not read:
            problems.append(Problem("own.missing", field.path, {"label": field.label}))
    known = {field.id for field in fields}
    problems += [Problem("own.no_such_field", f"own.{id_}") for id_ in values if id_ not in known]
    return tuple(problems)


def sort_key(field: CustomField, value: str) -> str:
    """Return the text by which values are found, compared and put in order.

    Numbers are padded so that their texts stand in the order of the numbers, negative ones first.

    >>> depth = CustomField(1, "Depth", FieldType.NUMBER)
    >>> sorted(["10", "9", "-2", "-10", "0.5"], key=lambda value: sort_key(depth, value))
    ['-10', '-2', '0.5', '9', '10']
    """
    if field.type is not FieldType.NUMBER:
        return fold(value)[:LONGEST_TEXT]
    whole, _, fraction = value.lstrip("-").partition(".")
    digits = f"{whole:0>{LONGEST_NUMBER}}.{fraction}"
    if value.startswith("-"):
        # nines' complement, and a sign that sorts after every digit so that a longer fraction comes
        # first
        return "-" + "".join(str(9 - int(c)) if c.isdigit() else c for c in digits) + "~"
    return "0" + digits
