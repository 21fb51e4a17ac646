"""Everything against cardholders having these details, against the register too."""

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import date
from typing import Any, NamedTuple

from cadrin.config.database.reading import IDS, ObjectsByIds, RowsByIds
from cadrin.core.errors import Param, Problem
from cadrin.core.people.custom_fields import CustomField, read_value, sort_key
from cadrin.core.people.details import Details, RegisterRules, problems_with_details
from cadrin.core.people.names import number_key
from cadrin.operators.actor import Actor
from cadrin.people.models import Cardholder, Company, CustomFieldKey, Department, Kind
from cadrin.people.queries import has_external_id
from cadrin.people.scoping import departments_seen

CHOSEN = ("department", "company", "kind")
"""The fields of a cardholder that name something of a list."""
_LISTS: dict[str, ObjectsByIds[Any]] = {
    "department": ObjectsByIds(Department, lambda: Department.objects.filter(pk__among=IDS)),
    "company": ObjectsByIds(Company, lambda: Company.objects.filter(pk__among=IDS)),
    "kind": ObjectsByIds(Kind, lambda: Kind.objects.filter(pk__among=IDS)),
}


def chosen_among(field: str, ids: Iterable[int | None]) -> dict[int, Any]:
    """Return what was chosen in a field, by id, as far as it is there."""
    wanted = {id_ for id_ in ids if id_}
    return {found.pk: found for found in _LISTS[field](wanted)} if wanted else {}


class DetailsWanted(NamedTuple):
    """Details as a cardholder shall have them; ``holder_id`` is 0 for a new one."""

    holder_id: int
    details: Details


def problems_with_details_of(
    actor: Actor, wanted: Sequence[DetailsWanted], rules: RegisterRules, today: date
) -> list[tuple[Problem, ...]]:
    """Return everything that is wrong with the details of each, in order.

    Whoever is kept to departments or companies can put nobody outside of them.
    """
    plain = [problems_with_details(item.details, rules, today) for item in wanted]
    taken = _custom_values_taken(wanted, rules)
    names = _names_taken(wanted)
    chosen = _problems_with_chosen(actor, wanted)
    return [
        (*here, *own, *number, *lists)
        for here, own, number, lists in zip(plain, taken, names, chosen, strict=True)
    ]


def _names_taken(wanted: Sequence[DetailsWanted]) -> Iterable[list[Problem]]:
    """Find numbers, and what other systems know people by, that are another's already."""
    for here in zip(_twins(wanted, _NUMBER), _twins(wanted, _EXTERNAL_ID), strict=True):
        yield [problem for problem in here if problem]


class _Unique(NamedTuple):
    """A field that nobody shares: where its key is kept, and what is said of one that is taken."""

    field: str
    column: str
    taken: str
    twice: str
    key_of: Callable[[str], str]
    rows: ObjectsByIds[Cardholder]


_NUMBER = _Unique(
    "number",
    "number_key",
    "cardholder.number_taken",
    "cardholder.number_twice",
    number_key,
    ObjectsByIds(Cardholder, lambda: Cardholder.objects.filter(number_key__among=IDS)),
)
_EXTERNAL_ID = _Unique(
    "external_id",
    "external_id",
    "cardholder.external_id_taken",
    "cardholder.external_id_twice",
    str.strip,
    ObjectsByIds(
        Cardholder, lambda: Cardholder.objects.filter(has_external_id(), external_id__among=IDS)
    ),
)


def _twins(wanted: Sequence[DetailsWanted], by: _Unique) -> Iterable[Problem | None]:
    keys = [by.key_of(getattr(item.details, by.field)) for item in wanted]
    count = Counter(key for key in keys if key)
    twins = {getattr(twin, by.column): twin for twin in by.rows(count)} if count else {}
    for item, key in zip(wanted, keys, strict=True):
        twin = twins.get(key)
        if twin and twin.pk != item.holder_id:
            params: dict[str, Param] = {
                by.field: getattr(twin, by.field),
                "name": twin.display_name,
                "holder_id": twin.pk,
            }
            yield Problem(by.taken, by.field, params)
        elif count[key] > 1:
            yield Problem(by.twice, by.field, {by.field: getattr(item.details, by.field)})
        else:
            yield None


def _custom_values_taken(
    wanted: Sequence[DetailsWanted], rules: RegisterRules
) -> list[list[Problem]]:
    found: list[list[Problem]] = [[] for _ in wanted]
    for field in rules.custom_fields:
        if field.is_unique:
            keys = [_key_of(field, item.details) for item in wanted]
            for here, problem in zip(found, _values_taken(field, wanted, keys), strict=True):
                here += [problem] if problem else []
    return found


def _key_of(field: CustomField, details: Details) -> str | None:
    value = read_value(field, details.own.get(field.id, ""))
    return None if not value or isinstance(value, Problem) else sort_key(field, value)


def _values_taken(
    field: CustomField, wanted: Sequence[DetailsWanted], keys: Sequence[str | None]
) -> Iterable[Problem | None]:
    named = [key for key in keys if key is not None]
    twins = {
        row.key: row.cardholder
        for row in CustomFieldKey.objects.filter(field_id=field.id, key__in=named).select_related(
            "cardholder"
        )
    }
    count = Counter(named)
    for item, key in zip(wanted, keys, strict=True):
        twin = twins.get(key) if key is not None else None
        if twin and twin.pk != item.holder_id:
            params: dict[str, Param] = {
                "label": field.label,
                "name": twin.display_name,
                "holder_id": twin.pk,
            }
            yield Problem("own.taken", field.path, params)
        elif key is not None and count[key] > 1:
            yield Problem("own.twice", field.path, {"label": field.label})
        else:
            yield None


_chosen_before = RowsByIds(
    lambda: Cardholder.objects.filter(pk__among=IDS).values_list(
        "id", *(f"{field}_id" for field in CHOSEN)
    )
)


def _problems_with_chosen(
    actor: Actor, wanted: Sequence[DetailsWanted]
) -> Iterable[tuple[Problem, ...]]:
    within = {"department": departments_seen(actor), "company": actor.scope.companies, "kind": None}
    there: dict[str, Mapping[int, Any]] = {
        field: chosen_among(field, (getattr(item.details, f"{field}_id") for item in wanted))
        for field in CHOSEN
    }
    before = {
        id_: dict(zip(CHOSEN, chosen, strict=True))
        for id_, *chosen in _chosen_before([item.holder_id for item in wanted if item.holder_id])
    }
    for item in wanted:
        kept = before.get(item.holder_id, {})
        yield tuple(
            problem
            for field in CHOSEN
            if (problem := _chosen(field, item.details, there[field], within[field], kept))
        )


def _chosen(
    field: str,
    details: Details,
    there: Mapping[int, Any],
    reach: frozenset[int] | None,
    before: Mapping[str, int | None],
) -> Problem | None:
    id_ = getattr(details, f"{field}_id")
    if id_ is None:
        return Problem("scope.needed", field) if reach is not None else None
    chosen = there.get(id_)
    if chosen is None or (reach is not None and id_ not in reach):
        return Problem("input.no_longer_there", field)
    if chosen.is_retired and before.get(field) != id_:
        return Problem("input.retired", field, {"name": chosen.name})
    return None
