"""Public holidays of a country, as proposals for a calendar: the days of some years, from published rules."""

from collections.abc import Iterable, Mapping
from datetime import date
from typing import NamedTuple

import holidays

from cadrin.core.errors import Invalid

LANGUAGES = {"en": "en_US", "de": "de"}
MOST_YEARS = 20


class ProposedDay(NamedTuple):
    """A public holiday of one year."""

    on: date
    name: str


def countries() -> Mapping[str, tuple[str, ...]]:
    """Return the countries that have rules, by their letters (ISO 3166-1), with their subdivisions."""
    found = holidays.list_supported_countries(include_aliases=False)
    return {code: tuple(found[code]) for code in sorted(found)}


def public_holidays(
    country: str, subdivision: str, years: Iterable[int], language: str = ""
) -> tuple[ProposedDay, ...]:
    """Return the public holidays of a country, or of a part of it, in order. Raises Invalid.

    >>> public_holidays("NO", "", [2026])[0]
    ProposedDay(on=datetime.date(2026, 1, 1), name="New Year's Day")
    """
    asked = list(years)
    if country not in countries():
        raise Invalid.of("holiday.unknown_country", "country")
    if subdivision and subdivision not in countries()[country]:
        raise Invalid.of("holiday.unknown_country", "subdivision")
    if not 0 < len(asked) <= MOST_YEARS:
        raise Invalid.of("input.too_many", "years", most=MOST_YEARS)
    spoken = LANGUAGES.get(language, "en_US")
    try:
        found = holidays.country_holidays(
            country, subdiv=subdivision or None, years=asked, language=spoken
        )
    except (KeyError, ValueError, NotImplementedError):
        raise Invalid.of("holiday.unknown_country", "country") from None
    return tuple(ProposedDay(day, name) for day, name in sorted(found.items()) if day.year in asked)
