from collections.abc import Iterable

from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.photos.models import Image


def portrait_digests_of(ids: Iterable[int]) -> dict[int, str]:
    """Return that by which the file of each portrait is known again, by cardholder."""
    return dict(
        Image.objects.filter(cardholder_id__in=list(ids), slot=0).values_list(
            "cardholder_id", "digest"
        )
    )


_portraits = RowsByIds(
    lambda: Image.objects.filter(cardholder_id__among=IDS, slot=0).values_list(
        "cardholder_id", "token"
    )
)


def portraits_of(ids: Iterable[int]) -> dict[int, str]:
    """Return the tokens of portraits, by cardholder; whoever has none is left out."""
    return dict(_portraits(ids))
