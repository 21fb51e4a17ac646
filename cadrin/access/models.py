from django.db import models
from django.db.models import F, Q


class AccessGroup(models.Model):
    name = models.CharField(max_length=60, unique=True)
    remarks = models.CharField(max_length=200, blank=True)
    # opens doors in their closed hours too, and those that an operator keeps shut
    overrides = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class Grant(models.Model):
    """One door with one schedule."""

    group = models.ForeignKey(AccessGroup, on_delete=models.CASCADE, related_name="grants")
    door = models.ForeignKey("sites.Door", on_delete=models.PROTECT, related_name="grants")
    schedule = models.ForeignKey("sites.Schedule", on_delete=models.PROTECT, related_name="grants")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["group", "door", "schedule"], name="grant_is_given_once"
            )
        ]

    def __str__(self) -> str:
        return f"{self.door_id} by {self.schedule_id}"


class Membership(models.Model):
    cardholder = models.ForeignKey(
        "people.Cardholder", on_delete=models.CASCADE, related_name="memberships"
    )
    group = models.ForeignKey(AccessGroup, on_delete=models.PROTECT, related_name="memberships")
    activation_at = models.DateTimeField(null=True)
    expiry_at = models.DateTimeField(null=True)

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
        indexes = [models.Index(fields=["group", "cardholder"], name="membership_of_group")]

    def __str__(self) -> str:
        return f"{self.cardholder_id} in {self.group_id}"


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
