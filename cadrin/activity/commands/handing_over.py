"""What becomes of reads when their cardholder is merged or erased."""

from django.db import transaction

from cadrin.activity.models import Read
from cadrin.activity.rows import ReadRow, write_reads


def hand_over_reads(from_id: int, to_id: int) -> None:
    """Make somebody's reads another cardholder's."""
    Read.objects.filter(cardholder_id=from_id).update(cardholder_id=to_id)


def rename_in_reads(cardholder_id: int, name: str) -> None:
    """Write another name over the one that reads repeat."""
    Read.objects.filter(cardholder_id=cardholder_id).update(cardholder_name=name)


@transaction.atomic
def keep_reads(reads: list[ReadRow]) -> None:
    """Write reads, the oldest first."""
    write_reads(sorted(reads, key=lambda read: read.at))
