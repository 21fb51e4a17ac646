from django.db import models
from django.db.models import F, Q

from cadrin.core.cards.status import HELD_STATUSES, CardStatus


class CardFormat(models.Model):
    """A layout of bits, kept as the core writes it."""

    name = models.CharField(max_length=60, unique=True)
    source = models.CharField(max_length=200, blank=True)
    layout = models.JSONField()
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class Card(models.Model):
    format = models.ForeignKey(CardFormat, on_delete=models.PROTECT, related_name="cards")
    facility_code = models.PositiveBigIntegerField()
    card_number = models.PositiveBigIntegerField()
    status = models.CharField(max_length=12, choices=[(s.value, s.value) for s in CardStatus])
    holder = models.ForeignKey("people.Cardholder", null=True, on_delete=models.PROTECT, related_name="cards")
    activation_at = models.DateTimeField(null=True)
    expiry_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["format", "card_number", "facility_code"], name="card_is_one_card_in_its_format"
            ),
            models.CheckConstraint(
                name="card_is_held_exactly_in_these_statuses",
                condition=Q(holder__isnull=False, status__in=[s.value for s in HELD_STATUSES])
                | Q(holder__isnull=True) & ~Q(status__in=[CardStatus.ISSUED.value, CardStatus.SUSPENDED.value]),
            ),
            models.CheckConstraint(
                name="card_expires_after_activation",
                condition=Q(activation_at=None) | Q(expiry_at=None) | Q(expiry_at__gt=F("activation_at")),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.facility_code}-{self.card_number:05}"


class Box(models.Model):
    """A range of cards that came together: numbers from the first to the last, both included."""

    format = models.ForeignKey(CardFormat, on_delete=models.PROTECT, related_name="boxes")
    facility_code = models.PositiveBigIntegerField()
    first = models.PositiveBigIntegerField()
    last = models.PositiveBigIntegerField()
    kept_where = models.CharField(max_length=60, blank=True)
    remarks = models.CharField(max_length=200, blank=True)
    entered_at = models.DateTimeField()

    class Meta:
        constraints = [models.CheckConstraint(name="box_ends_after_it_begins", condition=Q(last__gte=F("first")))]

    def __str__(self) -> str:
        return f"{self.facility_code}: {self.first}-{self.last}"
