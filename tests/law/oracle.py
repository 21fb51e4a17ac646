"""What a door does, worked out from the tables in plain minutes. It shares no code with the core,
on purpose.
"""

from datetime import UTC, datetime, timedelta
from itertools import product
from typing import NamedTuple
from zoneinfo import ZoneInfo

from cadrin.access.models import AccessGroup, Grant, Membership
from cadrin.credentials.models import Card, CardSettings, Pin, Plate
from cadrin.operators.sealing import unseal
from cadrin.people.models import Cardholder
from cadrin.sites.models import Door, DoorOrder, HolidayDay, Reader, Schedule
from tests.law.doors import order_that_holds

Identity = tuple[int, int, int]
_A_DAY, _A_WEEK = 24 * 60, 7 * 24 * 60
_AGAINST_STATUS = {
    "suspended": "card_suspended",
    "lost": "card_lost",
    "stolen": "card_stolen",
    "damaged": "card_damaged",
}


class Shown(NamedTuple):
    """A card, digits that are typed, a plate before a camera, or several of them."""

    card: Identity | None
    typed: str | None = None
    plate: str | None = None

    @property
    def factors(self) -> set[str]:
        parts = {"card": self.card, "pin": self.typed, "plate": self.plate}
        return {name for name, value in parts.items() if value is not None}


def is_within(hours: list[list[int]], zone: str, at: datetime) -> bool:
    """Say whether the clock on the wall stands in one of the windows of a week."""
    wall = at.astimezone(ZoneInfo(zone))
    minute = wall.weekday() * _A_DAY + wall.hour * 60 + wall.minute
    for weekday, start, end in hours:
        begin = weekday * _A_DAY + start
        if any(begin <= moment < begin + (end - start) for moment in (minute, minute + _A_WEEK)):
            return True
    return False


def is_open(schedule: Schedule, days: list[HolidayDay], at: datetime) -> bool:
    """Say whether a schedule is open, by a holiday of its calendar where one holds, else by the week."""
    wall = at.astimezone(ZoneInfo(schedule.zone))
    minute, found = wall.hour * 60 + wall.minute, []
    for day in days:
        if (
            day.calendar_id != schedule.calendar_id
            or str(day.kind_id) not in schedule.holiday_hours
        ):
            continue
        length = (day.last - day.first).days
        dates = [day.first + timedelta(n) for n in range(length + 1)]
        is_on = wall.date() in dates or (
            day.is_yearly and (wall.month, wall.day) in [(d.month, d.day) for d in dates]
        )
        if is_on and day.start_minute <= minute < day.end_minute:
            found.append((length, day.kind_id))
    if found:
        hours = schedule.holiday_hours[str(min(found)[1])]
        return any(start <= minute < end for start, end in hours)
    return is_within(schedule.hours, schedule.zone, at)


def _in_time(start: datetime | None, end: datetime | None, at: datetime) -> str:
    if end is not None and at >= end:
        return "expired"
    if start is not None and at < start:
        return "pending"
    return ""


def _back(digits: str, rule: str) -> str | None:
    """Return the PIN that somebody under threat meant by what they typed."""
    if rule == "last_digit_up":
        return digits[:-1] + "9012345678"[int(digits[-1])]
    if rule == "first_digit_up":
        return "9012345678"[int(digits[0])] + digits[1:]
    return None


def _asks(reader: Reader, factor: str) -> bool:
    return any(factor in together for together in reader.policy)


class Oracle:
    """The tables as they are now."""

    def __init__(self) -> None:
        self.readers = {one.pk: one for one in Reader.objects.all()}
        self.formats_of = {
            id_: set(one.formats.values_list("id", flat=True)) for id_, one in self.readers.items()
        }
        self.people = {one.pk: one for one in Cardholder.objects.all()}
        self.cards = {
            (c.format_id, c.facility_code, c.card_number): c
            for c in Card.objects.exclude(holder=None)
        }
        self.pins = list(Pin.objects.order_by("id"))
        self.plates = dict(Plate.objects.values_list("number", "holder_id"))
        self.digits = {pin.pk: unseal(pin.sealed) for pin in self.pins}
        self.duress = (
            CardSettings.objects.filter(pk=1).values_list("pin_rule", flat=True).first() or {}
        ).get("duress", "none")
        self.holidays = list(HolidayDay.objects.all())
        self.schedules = {one.pk: one for one in Schedule.objects.all()}
        self.closed = dict(Door.objects.values_list("id", "closed_schedule"))
        self.orders = list(DoorOrder.objects.order_by("-id"))
        self.overriding = set(
            AccessGroup.objects.filter(overrides=True).values_list("id", flat=True)
        )
        self.grants: dict[int, list[tuple[int, int, str]]] = {}
        areas = dict(Door.objects.values_list("id", "area"))
        for grant in Grant.objects.all():
            into = [id_ for id_, area_id in areas.items() if area_id == grant.area_id]
            for door_id in [grant.door_id] if grant.door_id else into:
                self.grants.setdefault(grant.group_id, []).append(
                    (door_id, grant.schedule_id, grant.way)
                )
        self.memberships: dict[int, list[Membership]] = {}
        for one in Membership.objects.order_by("id"):
            self.memberships.setdefault(one.cardholder_id, []).append(one)

    # -- who is known where ------------------------------------------------------------------

    def is_known(self, holder_id: int, controller_id: int) -> bool:
        """Say whether a controller knows somebody: one that has departed or has no group there it
        does not.
        """
        here = [one for one in self.readers.values() if one.controller_id == controller_id]
        doors = {one.door_id for one in here}
        carries = any(card.holder_id == holder_id for card in self.cards.values())
        types = any(pin.holder_id == holder_id for pin in self.pins) and any(
            _asks(one, "pin") for one in here
        )
        drives = holder_id in self.plates.values() and any(_asks(one, "plate") for one in here)
        return (
            self.people[holder_id].standing != "departed"
            and (carries or types or drives)
            and any(
                door in doors
                for one in self.memberships.get(holder_id, ())
                for door, *_ in self.grants.get(one.group_id, ())
            )
        )

    # -- one read ----------------------------------------------------------------------------

    def reason(self, reader_id: int, shown: Shown, at: datetime) -> str:
        reader, factors = self.readers[reader_id], shown.factors
        if "pin" in factors and (
            not _asks(reader, "pin") or (factors == {"pin"} and ["pin"] not in reader.policy)
        ):
            return "pin_not_taken"
        for factor in ("plate", "card"):
            if factor in factors and not _asks(reader, factor):
                return f"{factor}_not_taken"
        if factors == {"pin"}:
            return self._by_pin_alone(reader, shown.typed or "", at)
        holder_id = None
        if shown.card is not None:
            if against := self._against_card(reader, shown.card, at):
                return against
            holder_id = self.cards[shown.card].holder_id
        if shown.plate is not None:
            driver = self.plates.get(shown.plate)
            if driver is None or not self.is_known(driver, reader.controller_id):
                return "unknown_plate"
            if holder_id not in (None, driver):
                return "plate_of_another"
            holder_id = driver
        if shown.typed is not None and (
            against := self._against_typed(holder_id or 0, shown.typed, at)
        ):
            return against
        policy = [
            together
            for together in reader.policy
            if together != ["pin"] or self._opens_alone(holder_id, shown)
        ]
        lacking = [set(together) - factors for together in policy if set(together) & factors]
        nearest = min(lacking, key=len)
        for factor in ("card", "plate", "pin"):
            if factor in nearest:
                return f"{factor}_missing"
        return self._against_holder(holder_id or 0, reader, at)

    def _opens_alone(self, holder_id: int | None, shown: Shown) -> bool:
        """Say whether what was typed is a PIN of theirs that needs nothing beside it."""
        meant = (shown.typed, _back(shown.typed, self.duress)) if shown.typed else ()
        mine = [pin for pin in self.pins if pin.holder_id == holder_id]
        pin = next((pin for digits in meant for pin in mine if self.digits[pin.pk] == digits), None)
        return pin is not None and pin.opens_alone

    def _against_typed(self, holder_id: int, typed: str, at: datetime) -> str:
        mine = [pin for pin in self.pins if pin.holder_id == holder_id]
        meant = (typed, _back(typed, self.duress))
        pin = next((pin for digits in meant for pin in mine if self.digits[pin.pk] == digits), None)
        if pin is None:
            return "pin_wrong" if mine else "pin_missing"
        return "pin_expired" if pin.expiry_at and at >= pin.expiry_at else ""

    def _by_pin_alone(self, reader: Reader, typed: str, at: datetime) -> str:
        known = [
            pin
            for pin in self.pins
            if pin.opens_alone and self.is_known(pin.holder_id, reader.controller_id)
        ]
        for digits in (typed, _back(typed, self.duress)):
            for pin in known:
                if self.digits[pin.pk] == digits:
                    expired = pin.expiry_at and at >= pin.expiry_at
                    return (
                        "pin_expired"
                        if expired
                        else self._against_holder(pin.holder_id, reader, at)
                    )
        return "pin_wrong"

    def _against_card(self, reader: Reader, identity: Identity, at: datetime) -> str:
        if self.formats_of[reader.pk] and identity[0] not in self.formats_of[reader.pk]:
            return "format_not_read"
        card = self.cards.get(identity)
        if card is None or not self.is_known(card.holder_id or 0, reader.controller_id):
            return "unknown_card"
        is_back = (
            card.status == "suspended"
            and card.suspended_until is not None
            and at >= card.suspended_until
        )
        if card.status != "issued" and not is_back:
            return _AGAINST_STATUS[card.status]
        if out := _in_time(card.activation_at, card.expiry_at, at):
            return f"card_{out}"
        if card.hours and not is_within(card.hours["hours"], card.hours["zone"], at):
            return "card_outside_hours"
        return ""

    def _against_holder(self, holder_id: int, reader: Reader, at: datetime) -> str:
        one = self.people[holder_id]
        is_back = (
            one.standing == "suspended"
            and one.suspended_until is not None
            and at >= one.suspended_until
        )
        if one.standing != "active" and not is_back:
            return f"cardholder_{one.standing}"
        if out := _in_time(one.activation_at, one.expiry_at, at):
            return f"cardholder_{out}"
        seen, shut = set(), self._nobody_comes_in(reader.door_id or 0, at)
        is_shut_out = False
        for membership in self.memberships.get(holder_id, ()):
            theirs = [
                schedule
                for door, schedule, way in self.grants.get(membership.group_id, ())
                if door == reader.door_id and way in ("both", "out" if reader.is_way_out else "in")
            ]
            if not theirs:
                continue
            out = _in_time(membership.activation_at, membership.expiry_at, at)
            schedules = [self.schedules[schedule] for schedule in theirs]
            if not out and any(is_open(schedule, self.holidays, at) for schedule in schedules):
                if not shut or membership.group_id in self.overriding:
                    return "granted"
                is_shut_out = True
            seen.add(out)
        if is_shut_out:
            return shut
        if "" in seen:
            return "outside_hours"
        if seen:
            return "membership_pending" if "pending" in seen else "membership_expired"
        return "no_membership"

    def _nobody_comes_in(self, door_id: int, at: datetime) -> str:
        """Return why a door lets in nobody but whose group overrides it."""
        ordered = order_that_holds(door_id, self.orders, at)
        if ordered:
            return "door_kept_shut" if ordered == "shut" else ""
        closed = self.closed.get(door_id)
        is_closed = closed and is_open(self.schedules[closed], self.holidays, at)
        return "door_closed" if is_closed else ""

    # -- everything somebody has -------------------------------------------------------------

    def shown_by(self, holder_id: int) -> list[Shown]:
        """Return all that somebody could show: each card, PIN and plate, alone and together."""
        cards: list[Identity | None] = [
            key for key, card in self.cards.items() if card.holder_id == holder_id
        ]
        typed: list[str | None] = [
            self.digits[pin.pk] for pin in self.pins if pin.holder_id == holder_id
        ]
        driven: list[str | None] = [
            plate for plate, whose in self.plates.items() if whose == holder_id
        ]
        parts = product((*cards, None), (*typed, None), (*driven, None))
        return [shown for shown in (Shown(*each) for each in parts) if shown.factors]

    def is_let_in(
        self, holder_id: int, door_id: int, at: datetime, *, is_out: bool = False
    ) -> bool:
        """Say whether a door opens for somebody by anything they have, on the way in or on the way
        out.
        """
        readers = [
            one.pk
            for one in self.readers.values()
            if one.door_id == door_id and one.is_way_out is is_out
        ]
        return any(
            self.reason(id_, one, at) == "granted"
            for id_ in readers
            for one in self.shown_by(holder_id)
        )

    def edges(self) -> list[datetime]:
        """Return every instant at which something begins or ends."""
        found: list[datetime | None] = []
        for one in self.people.values():
            found += [one.activation_at, one.expiry_at, one.suspended_until]
        for card in self.cards.values():
            found += [card.activation_at, card.expiry_at, card.suspended_until]
        for membership in (m for every in self.memberships.values() for m in every):
            found += [membership.activation_at, membership.expiry_at]
        found += [pin.expiry_at for pin in self.pins]
        found += [order.until for order in self.orders if not order.ended_at]
        return sorted(edge.astimezone(UTC) for edge in found if edge)
