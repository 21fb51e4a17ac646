from django.db import models
from django.db.models import F, Q

from cadrin.core.access.plan import Way


class AccessGroup(models.Model):
    name = models.CharField(max_length=60, unique=True)
    remarks = models.CharField(max_length=200, blank=True)
    # opens doors in their closed hours too, and those that an operator keeps shut
    overrides = models.BooleanField(default=False)
    # who answers for it, and looks through its people so often
    owner = models.ForeignKey(
        "operators.Operator", null=True, on_delete=models.SET_NULL, related_name="owned_groups"
    )
    review_days = models.PositiveSmallIntegerField(null=True)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class Grant(models.Model):
    """One door with one schedule, or all doors into an area, those that come later too."""

    group = models.ForeignKey(AccessGroup, on_delete=models.CASCADE, related_name="grants")
    door = models.ForeignKey(
        "sites.Door", null=True, on_delete=models.PROTECT, related_name="grants"
    )
    area = models.ForeignKey(
        "sites.Area", null=True, on_delete=models.PROTECT, related_name="grants"
    )
    schedule = models.ForeignKey("sites.Schedule", on_delete=models.PROTECT, related_name="grants")
    # on the way in or out alone, or both
    way = models.CharField(
        max_length=4,
        choices=[(way.value, way.value) for way in Way],
        default=Way.BOTH.value,
        db_default=Way.BOTH.value,
    )

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["group", "door", "schedule"], name="grant_is_given_once"
            ),
            models.UniqueConstraint(
                fields=["group", "area", "schedule"], name="grant_of_area_is_given_once"
            ),
            models.CheckConstraint(
                name="grant_is_of_a_door_or_an_area",
                condition=Q(door=None, area__isnull=False) | Q(door__isnull=False, area=None),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.door_id or self.area} by {self.schedule_id}"


class Membership(models.Model):
    cardholder = models.ForeignKey(
        "people.Cardholder", on_delete=models.CASCADE, related_name="memberships"
    )
    group = models.ForeignKey(AccessGroup, on_delete=models.PROTECT, related_name="memberships")
    activation_at = models.DateTimeField(null=True)
    expiry_at = models.DateTimeField(null=True)
    # given by a rule of the group, and taken again with it
    is_by_rule = models.BooleanField(default=False, db_default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["cardholder", "group"], name="cardholder_is_in_a_group_once"
            ),
            models.CheckConstraint(
                name="membership_expires_after_activation",
                condition=Q(activation_at=None)
                | Q(expiry_at=None)
                | Q(expiry_at__gt=F("activation_at")),
            ),
        ]
        indexes = [
            models.Index(fields=["group", "cardholder"], name="membership_of_group"),
            models.Index(fields=["group"], condition=Q(is_by_rule=True), name="membership_by_rule"),
        ]

    def __str__(self) -> str:
        return f"{self.cardholder_id} in {self.group_id}"


class MembershipRule(models.Model):
    """Everybody of a department (or of one below it), kind and company is in the group; what is null
    does not matter.
    """

    group = models.ForeignKey(AccessGroup, on_delete=models.CASCADE, related_name="rules")
    department = models.ForeignKey(
        "people.Department", null=True, on_delete=models.CASCADE, related_name="+"
    )
    kind = models.ForeignKey("people.Kind", null=True, on_delete=models.CASCADE, related_name="+")
    company = models.ForeignKey(
        "people.Company", null=True, on_delete=models.CASCADE, related_name="+"
    )

    class Meta:
        constraints = [
            models.CheckConstraint(
                name="rule_is_about_something",
                condition=~Q(department=None, kind=None, company=None),
            )
        ]

    def __str__(self) -> str:
        return f"{self.group}: {self.department or ''} {self.kind or ''} {self.company or ''}"


class KeptOut(models.Model):
    """Somebody who is kept out of a group that a rule would put them in."""

    group = models.ForeignKey(AccessGroup, on_delete=models.CASCADE, related_name="kept_out")
    cardholder = models.ForeignKey(
        "people.Cardholder", on_delete=models.CASCADE, related_name="kept_out"
    )

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["group", "cardholder"], name="kept_out_once")
        ]

    def __str__(self) -> str:
        return f"{self.cardholder_id} not in {self.group_id}"


class DefaultGroup(models.Model):
    """An access group that is proposed to whoever comes into a department, or into one below it."""

    department = models.ForeignKey(
        "people.Department", on_delete=models.CASCADE, related_name="default_groups"
    )
    group = models.ForeignKey(AccessGroup, on_delete=models.CASCADE, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["department", "group"], name="one_default_of_a_group")
        ]

    def __str__(self) -> str:
        return f"{self.department}: {self.group}"


class Whereabouts(models.Model):
    """Where somebody went last, through a door of an area that counts people."""

    cardholder = models.OneToOneField(
        "people.Cardholder", primary_key=True, on_delete=models.CASCADE, related_name="whereabouts"
    )
    # None where they are outside, or where nobody knows
    area = models.ForeignKey(
        "sites.Area", null=True, on_delete=models.SET_NULL, related_name="people"
    )
    is_outside = models.BooleanField(default=False)
    at = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.cardholder_id}: {self.area or ('outside' if self.is_outside else 'unknown')}"
