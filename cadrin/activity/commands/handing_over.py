"""What becomes of reads when their cardholder is merged or erased."""

from cadrin.activity.models import Read


def hand_over_reads(from_id: int, to_id: int) -> None:
    """Make somebody's reads another cardholder's."""
    Read.objects.filter(cardholder_id=from_id).update(cardholder_id=to_id)


def rename_in_reads(cardholder_id: int, name: str) -> None:
    """Write another name over the one that reads repeat."""
    Read.objects.filter(cardholder_id=cardholder_id).update(cardholder_name=name)


def keep_reads(reads: list[Read]) -> None:
    """Write reads, the oldest first."""
    Read.objects.bulk_create(sorted(reads, key=lambda read: read.at))
