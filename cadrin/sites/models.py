"""Sites, areas, doors, readers, controllers and schedules."""

import secrets

from django.db import models
from django.db.models import F, Q

from cadrin.core.doors.rules import ANY_DOOR
from cadrin.core.credentials.factors import ANY_CARD
from cadrin.core.holidays import MINUTES_A_DAY
from cadrin.core.signing import KEY_BYTES
from cadrin.operators.sealing import seal


def new_sealed_key() -> str:
    """Return a key for a controller, from the system's secure source, sealed."""
    return seal(secrets.token_hex(KEY_BYTES))


def any_card() -> list[list[str]]:
    """Return the alternatives of a reader that takes any card."""
    return [[factor.value for factor in alternative] for alternative in ANY_CARD.alternatives]


class Site(models.Model):
    """A place with a time zone."""

    name = models.CharField(max_length=60, unique=True)
    zone = models.CharField(max_length=60)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class Area(models.Model):
    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="areas")
    name = models.CharField(max_length=60)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["site", "name"], name="area_is_named_once_in_its_site")
        ]

    def __str__(self) -> str:
        return self.name


class Controller(models.Model):
    """The panel that keeps records and decides.

    ``is_desk`` marks one that only passes on what is shown at desks. ``address`` is where it
    listens; ``standin:7`` means number 7 of the stand-ins, wherever those listen. A retired one is
    spoken to no more, and is kept for the reads that it told.
    """

    name = models.CharField(max_length=60, unique=True)
    address = models.CharField(max_length=200, unique=True)
    is_desk = models.BooleanField(default=False)
    # by which it and Cadrin know each other
    sealed_key = models.TextField(default=new_sealed_key, editable=False)
    is_retired = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class Door(models.Model):
    """An opening that leads into an area, from another one or, without one, from outside."""

    area = models.ForeignKey(Area, on_delete=models.PROTECT, related_name="doors")
    from_area = models.ForeignKey(
        Area, null=True, on_delete=models.PROTECT, related_name="doors_out_of_it"
    )
    controller = models.ForeignKey(Controller, on_delete=models.PROTECT, related_name="doors")
    name = models.CharField(max_length=60, unique=True)
    # how long it stays unlocked after a read, and for whoever needs longer
    open_seconds = models.PositiveSmallIntegerField(default=ANY_DOOR.open_seconds)
    extended_open_seconds = models.PositiveSmallIntegerField(default=ANY_DOOR.extended_open_seconds)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.CheckConstraint(
                name="door_leads_from_another_area",
                condition=Q(from_area=None) | ~Q(from_area=F("area")),
            )
        ]

    def __str__(self) -> str:
        return self.name


class Reader(models.Model):
    """A device beside a door, on its way in or out; a desk reader stands at no door."""

    name = models.CharField(max_length=60, unique=True)
    controller = models.ForeignKey(Controller, on_delete=models.PROTECT, related_name="readers")
    door = models.ForeignKey(Door, null=True, on_delete=models.PROTECT, related_name="readers")
    # alternatives, each a list of factors, as the core orders them
    policy = models.JSONField(default=any_card)
    has_keypad = models.BooleanField(default=False)
    has_camera = models.BooleanField(default=False)
    has_finger_scanner = models.BooleanField(default=False)
    has_face_reader = models.BooleanField(default=False)
    # [[schedule, alternatives], ...]: the first whose schedule is open counts instead
    policy_by_hours = models.JSONField(default=list)
    # how alike a finger must be, in hundredths; None is the site's
    finger_match = models.PositiveSmallIntegerField(null=True)
    # how far apart faces may be, in hundredths; None is the site's
    face_match = models.PositiveSmallIntegerField(null=True)
    is_way_out = models.BooleanField(default=False)
    # where it is plugged in at its controller; None where that one knows its readers by their ids
    plug = models.PositiveSmallIntegerField(null=True)
    # none are all
    formats = models.ManyToManyField("credentials.CardFormat", related_name="readers")
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["controller", "plug"], name="reader_has_its_plug_to_itself"
            )
        ]

    def __str__(self) -> str:
        return self.name


class HolidayKind(models.Model):
    """A kind of holiday: schedules say for each kind which hours hold on it."""

    name = models.CharField(max_length=60, unique=True)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class HolidayCalendar(models.Model):
    """The holidays of a site."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="calendars")
    name = models.CharField(max_length=60, unique=True)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class HolidayDay(models.Model):
    """A holiday of a calendar: days from the first through the last, or part of each of them."""

    calendar = models.ForeignKey(HolidayCalendar, on_delete=models.CASCADE, related_name="days")
    kind = models.ForeignKey(HolidayKind, on_delete=models.PROTECT, related_name="days")
    name = models.CharField(max_length=80)
    first = models.DateField()
    last = models.DateField()
    is_yearly = models.BooleanField(default=False)
    start_minute = models.PositiveSmallIntegerField(default=0)
    end_minute = models.PositiveSmallIntegerField(default=MINUTES_A_DAY)

    class Meta:
        constraints = [
            models.CheckConstraint(
                name="holiday_ends_no_earlier_than_it_begins", condition=Q(last__gte=F("first"))
            )
        ]

    def __str__(self) -> str:
        return f"{self.name}, {self.first}"


class Schedule(models.Model):
    name = models.CharField(max_length=60, unique=True)
    zone = models.CharField(max_length=60)
    hours = models.JSONField()  # [[weekday, start_minute, end_minute], ...] as the core has them
    calendar = models.ForeignKey(
        HolidayCalendar, null=True, on_delete=models.PROTECT, related_name="schedules"
    )
    # {kind of holiday: [[start_minute, end_minute], ...]}; none is closed, a kind not named is as the week
    holiday_hours = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name
