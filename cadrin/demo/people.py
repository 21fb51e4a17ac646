"""The people of the demo: the same ones every time, with dates relative to the day of loading."""

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from datetime import date, datetime, time, timedelta
from itertools import cycle
from random import Random
from typing import Any
from zoneinfo import ZoneInfo

from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.schedules import Hours, zone_named
from cadrin.core.validity import Standing
from cadrin.credentials.card_draft import CardDraft
from cadrin.demo.scenario import (
    COMPANIES,
    CONTRACTORS,
    DEPARTED,
    DEPARTMENTS,
    FIRST_NAMES,
    LAST_NAMES,
    VOLUNTEERS,
    ZONE,
)

SEED = 26
FACILITY_CODE = 87
FIRST_CARD = 4601
DAY = timedelta(days=1)
CLEANING = tuple(Hours(day, 17 * 60, 21 * 60) for day in range(6))


@dataclass
class Person:
    """A cardholder to be; the names of department, company, kind and groups are the scenario's."""

    first_name: str
    last_name: str
    department: str
    company: str = COMPANIES[0]
    kind: str = "Employee"
    title: str = ""
    remarks: str = ""
    standing: Standing = Standing.ACTIVE
    standing_reason: str = ""
    activation_at: datetime | None = None
    expiry_at: datetime | None = None
    groups: tuple[str, ...] = ()
    group_expiry_at: datetime | None = None
    cards: list[CardDraft] = field(default_factory=list)
    card_terms: dict[str, Any] = field(default_factory=dict)


class _Days:
    """Instants of the site's calendar around the day of loading."""

    def __init__(self, now: datetime) -> None:
        self.zone: ZoneInfo = zone_named(ZONE)
        self.today: date = now.astimezone(self.zone).date()

    def at(self, days: int, hour: int = 0) -> datetime:
        return datetime.combine(self.today + days * DAY, time(hour), self.zone)

    def next_monday(self) -> datetime:
        return self.at(7 - self.today.weekday(), 8)

    def clocks_go_back(self) -> datetime:
        """Return 01:30 on the next day when the clocks go back, the second time that it
        is so late.
        """
        day = self.today
        while (
            self._noon(day).utcoffset() == self._noon(day - DAY).utcoffset()
            or self._noon(day).dst()
        ):
            day += DAY
        return datetime.combine(day, time(1, 30, fold=1), self.zone)

    def _noon(self, day: date) -> datetime:
        return datetime.combine(day, time(12), self.zone)


def people(now: datetime) -> list[Person]:
    """Return everybody in the order of their numbers: about 180, the stories among them."""
    random, days = Random(SEED), _Days(now)  # noqa: S311 - the demo must be the same every time
    names = _names(random)
    staff = [
        Person(*next(names), department=place.name, groups=place.groups)
        for place in DEPARTMENTS
        for _ in range(place.people)
    ]
    random.shuffle(staff)
    everybody = [
        *staff,
        *_contractors(names, days),
        *_volunteers(names, days),
        *_departed(names, days),
    ]
    for number, person in enumerate(everybody, start=FIRST_CARD):
        if person.standing is not Standing.DEPARTED:
            person.cards.append(CardDraft(0, FACILITY_CODE, number, **person.card_terms))
    _tell_stories(staff, days)
    return [*everybody, *_posts_and_newcomers(names, days)]


def _names(random: Random) -> Iterator[tuple[str, str]]:
    pairs = [(first, last) for first in FIRST_NAMES for last in LAST_NAMES]
    random.shuffle(pairs)
    return iter(pairs)


def _contractors(names: Iterator[tuple[str, str]], days: _Days) -> Iterator[Person]:
    for place, company in zip(range(CONTRACTORS), cycle(COMPANIES[1:])):
        groups = ("Everybody by day", "Pumps") if company == COMPANIES[1] else ("Everybody by day",)
        person = Person(
            *next(names), department="Estates", company=company, kind="Contractor", groups=groups
        )
        person.expiry_at = days.clocks_go_back() if place == 0 else days.at(3 + 21 * place, 18)
        person.remarks = "Ends within the hour that the clocks repeat." if place == 0 else ""
        if company == COMPANIES[2]:
            person.card_terms = {"hours": CLEANING, "zone": ZONE, "label": "Evenings"}
        elif place == 2:
            person.card_terms = {"use_limit": 20}
        yield person


def _volunteers(names: Iterator[tuple[str, str]], days: _Days) -> Iterator[Person]:
    for place in range(VOLUNTEERS):
        person = Person(
            *next(names), department="Visitors' Hall", kind="Volunteer", groups=("Volunteers",)
        )
        begins = -60 + 10 * (place // 2)
        person.activation_at, person.expiry_at = days.at(begins), days.at(begins + 56)
        yield person


def _departed(names: Iterator[tuple[str, str]], days: _Days) -> Iterator[Person]:
    for place in range(DEPARTED):
        person = Person(*next(names), department="Hydrography", standing=Standing.DEPARTED)
        person.standing_reason, person.expiry_at = "Left the station", days.at(-30 * (place + 1))
        yield person


def _tell_stories(staff: list[Person], days: _Days) -> None:
    """Return some of the staff something to be found out."""
    with_stories = iter(
        [p for p in staff if p.department not in ("Control Watch", "Visitors' Hall")]
    )
    forgot, lost, stolen, barred, away, long_away, ended, until, beyond = (
        next(with_stories) for _ in range(9)
    )
    for person, status in (
        (forgot, CardStatus.SUSPENDED),
        (lost, CardStatus.LOST),
        (stolen, CardStatus.STOLEN),
    ):
        card = person.cards[0]
        person.cards[0] = CardDraft(card.format_id, card.facility_code, card.card_number, status)
    forgot.cards[0] = replace(forgot.cards[0], suspended_until=days.at(1, 6))
    lent = CardDraft(0, FACILITY_CODE, FIRST_CARD + 905, expiry_at=days.at(1), is_temporary=True)
    forgot.cards.append(lent)
    away.cards.append(CardDraft(0, FACILITY_CODE, FIRST_CARD + 906, label="Key fob"))
    stolen.cards.append(
        CardDraft(0, FACILITY_CODE, FIRST_CARD + 907, label="Second card", is_watched=True)
    )
    forgot.remarks = "Card left at home; a visitor's card was lent for the day."
    barred.standing, barred.standing_reason = Standing.BARRED, "By order of the harbour office"
    away.standing, away.standing_reason = Standing.SUSPENDED, "On leave"
    long_away.standing, long_away.standing_reason = (
        Standing.SUSPENDED,
        "Secondment to another station",
    )
    ended.expiry_at = days.at(-3, 17)
    until.group_expiry_at = days.at(9, 17)
    beyond.expiry_at = datetime(2040, 1, 1, tzinfo=days.zone)
    beyond.remarks = "The end of this contract lies beyond 2038."


def _posts_and_newcomers(names: Iterator[tuple[str, str]], days: _Days) -> Iterator[Person]:
    """Return those who are not ready: no card, no group, or neither."""
    monday = days.next_monday()
    first, last = next(names)
    yield Person(
        first,
        last,
        "Wet Lab",
        title="Aquarist",
        activation_at=monday,
        groups=("Everybody by day", "Wet Lab"),
    )
    yield Person(*next(names), department="Turbine Crew", activation_at=monday)
    card = CardDraft(0, FACILITY_CODE, FIRST_CARD + 900)
    yield Person(*next(names), department="Dive Team", cards=[card])
    yield Person("", "Night watch", "Control Watch", kind="Post", groups=("Control Watch",))
