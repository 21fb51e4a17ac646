from collections.abc import Iterable

from cadrin.photos.models import Image


def portraits_of(ids: Iterable[int]) -> dict[int, str]:
    """Return the tokens of portraits, by cardholder; whoever has none is left out."""
    return dict(
        Image.objects.filter(cardholder_id__in=list(ids), slot=0).values_list(
            "cardholder_id", "token"
        )
    )
