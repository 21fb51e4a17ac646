"""People whom only a controller knew: written down when they are found, and kept for a while."""

from collections.abc import Mapping
from datetime import datetime, timedelta

import orjson
from django.db import transaction
from django.db.models import Count

from cadrin.core.access.plan import Holder
from cadrin.core.errors import CadrinError
from cadrin.core.records.cardholders import decode_cardholder
from cadrin.core.records.keys import Body, RecordKey
from cadrin.delivery.models import FoundPerson
from cadrin.operators.sealing import seal, unseal

KEPT_FOR = timedelta(days=30)


@transaction.atomic
def note_people(controller_id: int, people: Mapping[RecordKey, Body], at: datetime) -> None:
    """Write down whom a controller holds and nobody sent, in place of what was found of them before."""
    ids = [key.id for key in people]
    FoundPerson.objects.filter(controller_id=controller_id, subject_id__in=ids).delete()
    FoundPerson.objects.bulk_create(
        FoundPerson(
            controller_id=controller_id,
            subject_id=key.id,
            sealed=seal(orjson.dumps(body).decode()),
            found_at=at,
        )
        for key, body in people.items()
    )


def found_at_controllers() -> dict[int, int]:
    """Return how many people only each controller knew."""
    rows = FoundPerson.objects.values_list("controller_id").annotate(Count("id")).order_by()
    return dict(rows)


def people_found(controller_id: int) -> list[Holder]:
    """Return whom only a controller knew, as it had them; what cannot be read is left out."""
    found = []
    rows = FoundPerson.objects.filter(controller_id=controller_id).order_by("subject_id")
    for subject_id, sealed in rows.values_list("subject_id", "sealed"):
        try:
            found.append(decode_cardholder(subject_id, orjson.loads(unseal(sealed))))
        except (CadrinError, KeyError, TypeError, ValueError):
            continue
    return found


@transaction.atomic
def forget_people_of(controller_id: int) -> None:
    """Forget whom a controller knew: they were brought in."""
    FoundPerson.objects.filter(controller_id=controller_id).delete()


def forget_found_people(at: datetime) -> int:
    """Forget people who were found long ago, and return how many."""
    old = FoundPerson.objects.filter(found_at__lt=at - KEPT_FOR)
    with transaction.atomic():
        return old.delete()[0]
