"""What makes a card one card, over HTTP."""

from cadrin.core.credentials.card.card import CardKey
from cadrin.operators.rest.base import Shape, WholeField


class CardIdentityShape(Shape):
    """What makes a card one card."""

    format = WholeField()
    facility_code = WholeField()
    card_number = WholeField()


def identity_of(key: CardKey) -> dict[str, int]:
    """Write what makes a card one card."""
    return {
        "format": key.format_id,
        "facility_code": key.facility_code,
        "card_number": key.card_number,
    }
