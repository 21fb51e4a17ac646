"""Telephone numbers and e-mail addresses: read as people write them, kept in one form."""

import re
from functools import lru_cache

import phonenumbers
from email_validator import EmailNotValidError, validate_email

from cadrin.core.errors import Problem

MOST_PHONES = 5
_INTERNAL = re.compile(r"\d{2,5}")
"""An extension of the house's own exchange (common practice): dialled as it is, from inside."""


def read_phone(written: str, region: str) -> str | None:
    """Return a number in international form (ITU-T E.164, grouped as its country does), an
    extension of two to five digits as it is; None when it is none.

    ``region`` (ISO 3166-1, two letters) is what a number without a country code is read in.

    >>> read_phone("020 7946 0018", "GB"), read_phone("+47 22 12 34 56", "GB"), read_phone(" 222", "GB")
    ('+44 20 7946 0018', '+47 22 12 34 56', '222')
    >>> read_phone("2", "GB"), read_phone("222a", "GB")
    (None, None)
    """
    internal = written.strip() if _INTERNAL.fullmatch(written.strip()) else None
    try:
        number = phonenumbers.parse(written, region or None)
    except phonenumbers.NumberParseException:
        return internal
    # "possible", not "valid": a plan of numbers changes faster than what we ship
    if not phonenumbers.is_possible_number(number):
        return internal
    return phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.INTERNATIONAL)


def phone_key(phone: str) -> str:
    """Return the digits under which a telephone number is found and compared."""
    return "".join(character for character in phone if character.isdigit())


@lru_cache(maxsize=20_000)  # a list is judged before it is saved, and again when it is
def is_email(written: str) -> bool:
    """Say whether it is an address of RFC 5322, as mail takes it today; whether it arrives only the
    mail can tell.
    """
    try:
        validate_email(written, check_deliverability=False)
    except EmailNotValidError:
        return False
    return True


def problems_with_phones(phones: tuple[str, ...], region: str) -> tuple[Problem, ...]:
    """Return everything against these telephone numbers, each at its place."""
    problems = [
        Problem("cardholder.phone_not_readable", f"phones.{place}", {"phone": phone[:40]})
        for place, phone in enumerate(phones)
        if read_phone(phone, region) is None
    ]
    if len(phones) > MOST_PHONES:
        problems.append(Problem("input.too_many", "phones", {"most": MOST_PHONES}))
    return tuple(problems)
