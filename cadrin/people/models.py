from django.db import models
from django.db.models import F, Q

from cadrin.core.validity import Standing


class Department(models.Model):
    number = models.CharField(max_length=20, unique=True)
    name = models.CharField(max_length=80)
    parent = models.ForeignKey("self", null=True, blank=True, on_delete=models.PROTECT, related_name="children")

    def __str__(self) -> str:
        return self.name


class Company(models.Model):
    name = models.CharField(max_length=80, unique=True)

    def __str__(self) -> str:
        return self.name


class Kind(models.Model):
    """Employee, contractor, visitor, ...: a site can add kinds."""

    name = models.CharField(max_length=40, unique=True)

    def __str__(self) -> str:
        return self.name


class Cardholder(models.Model):
    """A person who may hold credentials."""

    number = models.CharField(max_length=20)
    number_key = models.CharField(max_length=20, unique=True)
    first_name = models.CharField(max_length=60, blank=True)
    last_name = models.CharField(max_length=60, blank=True)
    display_name = models.CharField(max_length=125)
    sort_name = models.CharField(max_length=130)
    title = models.CharField(max_length=60, blank=True)
    email = models.CharField(max_length=254, blank=True)
    remarks = models.TextField(max_length=2000, blank=True)
    department = models.ForeignKey(Department, null=True, on_delete=models.PROTECT, related_name="cardholders")
    company = models.ForeignKey(Company, null=True, on_delete=models.PROTECT, related_name="cardholders")
    kind = models.ForeignKey(Kind, null=True, on_delete=models.PROTECT, related_name="cardholders")
    standing = models.CharField(max_length=12, choices=[(s.value, s.value) for s in Standing], default=Standing.ACTIVE)
    standing_reason = models.CharField(max_length=200, blank=True)
    suspended_until = models.DateTimeField(null=True)
    activation_at = models.DateTimeField(null=True)
    expiry_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.CheckConstraint(
                name="cardholder_expires_after_activation",
                condition=Q(activation_at=None) | Q(expiry_at=None) | Q(expiry_at__gt=F("activation_at")),
            ),
            models.CheckConstraint(name="cardholder_has_a_name", condition=~Q(display_name="")),
        ]
        indexes = [
            models.Index(fields=["sort_name", "id"], name="cardholder_by_name"),
            models.Index(fields=["department", "sort_name"], name="cardholder_by_department"),
            models.Index(fields=["expiry_at"], name="cardholder_by_expiry"),
            models.Index(fields=["activation_at"], name="cardholder_by_activation"),
            models.Index(fields=["standing", "sort_name"], name="cardholder_by_standing"),
        ]

    def __str__(self) -> str:
        return f"{self.display_name} ({self.number})"


class Term(models.Model):
    """A word under which a cardholder is found by its beginning; ``source`` says whose word it is."""

    cardholder = models.ForeignKey(Cardholder, on_delete=models.CASCADE, related_name="terms")
    source = models.CharField(max_length=10)
    text = models.CharField(max_length=254)

    class Meta:
        indexes = [models.Index(fields=["text", "cardholder"], name="term_by_text")]

    def __str__(self) -> str:
        return self.text
