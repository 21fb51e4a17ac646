import secrets

from django.db import models
from django.db.models import F, Q

from cadrin.core.credentials.factors import ANY_CARD
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

    def __str__(self) -> str:
        return self.name


class Area(models.Model):
    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="areas")
    name = models.CharField(max_length=60)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "name"], name="area_is_named_once_in_its_site")]

    def __str__(self) -> str:
        return self.name


class Controller(models.Model):
    """The panel that keeps records and decides.

    ``is_desk`` marks one that only passes on what is shown at desks. ``address`` is where it listens;
    ``standin:7`` means number 7 of the stand-ins, wherever those listen.
    """

    name = models.CharField(max_length=60, unique=True)
    address = models.CharField(max_length=200, unique=True)
    is_desk = models.BooleanField(default=False)
    sealed_key = models.TextField(default=new_sealed_key, editable=False)  # by which it and Cadrin know each other

    def __str__(self) -> str:
        return self.name


class Door(models.Model):
    area = models.ForeignKey(Area, on_delete=models.PROTECT, related_name="doors")
    controller = models.ForeignKey(Controller, on_delete=models.PROTECT, related_name="doors")
    name = models.CharField(max_length=60, unique=True)

    def __str__(self) -> str:
        return self.name


class Reader(models.Model):
    """A device beside a door, on its way in or out; a desk reader stands at no door."""

    name = models.CharField(max_length=60, unique=True)
    controller = models.ForeignKey(Controller, on_delete=models.PROTECT, related_name="readers")
    door = models.ForeignKey(Door, null=True, on_delete=models.PROTECT, related_name="readers")
    policy = models.JSONField(default=any_card)  # alternatives, each a list of factors, as the core orders them
    has_keypad = models.BooleanField(default=False)
    has_camera = models.BooleanField(default=False)
    is_way_out = models.BooleanField(default=False)
    formats = models.ManyToManyField("cards.CardFormat", related_name="readers")  # none are all
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class Schedule(models.Model):
    name = models.CharField(max_length=60, unique=True)
    zone = models.CharField(max_length=60)
    hours = models.JSONField()  # [[weekday, start_minute, end_minute], ...] as the core has them
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class AccessGroup(models.Model):
    name = models.CharField(max_length=60, unique=True)
    remarks = models.CharField(max_length=200, blank=True)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class Grant(models.Model):
    """One door with one schedule."""

    group = models.ForeignKey(AccessGroup, on_delete=models.CASCADE, related_name="grants")
    door = models.ForeignKey(Door, on_delete=models.PROTECT, related_name="grants")
    schedule = models.ForeignKey(Schedule, on_delete=models.PROTECT, related_name="grants")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["group", "door", "schedule"], name="grant_is_given_once")]

    def __str__(self) -> str:
        return f"{self.door_id} by {self.schedule_id}"


class Membership(models.Model):
    cardholder = models.ForeignKey("people.Cardholder", on_delete=models.CASCADE, related_name="memberships")
    group = models.ForeignKey(AccessGroup, on_delete=models.PROTECT, related_name="memberships")
    activation_at = models.DateTimeField(null=True)
    expiry_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["cardholder", "group"], name="cardholder_is_in_a_group_once"),
            models.CheckConstraint(
                name="membership_expires_after_activation",
                condition=Q(activation_at=None) | Q(expiry_at=None) | Q(expiry_at__gt=F("activation_at")),
            ),
        ]
        indexes = [models.Index(fields=["group", "cardholder"], name="membership_of_group")]

    def __str__(self) -> str:
        return f"{self.cardholder_id} in {self.group_id}"


class PlanVersion(models.Model):
    """One row, moved by every change to doors, schedules, groups and formats: what is read may be kept until then.

    A token and not a count, so that one that was rolled back or restored from a copy never comes again.
    """

    token = models.CharField(max_length=16)

    def __str__(self) -> str:
        return self.token


class DefaultGroup(models.Model):
    """An access group that is proposed to whoever comes into a department, or into one below it."""

    department = models.ForeignKey("people.Department", on_delete=models.CASCADE, related_name="default_groups")
    group = models.ForeignKey(AccessGroup, on_delete=models.CASCADE, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["department", "group"], name="one_default_of_a_group")]

    def __str__(self) -> str:
        return f"{self.department}: {self.group}"


class KeptDraft(models.Model):
    """What an operator has typed about a cardholder and not saved; ``cardholder`` is None for a new one.

    Kept here and not in a browser, where whoever uses the machine next would find it.
    """

    operator = models.ForeignKey("operators.Operator", on_delete=models.CASCADE, related_name="+")
    cardholder = models.ForeignKey("people.Cardholder", null=True, on_delete=models.CASCADE, related_name="+")
    name = models.CharField(max_length=310, blank=True)
    base = models.JSONField()
    draft = models.JSONField()
    typed_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["operator", "cardholder"], name="one_draft_of_a_cardholder"),
            models.UniqueConstraint(
                fields=["operator"], condition=Q(cardholder=None), name="one_draft_of_somebody_new"
            ),
        ]

    def __str__(self) -> str:
        return f"draft of {self.operator_id}"
