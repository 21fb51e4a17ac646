"""Write cardholders. Each act is one transaction, with its journal entry and its delivery mark."""

import dataclasses
from collections.abc import Iterable
from typing import Any

from cadrin.core.details import Details, problems_with_details
from cadrin.core.errors import NotFound, Problem, Stale
from cadrin.core.names import fold, number_key, terms_of
from cadrin.journal.commands import About, Act, Changes, changes_between
from cadrin.journal.queries import history_of
from cadrin.people.models import Cardholder, Company, Department, Kind, Term

CARDHOLDER = "cardholder"
CHOSEN = {"department": Department, "company": Company, "kind": Kind}
FIELDS = tuple(field.name for field in dataclasses.fields(Details))


def lock_cardholder(cardholder_id: int, version: int) -> Cardholder:
    """Read a cardholder to change it, within the writer's transaction.

    Raises NotFound when it is gone and Stale, with what was changed since by whom, when ``version`` is old.
    """
    cardholder = Cardholder.objects.filter(pk=cardholder_id).first()
    if cardholder is None:
        raise NotFound.of("cardholder.not_found")
    if cardholder.version != version:
        raise Stale(cardholder.version, history_of(CARDHOLDER, cardholder_id, after_version=version))
    return cardholder


def problems_with_cardholder(details: Details, cardholder_id: int | None) -> tuple[Problem, ...]:
    """Give everything that is wrong with details, against the register too. ``cardholder_id`` is None for a new one."""
    problems = list(problems_with_details(details))
    twin = Cardholder.objects.filter(number_key=number_key(details.number)).exclude(pk=cardholder_id or 0).first()
    if twin:
        problems.append(
            Problem("cardholder.number_taken", "number", {"number": twin.number, "name": twin.display_name})
        )
    for field, model in CHOSEN.items():
        id_ = getattr(details, f"{field}_id")
        if id_ is not None and not model.objects.filter(pk=id_).exists():  # type: ignore[attr-defined]
            problems.append(Problem("input.no_longer_there", field))
    return tuple(problems)


def details_of(cardholder: Cardholder) -> dict[str, Any]:
    """Give the stored values of the fields of `Details`."""
    return {name: getattr(cardholder, name) for name in FIELDS}


def write_details(cardholder: Cardholder, details: Details, version: int) -> Act | None:
    """Put details into a new or locked cardholder and save it; give the act for the journal, None if nothing differs.

    The caller holds the transaction, has checked `problems_with_cardholder`, and moves the version.
    """
    is_new = cardholder.pk is None
    after = {name: getattr(details, name) for name in FIELDS}
    changes = changes_between({} if is_new else details_of(cardholder), after)
    if not changes:
        return None
    for name, value in after.items():
        setattr(cardholder, name, value)
    cardholder.number_key = number_key(details.number)
    cardholder.display_name = details.display_name
    cardholder.sort_name = fold(f"{details.last_name} {details.first_name}")[:130]
    cardholder.save()
    set_terms(cardholder.pk, "person", terms_of(details.first_name, details.last_name, details.number, details.email))
    action = "cardholder.enrolled" if is_new else "cardholder.changed"
    return Act(action, (About(CARDHOLDER, cardholder.pk, version),), _with_names(changes))


def _with_names(changes: Changes) -> Changes:
    """Write names for ids: the journal outlives what they stand for."""
    named = dict(changes)
    for field, model in CHOSEN.items():
        if ids := named.pop(f"{field}_id", None):
            names = dict(model.objects.filter(pk__in=[id_ for id_ in ids if id_]).values_list("id", "name"))  # type: ignore[attr-defined]
            named[field] = (names.get(ids[0]), names.get(ids[1]))
    return named


def set_terms(cardholder_id: int, source: str, texts: Iterable[str]) -> None:
    """Set the words one source finds a cardholder under, in place of those it set before."""
    Term.objects.filter(cardholder_id=cardholder_id, source=source).delete()
    Term.objects.bulk_create(
        Term(cardholder_id=cardholder_id, source=source, text=text[:254]) for text in sorted(set(texts))
    )
