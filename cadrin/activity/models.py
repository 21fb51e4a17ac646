from django.db import models
from django.db.models import Q

from cadrin.core.credentials.factors import Factor
from cadrin.core.decision.events import LONGEST_PLATE
from cadrin.core.decision.reasons import Reason
from cadrin.core.doors.passing import Happening

FLAGGED = (
    Q(is_watched=True)
    | Q(is_duress=True)
    | Q(is_passed_back=True)
    | ~Q(unreadable="")
    | ~Q(happening="")
)
"""What a person should look at."""


OF_NOBODY = ("", Reason.UNKNOWN_CARD)
"""What a read of a card that nobody holds has as its reason: at a desk, and at a door."""


class Read(models.Model):
    """One read, as the controller told it. It outlives the people and doors it names, so it repeats
    their names.
    """

    at = models.DateTimeField()
    controller = models.ForeignKey(
        "sites.Controller", on_delete=models.PROTECT, related_name="+", db_index=False
    )
    store = models.CharField(max_length=40)
    event_number = models.PositiveBigIntegerField()
    reader = models.ForeignKey(
        "sites.Reader", null=True, on_delete=models.SET_NULL, related_name="+", db_index=False
    )
    reader_name = models.CharField(max_length=60)
    door = models.ForeignKey(
        "sites.Door", null=True, on_delete=models.SET_NULL, related_name="+", db_index=False
    )
    raw = models.CharField(max_length=70)
    format = models.ForeignKey(
        "credentials.CardFormat",
        null=True,
        on_delete=models.SET_NULL,
        related_name="+",
        db_index=False,
    )
    facility_code = models.PositiveBigIntegerField(null=True)
    card_number = models.PositiveBigIntegerField(null=True)
    # empty for a read at a desk, where nothing is decided
    reason = models.CharField(
        max_length=24, blank=True, choices=[(r.value, r.value) for r in Reason]
    )
    # what was presented, parted by commas
    factors = models.CharField(max_length=40, default=Factor.CARD)
    plate = models.CharField(max_length=LONGEST_PLATE, blank=True)
    is_duress = models.BooleanField(default=False)
    is_watched = models.BooleanField(default=False)
    # came in where they were already, or went out where they were not
    is_passed_back = models.BooleanField(default=False)
    # what the door itself did, where this is no read: forced, or held open
    happening = models.CharField(
        max_length=6, blank=True, choices=[(one.value, one.value) for one in Happening]
    )
    group_name = models.CharField(max_length=60, blank=True)
    opens_at = models.DateTimeField(null=True)
    cardholder = models.ForeignKey(
        "people.Cardholder", null=True, on_delete=models.SET_NULL, related_name="+", db_index=False
    )
    cardholder_name = models.CharField(max_length=310, blank=True)
    # of its controller when it told; None where it was right
    clock_off_seconds = models.IntegerField(null=True)
    # what the controller said, where it could not be read
    unreadable = models.TextField(blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["controller", "store", "event_number"], name="read_is_taken_once"
            )
        ]
        # each index that a question uses, and no other: every read that comes pays for them
        indexes = [
            models.Index(fields=["door", "id"], name="read_at_door"),
            models.Index(fields=["card_number", "facility_code", "id"], name="read_of_card"),
            models.Index(fields=["cardholder", "id"], name="read_of_cardholder"),
            models.Index(fields=["reason", "id"], name="read_by_reason"),
            models.Index(fields=["at"], name="read_by_time"),
            models.Index(
                fields=["reason", "at"], name="read_of_nobody", condition=Q(reason__in=OF_NOBODY)
            ),
            models.Index(fields=["id"], name="read_to_be_looked_at", condition=FLAGGED),
        ]

    def __str__(self) -> str:
        return f"{self.at:%F %T} {self.reader_name}: {self.reason or 'shown'}"


class CardAside(models.Model):
    """A card of nobody that was put aside: it waits no longer for what was shown up to this read."""

    format = models.ForeignKey("credentials.CardFormat", on_delete=models.CASCADE, related_name="+")
    facility_code = models.PositiveBigIntegerField()
    card_number = models.PositiveBigIntegerField()
    read_id = models.PositiveBigIntegerField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["format", "facility_code", "card_number"], name="card_is_aside_once"
            )
        ]

    def __str__(self) -> str:
        return f"{self.facility_code}-{self.card_number} up to {self.read_id}"
