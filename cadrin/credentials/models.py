from django.db import models
from django.db.models import F, Q

from cadrin.core.credentials.card.life import HELD_STATUSES, CardStatus
from cadrin.core.credentials.plate.plate import LONGEST as LONGEST_PLATE

LONGEST_LABEL = 40


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
    holder = models.ForeignKey(
        "people.Cardholder", null=True, on_delete=models.PROTECT, related_name="cards"
    )
    activation_at = models.DateTimeField(null=True)
    expiry_at = models.DateTimeField(null=True)
    suspended_until = models.DateTimeField(null=True)
    label = models.CharField(max_length=LONGEST_LABEL, blank=True)
    is_watched = models.BooleanField(default=False)
    # goes back to stock by itself when it expires
    is_temporary = models.BooleanField(default=False)
    issue_level = models.PositiveSmallIntegerField(null=True)
    use_limit = models.PositiveSmallIntegerField(null=True)
    counted_from = models.DateTimeField(null=True)
    used = models.PositiveIntegerField(default=0)  # the sum of its uses, for lists
    # {"zone": ..., "hours": [[weekday, start_minute, end_minute], ...]}
    hours = models.JSONField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["format", "card_number", "facility_code"],
                name="card_is_one_card_in_its_format",
            ),
            models.CheckConstraint(
                name="card_is_held_exactly_in_these_statuses",
                condition=Q(holder__isnull=False, status__in=[s.value for s in HELD_STATUSES])
                | Q(holder__isnull=True)
                & ~Q(status__in=[CardStatus.ISSUED.value, CardStatus.SUSPENDED.value]),
            ),
            models.CheckConstraint(
                name="card_expires_after_activation",
                condition=Q(activation_at=None)
                | Q(expiry_at=None)
                | Q(expiry_at__gt=F("activation_at")),
            ),
            models.CheckConstraint(
                name="card_counts_uses_exactly_when_limited",
                condition=Q(use_limit=None, counted_from=None)
                | Q(use_limit__range=(1, 255), counted_from__isnull=False),
            ),
        ]
        indexes = [
            models.Index(fields=["card_number"], name="card_by_its_number"),
            models.Index(
                fields=["expiry_at"], name="card_that_is_temporary", condition=Q(is_temporary=True)
            ),
            models.Index(
                fields=["holder"],
                name="card_of_limited_use",
                condition=Q(use_limit__isnull=False),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.facility_code}-{self.card_number:05}"


class CardUse(models.Model):
    """How often a card with a use limit opened something, as one memory of one controller tells."""

    card = models.ForeignKey(Card, on_delete=models.CASCADE, related_name="uses")
    memory = models.CharField(max_length=60)
    count = models.PositiveIntegerField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["card", "memory"], name="uses_of_a_card_once_in_a_memory"
            )
        ]

    def __str__(self) -> str:
        return f"{self.card_id} in {self.memory}: {self.count}"


class Pin(models.Model):
    """A PIN: sealed, and found by hashes. ``own_hash`` never leaves; ``door_hash`` is what
    controllers know.
    """

    holder = models.ForeignKey("people.Cardholder", on_delete=models.CASCADE, related_name="pins")
    label = models.CharField(max_length=LONGEST_LABEL, blank=True)
    opens_alone = models.BooleanField(default=False)
    sealed = models.TextField()
    own_hash = models.CharField(max_length=32, db_index=True)
    door_hash = models.CharField(max_length=32)
    set_at = models.DateTimeField()
    expiry_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"PIN {self.pk} of {self.holder_id}"


class Plate(models.Model):
    """The licence plate of a cardholder's vehicle, as cameras tell it."""

    holder = models.ForeignKey("people.Cardholder", on_delete=models.CASCADE, related_name="plates")
    number = models.CharField(max_length=LONGEST_PLATE, unique=True)

    def __str__(self) -> str:
        return self.number


class FormerPin(models.Model):
    """The hash of a PIN that somebody had, so that it is not taken again too soon."""

    holder = models.ForeignKey(
        "people.Cardholder", on_delete=models.CASCADE, related_name="former_pins"
    )
    own_hash = models.CharField(max_length=32)
    ended_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"a former PIN of {self.holder_id}"


class PinList(models.Model):
    """PINs that were made up for many: sealed until it is opened, once; then only that it was is
    left.
    """

    made_at = models.DateTimeField()
    made_by = models.CharField(max_length=150)
    operator = models.ForeignKey(
        "operators.Operator", null=True, on_delete=models.SET_NULL, related_name="+"
    )
    count = models.PositiveIntegerField()
    sealed = models.TextField(blank=True)
    opened_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"{self.count} PINs of {self.made_at:%F %T}"


class CardSettings(models.Model):
    """What the site has decided about cards and PINs; there is one row."""

    most_cards = models.PositiveSmallIntegerField(null=True)  # of one cardholder at a time
    # as the core's PinRule has it; what is missing is as there
    pin_rule = models.JSONField(default=dict)
    sealed_key = models.TextField(blank=True)  # of the hashes of PINs
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [models.CheckConstraint(name="one_row_of_card_settings", condition=Q(pk=1))]

    def __str__(self) -> str:
        return "Card settings"


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
        constraints = [
            models.CheckConstraint(
                name="box_ends_after_it_begins", condition=Q(last__gte=F("first"))
            )
        ]

    def __str__(self) -> str:
        return f"{self.facility_code}: {self.first}-{self.last}"


class KeypadWait(models.Model):
    """An operator at a desk waits for a cardholder to type at its keypad; the token is theirs
    alone.
    """

    token = models.CharField(max_length=50, unique=True)
    operator = models.ForeignKey("operators.Operator", on_delete=models.CASCADE, related_name="+")
    reader_id = models.BigIntegerField()
    begun_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"waiting at {self.reader_id}"


class TypedPin(models.Model):
    """A PIN that a cardholder typed at a desk's keypad: sealed, and kept only until it is used or
    too old.

    What is typed while nobody waits for it is not kept at all.
    """

    wait = models.ForeignKey(KeypadWait, on_delete=models.CASCADE, related_name="typed")
    sealed = models.TextField()
    at = models.DateTimeField()

    def __str__(self) -> str:
        return f"typed for {self.wait_id}"


class LetterState(models.TextChoices):
    WAITING = "waiting"
    SENT = "sent"
    CANCELLED = "cancelled"


class LetterFailure(models.TextChoices):
    """Why the mail server did not take a letter."""

    NO_ANSWER = "no_answer"
    REFUSED = "refused"
    NOT_SEALED_HERE = "not_sealed_here"
    FAILED = "failed"


class LetterAbout(models.TextChoices):
    """What a letter is about."""

    PIN = "pin"
    CONSENT = "consent"


class Letter(models.Model):
    """A PIN, or the question for a consent, on its way to its cardholder by mail: sealed until it was
    handed to the mail server, and then gone.
    """

    holder = models.ForeignKey(
        "people.Cardholder", on_delete=models.CASCADE, related_name="letters"
    )
    about = models.CharField(max_length=10, choices=LetterAbout.choices, default=LetterAbout.PIN)
    pin = models.ForeignKey(Pin, null=True, on_delete=models.SET_NULL, related_name="letters")
    sealed = models.TextField(blank=True)
    state = models.CharField(max_length=10, choices=LetterState, default=LetterState.WAITING)
    made_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    tries = models.PositiveIntegerField(default=0)
    next_try_at = models.DateTimeField()
    failure = models.CharField(max_length=100, blank=True)

    class Meta:
        indexes = [
            models.Index(
                fields=["next_try_at"], name="letter_that_waits", condition=Q(state="waiting")
            )
        ]

    def __str__(self) -> str:
        return f"letter {self.pk} to {self.holder_id}: {self.state}"
