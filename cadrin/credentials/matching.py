"""Match cardholders by their credentials: conditions for whoever lists cardholders."""

from collections.abc import Iterable
from datetime import datetime

from django.db.models import Exists, F, OuterRef, Q, QuerySet, Value
from django.db.models.functions import Coalesce

from cadrin.core.credentials.card.life import CardStatus
from cadrin.credentials.models import Card, Pin, Plate


def _cards() -> QuerySet[Card]:
    return Card.objects.filter(holder_id=OuterRef("pk"))


def _pins() -> QuerySet[Pin]:
    return Pin.objects.filter(holder_id=OuterRef("pk"))


def has_card(in_status: Iterable[CardStatus] | None = None) -> Q:
    """Match whoever has a card, in any of these statuses."""
    cards = _cards()
    return Q(Exists(cards if in_status is None else cards.filter(status__in=list(in_status))))


def has_card_of(format_ids: Iterable[int]) -> Q:
    """Match whoever has a card of one of these formats."""
    return Q(Exists(_cards().filter(format_id__in=list(format_ids))))


def has_card_in_force(at: datetime) -> Q:
    """Match whoever has a card that counts, whatever hours of its own it has."""
    alive = Q(status=CardStatus.ISSUED) | Q(status=CardStatus.SUSPENDED, suspended_until__lte=at)
    in_force = _cards().filter(alive, has_begun(at), is_not_over(at))
    return Q(Exists(in_force.exclude(use_limit__isnull=False, used__gte=F("use_limit"))))


def holds_cards(match: Q) -> Q:
    """Match whoever holds one of the cards that a condition matches."""
    return Q(pk__in=Card.objects.filter(match).values("holder"))


def has_pin() -> Q:
    return Q(Exists(_pins()))


def has_pin_that_opens_alone() -> Q:
    return Q(Exists(_pins().filter(opens_alone=True)))


def has_pin_in_force(at: datetime) -> Q:
    return Q(Exists(_pins().filter(is_not_over(at))))


def has_plate() -> Q:
    return Q(Exists(Plate.objects.filter(holder_id=OuterRef("pk"))))


def has_begun(at: datetime) -> Q:
    """Match what counts at ``at``, or when its cardholder starts if that is later."""
    return (
        Q(activation_at=None)
        | Q(activation_at__lte=at)
        | Q(activation_at__lte=OuterRef("activation_at"))
    )


def is_not_over(at: datetime) -> Q:
    """Match, of what is somebody's, what is not over at ``at``, or when they start if that is later."""
    moment_of_start = Coalesce(OuterRef("activation_at"), Value(at))
    return Q(expiry_at=None) | Q(expiry_at__gt=at) & Q(expiry_at__gt=moment_of_start)
