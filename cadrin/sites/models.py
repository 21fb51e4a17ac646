"""Sites, areas, doors, readers, controllers and schedules."""

import secrets

from django.db import models
from django.db.models import F, Q

from cadrin.core.credentials.factors import ANY_CARD
from cadrin.core.doors.passing import Happening
from cadrin.core.doors.rules import ANY_DOOR, Ordered, Passback
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
    # what becomes of whoever comes in where they are already, and how many may be inside
    passback = models.CharField(
        max_length=4, choices=[(p.value, p.value) for p in Passback], default=Passback.NONE
    )
    forgiven_after_minutes = models.PositiveIntegerField(null=True)
    most = models.PositiveIntegerField(null=True)
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
    # what an operator knows that it can hold, where it does not say so itself: name of a limit -> count
    limits = models.JSONField(default=dict)
    # it knows one access group of each cardholder at a door: two that meet there are refused
    knows_one_group = models.BooleanField(default=False)
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
    # what else it does, as the core has it; None where it does not
    held_seconds = models.PositiveSmallIntegerField(null=True)
    tells_forced = models.BooleanField(default=False)
    unlocked_schedule = models.ForeignKey(
        "Schedule", null=True, on_delete=models.PROTECT, related_name="doors_it_unlocks"
    )
    closed_schedule = models.ForeignKey(
        "Schedule", null=True, on_delete=models.PROTECT, related_name="doors_it_closes"
    )
    first_person = models.BooleanField(default=False)
    second_seconds = models.PositiveSmallIntegerField(null=True)
    consent_seconds = models.PositiveSmallIntegerField(null=True)
    has_exit_button = models.BooleanField(default=False)
    interlock = models.ManyToManyField("self", symmetrical=True)
    # who answers for it, and looks so often through those who may open it
    owner = models.ForeignKey(
        "operators.Operator", null=True, on_delete=models.SET_NULL, related_name="owned_doors"
    )
    review_days = models.PositiveSmallIntegerField(null=True)
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


class ReleaseGroup(models.Model):
    """Doors that are unlocked together in an emergency."""

    name = models.CharField(max_length=60, unique=True)
    doors = models.ManyToManyField(Door, related_name="release_groups")
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class Release(models.Model):
    """An emergency in which the doors of a group were unlocked, until somebody ended it."""

    group = models.ForeignKey(ReleaseGroup, on_delete=models.PROTECT, related_name="releases")
    reason = models.CharField(max_length=200)
    begun_by = models.CharField(max_length=150)
    at = models.DateTimeField()
    ended_reason = models.CharField(max_length=200, blank=True)
    ended_by = models.CharField(max_length=150, blank=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["group"],
                condition=Q(ended_at=None),
                name="group_is_released_once_at_a_time",
            )
        ]

    def __str__(self) -> str:
        return f"{self.group}, {self.at:%F %T}"


class DoorOrder(models.Model):
    """What an operator ordered of a door: to be kept open or shut, for a time or until it is ended."""

    door = models.ForeignKey(Door, on_delete=models.CASCADE, related_name="orders")
    kind = models.CharField(max_length=4, choices=[(kind.value, kind.value) for kind in Ordered])
    reason = models.CharField(max_length=200, blank=True)
    ordered_by = models.CharField(max_length=150)
    at = models.DateTimeField()
    until = models.DateTimeField(null=True)
    release = models.ForeignKey(Release, null=True, on_delete=models.CASCADE, related_name="orders")
    ended_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [
            models.Index(fields=["door"], name="order_that_holds", condition=Q(ended_at=None))
        ]

    def __str__(self) -> str:
        return f"{self.door}: {self.kind}"


class DoorAct(models.Model):
    """Something that a controller is to do at once, or not at all: unlock a door, or let in whoever
    asks there.
    """

    class Kind(models.TextChoices):
        RELEASE = "release"
        CONSENT = "consent"

    class Outcome(models.TextChoices):
        WAITING = "waiting"
        DONE = "done"
        LATE = "late"
        """Nobody asked any more, or the controller did not answer in time."""

    door = models.ForeignKey(Door, on_delete=models.CASCADE, related_name="acts")
    kind = models.CharField(max_length=7, choices=Kind)
    at = models.DateTimeField()
    outcome = models.CharField(max_length=7, choices=Outcome, default=Outcome.WAITING)

    class Meta:
        indexes = [
            models.Index(fields=["door"], name="act_to_be_done", condition=Q(outcome="waiting"))
        ]

    def __str__(self) -> str:
        return f"{self.door}: {self.kind}, {self.outcome}"


class DoorNow(models.Model):
    """How a door stands, as its controller told last."""

    door = models.OneToOneField(Door, on_delete=models.CASCADE, related_name="now")
    is_open = models.BooleanField(default=False)
    at = models.DateTimeField()
    # forced or held, until it is shut
    alarm = models.CharField(
        max_length=6, blank=True, choices=[(one.value, one.value) for one in Happening]
    )

    def __str__(self) -> str:
        return f"{self.door}: {'open' if self.is_open else 'shut'}"


class SitePlan(models.Model):
    """A picture of a site, on which its doors have their places; a plain sheet without one."""

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="plan")
    # a JPEG, written anew from what was uploaded
    picture = models.BinaryField(default=b"")
    width = models.PositiveIntegerField(default=1600)
    height = models.PositiveIntegerField(default=1000)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return f"plan of {self.site}"


class AreaPlace(models.Model):
    """An area drawn on the plan of its site as a rectangle, in thousandths of the plan."""

    area = models.OneToOneField(Area, on_delete=models.CASCADE, related_name="place")
    x = models.PositiveSmallIntegerField()
    y = models.PositiveSmallIntegerField()
    width = models.PositiveSmallIntegerField()
    height = models.PositiveSmallIntegerField()

    def __str__(self) -> str:
        return f"{self.area} at {self.x}, {self.y}, {self.width} x {self.height}"


class DoorPlace(models.Model):
    """Where a door is on the plan of its site, in thousandths from the left and from the top."""

    door = models.OneToOneField(Door, on_delete=models.CASCADE, related_name="place")
    x = models.PositiveSmallIntegerField()
    y = models.PositiveSmallIntegerField()

    def __str__(self) -> str:
        return f"{self.door} at {self.x}, {self.y}"
