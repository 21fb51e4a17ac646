"""Everything that the register keeps of cardholders, to be put back exactly so."""

from collections.abc import Iterable, Mapping
from typing import Any

from django.db.models import Q

from cadrin.config.database.kept_rows import KeptRows, put_rows_back, rows_as_kept
from cadrin.people.commands.cardholders import move_versions
from cadrin.people.models import Cardholder, CustomFieldKey, Term

Kept = Mapping[str, KeptRows]


def kept_of(ids: Iterable[int]) -> dict[str, Any]:
    """Return the rows of cardholders."""
    wanted = list(ids)
    return {
        "cardholders": rows_as_kept(Cardholder, Q(pk__in=wanted)),
        "own_keys": rows_as_kept(CustomFieldKey, Q(cardholder_id__in=wanted)),
        "terms": rows_as_kept(Term, Q(cardholder_id__in=wanted)),
    }


def put_back(ids: Iterable[int], kept: Kept) -> None:
    """Make the rows of cardholders those that were kept; whoever was not there is deleted. Versions
    move on, so that whoever still has the page open is told.
    """
    wanted = list(ids)
    before = {row["id"] for row in kept["cardholders"]}
    theirs = Q(cardholder_id__in=wanted)
    put_rows_back(Term, kept["terms"], theirs)
    put_rows_back(CustomFieldKey, kept["own_keys"], theirs)
    put_rows_back(Cardholder, kept["cardholders"], Q(pk__in=wanted), kept=("version",))
    move_versions(before)
