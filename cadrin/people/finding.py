"""Find the people that the rows of a list are about: by number, address, custom field, name and birth."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import date
from typing import Any, NamedTuple

from django.db.models import Q
from django.db.models.expressions import RawSQL

from cadrin.core.people.duplicates import PersonFacts, Sign, signs
from cadrin.core.people.names import fold, sort_name
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.models import Cardholder, CustomFieldKey, Term
from cadrin.people.queries import has_external_id
from cadrin.people.scoping import seen_by

Found = Mapping[Any, Sequence[int]]
"""What was looked for, to the ids of whom the actor may see and who has it."""
NameAndBirth = tuple[str, date]


def by_number(actor: Actor, keys: Iterable[str]) -> Found:
    return _by_column(actor, "number_key", keys)


def by_external_id(actor: Actor, ids: Iterable[str]) -> Found:
    return _by_column(actor, "external_id", ids, has_external_id())


def by_name(actor: Actor, sort_names: Iterable[str]) -> Found:
    """Return people by the form in which names are put in order."""
    return _by_column(actor, "sort_name", sort_names)


def _by_column(actor: Actor, column: str, values: Iterable[str], *also: RawSQL) -> Found:
    rows = Cardholder.objects.filter(
        seen_by(actor), *also, erased_at=None, **{f"{column}__among": list(values)}
    )
    return _gathered(rows.values_list(column, "id"))


def by_email(actor: Actor, folded: Iterable[str]) -> Found:
    """Return people by the folded form of their address."""
    wanted = set(folded)
    hits = Term.objects.filter(text__in=wanted).values("cardholder_id")
    rows = Cardholder.objects.filter(seen_by(actor), erased_at=None, pk__in=hits)
    return _gathered((fold(email), id_) for email, id_ in rows.values_list("email", "id"))


def by_custom_field(actor: Actor, field_id: int, keys: Iterable[str]) -> Found:
    rows = CustomFieldKey.objects.filter(
        field_id=field_id,
        key__in=list(keys),
        cardholder__in=Cardholder.objects.filter(seen_by(actor), erased_at=None),
    )
    return _gathered(rows.values_list("key", "cardholder_id"))


def by_name_and_birth(actor: Actor, wanted: Iterable[NameAndBirth]) -> Found:
    """Return people by the form in which names are put in order, and their birth date; of nobody, to
    whoever may not see those.
    """
    if Permission.BIRTH_DATES not in actor.permissions:
        return {}
    days = {day for _, day in wanted}
    rows = Cardholder.objects.filter(seen_by(actor), erased_at=None, born_on__in=days)
    return _gathered(
        ((name, day), id_) for name, day, id_ in rows.values_list("sort_name", "born_on", "id")
    )


def _gathered(pairs: Iterable[tuple[Any, int]]) -> Found:
    found: dict[Any, list[int]] = {}
    for key, id_ in pairs:
        found.setdefault(key, []).append(id_)
    return found


class Alike(NamedTuple):
    """Somebody who may be the same human being, and what speaks for it."""

    id: int
    display_name: str
    signs: tuple[Sign, ...]


def alike_in_register(actor: Actor, people: Sequence[PersonFacts]) -> list[Alike | None]:
    """Return, for each of these newcomers, who is in the register and may be the same; of several the
    one for whom most speaks.

    Whoever shares an address, a birth date or exactly their name is compared.
    """
    sees_births = Permission.BIRTH_DATES in actor.permissions
    emails = {fold(person.email) for person in people if person.email}
    names = {sort_name(person.first_name, person.last_name) for person in people}
    match = Q(sort_name__in=names)
    if emails:
        match |= Q(pk__in=Term.objects.filter(text__in=emails).values("cardholder_id"))
    if sees_births and (days := {person.born_on for person in people if person.born_on}):
        match |= Q(born_on__in=days)
    fields = ("number", "first_name", "last_name", "email", "born_on", "department_id")
    rows = Cardholder.objects.filter(match, seen_by(actor), erased_at=None)
    known: dict[Any, list[tuple[int, str, PersonFacts]]] = {}
    for row in rows.values("id", "display_name", *fields):
        facts = PersonFacts(**{name: row[name] for name in fields})
        if not sees_births:
            facts = _without_birth(facts)
        for key in _keys(facts):
            known.setdefault(key, []).append((row["id"], row["display_name"], facts))
    return [_likeliest(person, known, _keys) for person in people]


def _likeliest(
    person: PersonFacts,
    known: Mapping[Any, Sequence[tuple[int, str, PersonFacts]]],
    keys: Callable[[PersonFacts], Iterable[Any]],
) -> Alike | None:
    found: Alike | None = None
    for key in keys(person):
        for id_, name, other in known.get(key, ()):
            told = signs(person, other)
            if told and (found is None or len(told) > len(found.signs)):
                found = Alike(id_, name, told)
    return found


def _keys(person: PersonFacts) -> Iterable[Any]:
    if person.email:
        yield fold(person.email)
    if person.born_on:
        yield person.born_on
    yield (sort_name(person.first_name, person.last_name),)


def _without_birth(facts: PersonFacts) -> PersonFacts:
    return PersonFacts(
        facts.number, facts.first_name, facts.last_name, facts.email, None, facts.department_id
    )
