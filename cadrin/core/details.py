"""The details of a cardholder, and what may be wrong with them."""

import re
from dataclasses import dataclass
from datetime import datetime

from cadrin.core.errors import Problem
from cadrin.core.names import display_name, number_key
from cadrin.core.validity import Span, Standing, problems_with_span

LONGEST = {
    "number": 20,
    "first_name": 60,
    "last_name": 60,
    "title": 60,
    "email": 254,
    "remarks": 2000,
    "standing_reason": 200,
}
"""Characters at most, by field."""

# enough to catch a slip; whether mail arrives only the mail can tell
_EMAIL = re.compile(r"[^@\s]+@[^@\s.]+(\.[^@\s.]+)+")
# characters that show nothing, or turn round what follows: a name with one looks like another name
_INVISIBLE = re.compile("[\u0000-\u001f\u007f-\u009f\u200b-\u200f\u202a-\u202e\u2060-\u2069\ufeff]")


@dataclass(frozen=True, slots=True)
class Details:
    """Everything about a cardholder that is neither a card nor access."""

    number: str
    first_name: str = ""
    last_name: str = ""
    title: str = ""
    email: str = ""
    remarks: str = ""
    department_id: int | None = None
    company_id: int | None = None
    kind_id: int | None = None
    standing: Standing = Standing.ACTIVE
    standing_reason: str = ""
    suspended_until: datetime | None = None
    activation_at: datetime | None = None
    expiry_at: datetime | None = None

    @property
    def span(self) -> Span:
        return Span(self.activation_at, self.expiry_at)

    @property
    def display_name(self) -> str:
        return display_name(self.first_name, self.last_name)


def problems_with_details(details: Details) -> tuple[Problem, ...]:
    """Give everything that is wrong with the details taken by themselves, field by field."""
    problems = [
        Problem("input.too_long", name, {"most": most})
        for name, most in LONGEST.items()
        if len(getattr(details, name)) > most
    ]
    problems += [
        Problem("input.invisible_characters", name)
        for name in ("number", "first_name", "last_name", "title", "email")
        if _INVISIBLE.search(getattr(details, name))
    ]
    if not number_key(details.number):
        problems.append(Problem("cardholder.number_missing", "number"))
    if not details.display_name:
        problems.append(Problem("cardholder.name_missing", "last_name"))
    if details.email and not _EMAIL.fullmatch(details.email):
        problems.append(Problem("cardholder.email_not_readable", "email"))
    if details.suspended_until and details.standing is not Standing.SUSPENDED:
        problems.append(Problem("cardholder.not_suspended", "suspended_until"))
    problems += problems_with_span(details.span)
    return tuple(problems)


def next_number(highest: str | None, prefix: str = "S-", width: int = 5) -> str:
    """Give the next free number after the highest in use.

    >>> next_number("S-00179"), next_number(None), next_number("S-99999")
    ('S-00180', 'S-00001', 'S-100000')
    """
    last = int(highest.removeprefix(prefix)) if highest else 0
    return f"{prefix}{last + 1:0{width}}"
