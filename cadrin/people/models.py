from django.db import models
from django.db.models import F, Q
from django.db.models.functions import Length, Upper

from cadrin.core.people.custom_fields import FieldType
from cadrin.core.people.names import DisplayRule
from cadrin.core.validity import Standing


class RegisterSettings(models.Model):
    """What the site has decided about its register; there is one row."""

    number_prefix = models.CharField(max_length=10, default="S-", blank=True)
    number_width = models.PositiveSmallIntegerField(default=5)
    number_start = models.PositiveIntegerField(default=1)
    display_rule = models.CharField(
        max_length=15,
        choices=[(r.value, r.value) for r in DisplayRule],
        default=DisplayRule.FIRST_LAST,
    )
    longest_name = models.PositiveSmallIntegerField(default=60)
    region = models.CharField(max_length=2, default="GB")
    required = models.JSONField(default=list)  # names of core.details.MAY_BE_REQUIRED
    # what the second and third image of a cardholder are called
    image_names = models.JSONField(default=list)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.CheckConstraint(name="one_row_of_register_settings", condition=Q(pk=1))
        ]

    def __str__(self) -> str:
        return "Register settings"


class Department(models.Model):
    number = models.CharField(max_length=20, unique=True)
    name = models.CharField(max_length=80)
    parent = models.ForeignKey(
        "self", null=True, blank=True, on_delete=models.PROTECT, related_name="children"
    )
    is_retired = models.BooleanField(default=False)  # its people stay; nobody new is put in it
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class Company(models.Model):
    name = models.CharField(max_length=80, unique=True)
    short_name = models.CharField(max_length=20, blank=True)
    is_retired = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                Upper("short_name"),
                condition=~Q(short_name=""),
                name="short_name_of_company_is_unique",
            )
        ]

    def __str__(self) -> str:
        return self.name


class Kind(models.Model):
    """Employee, contractor, visitor, ...: a site can add kinds."""

    name = models.CharField(max_length=40, unique=True)
    is_retired = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class CustomField(models.Model):
    """A field of cardholders that the site defined. One that was removed keeps its values until it
    is taken back.
    """

    labels = models.JSONField()  # language -> label
    help = models.JSONField(default=dict)  # language -> help
    type = models.CharField(max_length=10, choices=[(t.value, t.value) for t in FieldType])
    choices = models.JSONField(default=list)  # [{"key": ..., "labels": {language: label}}]
    is_required = models.BooleanField(default=False)
    is_unique = models.BooleanField(default=False)
    place = models.PositiveIntegerField(default=0)
    removed_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return str(next(iter(self.labels.values()), self.pk))


class Cardholder(models.Model):
    """A person who may hold credentials."""

    number = models.CharField(max_length=20)
    number_key = models.CharField(max_length=20, unique=True)
    first_name = models.CharField(max_length=150, blank=True)
    last_name = models.CharField(max_length=150, blank=True)
    display_override = models.CharField(max_length=150, blank=True)
    display_name = models.CharField(max_length=310)
    sort_name = models.CharField(max_length=310)
    title = models.CharField(max_length=60, blank=True)
    email = models.CharField(max_length=254, blank=True)
    phones = models.JSONField(default=list)
    language = models.CharField(max_length=10, blank=True)
    born_on = models.DateField(null=True)
    extended_time = models.BooleanField(default=False)
    # id of the own field, as text -> value, as the core writes it
    own = models.JSONField(default=dict)
    remarks = models.TextField(max_length=2000, blank=True)
    department = models.ForeignKey(
        Department, null=True, on_delete=models.PROTECT, related_name="cardholders"
    )
    company = models.ForeignKey(
        Company, null=True, on_delete=models.PROTECT, related_name="cardholders"
    )
    kind = models.ForeignKey(Kind, null=True, on_delete=models.PROTECT, related_name="cardholders")
    standing = models.CharField(
        max_length=12, choices=[(s.value, s.value) for s in Standing], default=Standing.ACTIVE
    )
    standing_reason = models.CharField(max_length=200, blank=True)
    suspended_until = models.DateTimeField(null=True)
    activation_at = models.DateTimeField(null=True)
    expiry_at = models.DateTimeField(null=True)
    erased_at = models.DateTimeField(null=True)
    # what another system knows them by
    external_id = models.CharField(max_length=100, blank=True, default="")
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.CheckConstraint(
                name="cardholder_expires_after_activation",
                condition=Q(activation_at=None)
                | Q(expiry_at=None)
                | Q(expiry_at__gt=F("activation_at")),
            ),
            models.CheckConstraint(name="cardholder_has_a_name", condition=~Q(display_name="")),
            models.UniqueConstraint(
                fields=["external_id"],
                condition=~Q(external_id=""),
                name="external_id_is_one_cardholders",
            ),
        ]
        indexes = [
            models.Index(fields=["sort_name", "id"], name="cardholder_by_name"),
            models.Index(fields=["department", "sort_name"], name="cardholder_by_department"),
            models.Index(fields=["expiry_at"], name="cardholder_by_expiry"),
            models.Index(fields=["activation_at"], name="cardholder_by_activation"),
            models.Index(fields=["standing", "sort_name"], name="cardholder_by_standing"),
            models.Index(fields=["company", "sort_name"], name="cardholder_by_company"),
            models.Index(fields=["kind", "sort_name"], name="cardholder_by_kind"),
            models.Index(fields=["email"], name="cardholder_by_email"),
            models.Index(fields=["born_on"], name="cardholder_by_birth_date"),
            # where the highest number is: a longer one is a higher one
            models.Index(
                Length("number_key").desc(), F("number_key").desc(), name="cardholder_by_height"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.display_name} ({self.number})"


class Term(models.Model):
    """A word under which a cardholder is found by its beginning; ``source`` says whose
    word it is.
    """

    cardholder = models.ForeignKey(Cardholder, on_delete=models.CASCADE, related_name="terms")
    source = models.CharField(max_length=10)
    text = models.CharField(max_length=254)

    class Meta:
        indexes = [models.Index(fields=["text", "cardholder"], name="term_by_text")]

    def __str__(self) -> str:
        return self.text


class CustomFieldKey(models.Model):
    """The value of an own field, as it is found and put in order by."""

    cardholder = models.ForeignKey(Cardholder, on_delete=models.CASCADE, related_name="own_keys")
    field = models.ForeignKey(CustomField, on_delete=models.CASCADE, related_name="keys")
    key = models.CharField(max_length=200)
    is_unique = models.BooleanField(default=False)

    class Meta:
        indexes = [models.Index(fields=["field", "key", "cardholder"], name="own_key_of_field")]
        constraints = [
            models.UniqueConstraint(
                fields=["field", "key"], condition=Q(is_unique=True), name="own_value_is_unique"
            ),
            models.UniqueConstraint(
                fields=["cardholder", "field"], name="one_own_value_of_a_field"
            ),
        ]

    def __str__(self) -> str:
        return self.key
