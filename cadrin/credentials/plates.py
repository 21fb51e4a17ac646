"""Licence plates of cardholders: each is one cardholder's."""

from collections.abc import Iterable, Sequence

from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.core.credentials.plate.plate import normalized_plate, problems_with_plate
from cadrin.core.errors import Param, Problem
from cadrin.credentials.models import Plate
from cadrin.journal.commands import Act
from cadrin.people.commands.parts import Part, holders_before

MOST_PLATES = 10
_plates = RowsByIds(
    lambda: (
        Plate.objects.filter(holder_id__among=IDS).order_by("id").values_list("holder_id", "number")
    )
)


def plates_of(holder_ids: Iterable[int]) -> dict[int, tuple[str, ...]]:
    """Return the plates of cardholders, in the order in which they were entered."""
    found: dict[int, tuple[str, ...]] = dict.fromkeys(holder_ids, ())
    for holder_id, number in _plates(found):
        found[holder_id] += (number,)
    return found


def find_holder_of_plate(number: str) -> int | None:
    """Return the id of the cardholder whose plate it is, or None."""
    return Plate.objects.filter(number=number).values_list("holder_id", flat=True).first()


def tidy_plates(plates: Sequence[str]) -> tuple[str, ...]:
    """Return plates as they are kept, without those that were left empty."""
    return tuple(number for plate in plates if (number := normalized_plate(plate)))


def problems_with_plates(parts: Sequence[Part[str]]) -> list[tuple[Problem, ...]]:
    """Return everything against each cardholder having these plates, each beside its field."""
    taken = {
        plate.number: plate
        for plate in Plate.objects.filter(
            number__in={number for part in parts for number in tidy_plates(part.wanted)}
        ).select_related("holder")
    }
    wanted_before: set[str] = set()
    found = []
    for part in parts:
        problems = (
            [Problem("plate.too_many", "plates", {"most": MOST_PLATES})]
            if len(part.wanted) > MOST_PLATES
            else []
        )
        for place, plate in enumerate(part.wanted):
            field, number = f"plates.{place}", normalized_plate(plate)
            problems += problems_with_plate(plate, field)
            if number and number in wanted_before:
                problems.append(Problem("plate.twice", field))
            wanted_before.add(number)
            there = taken.get(number)
            if there and there.holder_id != part.holder_id:
                params: dict[str, Param] = {
                    "holder": there.holder.display_name,
                    "holder_id": there.holder_id,
                }
                problems.append(Problem("plate.taken", field, params))
        found.append(tuple(problems))
    return found


def set_plates(parts: Sequence[Part[str]]) -> list[Act]:
    """Make the plates of each cardholder these, and return the acts for the journal. The caller
    holds the transaction.
    """
    had = plates_of(holders_before(parts))
    gone, new, acts = [], [], []
    for part in parts:
        before, after = had.get(part.holder_id, ()), tidy_plates(part.wanted)
        for number in before:
            if number not in after:
                gone.append(number)
                acts.append(Act("plate.removed", (part.about,), {"plate": (number, None)}))
        for number in after:
            if number not in before:
                new.append(Plate(holder_id=part.holder_id, number=number))
                acts.append(Act("plate.added", (part.about,), {"plate": (None, number)}))
    if gone:
        Plate.objects.filter(number__in=gone).delete()
    Plate.objects.bulk_create(new)
    return acts
