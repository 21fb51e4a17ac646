"""Which image is whose, to be put back exactly so."""

from collections.abc import Iterable

from django.db.models import Q

from cadrin.config.database.kept_rows import KeptRows, rows_as_kept
from cadrin.photos.models import Image


def kept_of(cardholder_ids: Iterable[int]) -> KeptRows:
    """Return the images of cardholders."""
    return rows_as_kept(Image, Q(cardholder_id__in=list(cardholder_ids)))


def put_back(cardholder_ids: Iterable[int], kept: KeptRows) -> None:
    """Make the images of cardholders those that were kept; others are nobody's again, and are removed
    with all that are not saved.
    """
    wanted = list(cardholder_ids)
    ids = [row["id"] for row in kept]
    Image.objects.filter(cardholder_id__in=wanted).exclude(pk__in=ids).update(
        cardholder_id=None, slot=None
    )
    # a place is one image's: they are let go before they are put where they were
    Image.objects.filter(pk__in=ids).update(slot=None)
    for row in kept:
        Image.objects.filter(pk=row["id"]).update(
            cardholder_id=row["cardholder_id"], slot=row["slot"]
        )
