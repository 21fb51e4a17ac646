"""The details of a cardholder, and what may be wrong with them."""

from dataclasses import dataclass, field, replace
from datetime import date, datetime
from typing import Any

from cadrin.core.errors import Problem
from cadrin.core.people.contacts import is_email, problems_with_phones, read_phone
from cadrin.core.people.custom_fields import CustomField, Values, canonical, problems_with_own
from cadrin.core.people.names import NameRule, number_key
from cadrin.core.texts import OF_SEVERAL_LINES, has_invisible
from cadrin.core.validity import Span, Standing, problems_with_span

LONGEST = {
    "number": 20,
    "first_name": 150,
    "last_name": 150,
    "display_override": 150,
    "title": 60,
    "email": 254,
    "language": 10,
    "remarks": 2000,
    "standing_reason": 200,
    "external_id": 100,
}
"""Characters at most, by field."""

LANGUAGES = ("", "en", "de", "fr", "nl", "nb", "da", "sv", "pl", "pt", "es", "it", "uk")
"""What a cardholder may be spoken to in (BCP 47); empty is the site's own."""

MAY_BE_REQUIRED = ("email", "phones", "portrait", "department", "company", "kind", "born_on")
"""What a site may ask of every cardholder."""

OLDEST_YEARS = 120


@dataclass(frozen=True, slots=True)
class NumberRule:
    """How a site numbers its cardholders."""

    prefix: str = "S-"
    width: int = 5
    start: int = 1


@dataclass(frozen=True, slots=True)
class RegisterRules:
    """What a site has decided about its register. ``required`` holds names of `MAY_BE_REQUIRED`."""

    numbers: NumberRule = field(default_factory=NumberRule)
    names: NameRule = field(default_factory=NameRule)
    region: str = "GB"
    required: frozenset[str] = frozenset()
    custom_fields: tuple[CustomField, ...] = ()


@dataclass(frozen=True, slots=True)
class Details:
    """Everything about a cardholder that is neither a card nor access nor an image."""

    number: str
    first_name: str = ""
    last_name: str = ""
    display_override: str = ""
    title: str = ""
    email: str = ""
    phones: tuple[str, ...] = ()
    language: str = ""
    born_on: date | None = None
    remarks: str = ""
    extended_time: bool = False
    department_id: int | None = None
    company_id: int | None = None
    kind_id: int | None = None
    standing: Standing = Standing.ACTIVE
    standing_reason: str = ""
    suspended_until: datetime | None = None
    activation_at: datetime | None = None
    expiry_at: datetime | None = None
    own: Values = field(default_factory=dict)
    external_id: str = ""
    """What another system knows the cardholder by; nobody types it."""

    @property
    def span(self) -> Span:
        return Span(self.activation_at, self.expiry_at)

    def shown(self, rule: NameRule) -> str:
        """Return the display name."""
        return rule.shown(self.first_name, self.last_name, self.display_override)


def problems_with_details(
    details: Details, rules: RegisterRules, today: date
) -> tuple[Problem, ...]:
    """Return everything that is wrong with the details taken by themselves, field by field.
    ``today`` is the site's.
    """
    return (
        *_problems_with_texts(details),
        *problems_with_phones(details.phones, rules.region),
        *_problems_with_dates(details, today),
        *problems_with_own(rules.custom_fields, details.own),
        *missing(details, rules.required),
    )


def missing(details: Details, required: frozenset[str]) -> tuple[Problem, ...]:
    """Say what the site asks for and the details lack; images are not among the details."""
    fields = {
        name: f"{name}_id" if name in ("department", "company", "kind") else name
        for name in MAY_BE_REQUIRED
    }
    return tuple(
        Problem("cardholder.required", name)
        for name, attribute in fields.items()
        if name in required and name != "portrait" and not getattr(details, attribute)
    )


def _problems_with_texts(details: Details) -> list[Problem]:
    problems = [
        Problem("input.too_long", name, {"most": most})
        for name, most in LONGEST.items()
        if len(getattr(details, name)) > most
    ]
    problems += [
        Problem("input.invisible_characters", name)
        for name in LONGEST
        if has_invisible(getattr(details, name), in_lines=name in OF_SEVERAL_LINES)
    ]
    if not number_key(details.number):
        problems.append(Problem("cardholder.number_missing", "number"))
    if not details.shown(NameRule()):
        problems.append(Problem("cardholder.name_missing", "last_name"))
    if details.email and not is_email(details.email):
        problems.append(Problem("cardholder.email_not_readable", "email"))
    if details.language not in LANGUAGES:
        problems.append(Problem("cardholder.language_unknown", "language"))
    return problems


def _problems_with_dates(details: Details, today: date) -> list[Problem]:
    problems = list(problems_with_span(details.span))
    if details.suspended_until and details.standing is not Standing.SUSPENDED:
        problems.append(Problem("cardholder.not_suspended", "suspended_until"))
    born = details.born_on
    if born and not (born <= today and today.year - born.year <= OLDEST_YEARS):
        problems.append(Problem("cardholder.birth_date_unlikely", "born_on"))
    return problems


def tidy(details: Details, rules: RegisterRules) -> Details:
    """Return the details as they are kept: without stray spaces, telephone numbers and own values
    in one form.
    """
    plain: dict[str, Any] = {
        name: " ".join(getattr(details, name).split()) for name in LONGEST if name != "remarks"
    }
    phones = tuple(
        read_phone(phone, rules.region) or phone for phone in details.phones if phone.strip()
    )
    return replace(
        details,
        **plain,
        remarks=details.remarks.strip(),
        phones=tuple(dict.fromkeys(phones)),
        own=canonical(rules.custom_fields, details.own),
    )


def next_number(highest: str | None, rule: NumberRule = NumberRule()) -> str:
    """Return the next free number after the highest in use.

    >>> next_number("S-00179"), next_number(None), next_number("S-99999")
    ('S-00180', 'S-00001', 'S-100000')
    """
    last = int(highest.removeprefix(rule.prefix.upper())) if highest else 0
    return f"{rule.prefix}{max(last + 1, rule.start):0{rule.width}}"
