"""Licence plates of cardholders: each is one cardholder's."""

from collections.abc import Sequence

from cadrin.core.credentials.plate.plate import normalized_plate, problems_with_plate
from cadrin.core.errors import Problem
from cadrin.credentials.models import Plate
from cadrin.journal.commands import About, Act

MOST_PLATES = 10


def plates_of(holder_id: int) -> tuple[str, ...]:
    """Return the plates of a cardholder, in the order in which they were entered."""
    return tuple(
        Plate.objects.filter(holder_id=holder_id).order_by("id").values_list("number", flat=True)
    )


def find_holder_of_plate(number: str) -> int | None:
    """Return the id of the cardholder whose plate it is, or None."""
    return Plate.objects.filter(number=number).values_list("holder_id", flat=True).first()


def tidy_plates(plates: Sequence[str]) -> tuple[str, ...]:
    """Return plates as they are kept, without those that were left empty."""
    return tuple(number for plate in plates if (number := normalized_plate(plate)))


def problems_with_plates(plates: Sequence[str], holder_id: int | None) -> tuple[Problem, ...]:
    """Return everything against a cardholder having these plates, each beside its field."""
    problems = (
        [Problem("plate.too_many", "plates", {"most": MOST_PLATES})]
        if len(plates) > MOST_PLATES
        else []
    )
    taken = {
        plate.number: plate.holder
        for plate in Plate.objects.filter(number__in=tidy_plates(plates))
        .exclude(holder_id=holder_id or 0)
        .select_related("holder")
    }
    for place, plate in enumerate(plates):
        field, number = f"plates.{place}", normalized_plate(plate)
        problems += problems_with_plate(plate, field)
        if number and number in tidy_plates(plates[:place]):
            problems.append(Problem("plate.twice", field))
        if holder := taken.get(number):
            problems.append(
                Problem(
                    "plate.taken", field, {"holder": holder.display_name, "holder_id": holder.pk}
                )
            )
    return tuple(problems)


def set_plates(holder_id: int, plates: Sequence[str], version: int, topic: str) -> list[Act]:
    """Make a cardholder's plates these, and return the acts for the journal. The caller holds the
    transaction.
    """
    before, after = plates_of(holder_id), tidy_plates(plates)
    about = (About(topic, holder_id, version),)
    gone = [number for number in before if number not in after]
    new = [number for number in after if number not in before]
    if gone:
        Plate.objects.filter(holder_id=holder_id, number__in=gone).delete()
    Plate.objects.bulk_create(Plate(holder_id=holder_id, number=number) for number in new)
    return [
        *(Act("plate.removed", about, {"plate": (number, None)}) for number in gone),
        *(Act("plate.added", about, {"plate": (None, number)}) for number in new),
    ]
