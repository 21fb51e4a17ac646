"""Every membership that is kept of cardholders, to be put back exactly so."""

from collections.abc import Iterable

from django.db.models import Q

from cadrin.access.models import Membership
from cadrin.config.database.kept_rows import KeptRows, put_rows_back, rows_as_kept


def kept_of(cardholder_ids: Iterable[int]) -> KeptRows:
    """Return the memberships of cardholders."""
    return rows_as_kept(Membership, Q(cardholder_id__in=list(cardholder_ids)))


def put_back(cardholder_ids: Iterable[int], kept: KeptRows) -> None:
    """Make the memberships of cardholders those that were kept."""
    put_rows_back(Membership, kept, Q(cardholder_id__in=list(cardholder_ids)))
