"""What happened with a controller that a person should know: kept for some weeks, and counted while
it goes on.
"""

from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import F

from cadrin.delivery.incident_kinds import IncidentKind
from cadrin.delivery.models import Incident

GOES_ON_WITHIN = timedelta(hours=1)
KEPT = timedelta(days=30)
LONGEST_DETAIL = 200


@transaction.atomic
def note_incident(
    controller_id: int, kind: IncidentKind, detail: str, at: datetime, count: int = 1
) -> None:
    """Write down that something happened, or that it went on happening."""
    detail = detail[:LONGEST_DETAIL]
    lately = Incident.objects.filter(
        controller_id=controller_id, kind=kind, detail=detail, last_at__gte=at - GOES_ON_WITHIN
    )
    if not lately.update(count=F("count") + count, last_at=at):
        Incident.objects.create(
            controller_id=controller_id,
            kind=kind,
            detail=detail,
            count=count,
            first_at=at,
            last_at=at,
        )


def forget_old_incidents(at: datetime) -> int:
    """Delete what happened long ago, and return how much."""
    return Incident.objects.filter(last_at__lt=at - KEPT).delete()[0]
