"""What becomes of credentials when two cardholders are merged, or one is erased."""

from cadrin.credentials.models import Card, FormerPin, Letter, Pin, Plate


def hand_over_credentials(from_id: int, to_id: int) -> list[str]:
    """Make somebody's cards and licence plates another cardholder's, and return the labels of the
    PINs that are gone: nobody can say which of two somebody remembers.
    """
    Card.objects.filter(holder_id=from_id).update(holder_id=to_id)
    Plate.objects.filter(holder_id=from_id).update(holder_id=to_id)
    return list(Pin.objects.filter(holder_id=from_id).values_list("label", flat=True))


def forget_credentials_of(holder_id: int) -> None:
    """Forget PINs and plates, present and former, and what was on its way by mail. Cards were
    returned before.
    """
    for model in (Letter, Pin, Plate, FormerPin):
        model._default_manager.filter(holder_id=holder_id).delete()
