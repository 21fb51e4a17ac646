"""Find who may be the same human being."""

from functools import lru_cache

from django.db.models import Q

from cadrin.core.people.details import Details
from cadrin.core.people.duplicates import PersonFacts, Sign, name_likeness, signs
from cadrin.core.people.names import fold, number_key
from cadrin.journal.queries import latest_digest
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.scope import Scope
from cadrin.outbox.rows import Rows
from cadrin.people.models import (
    Cardholder,
    Term,
)
from cadrin.people.scoping import people_seen

_FACTS = ("number", "first_name", "last_name", "email", "born_on", "department_id")
"""What is compared, in the order of `PersonFacts`."""
_MOST_CANDIDATES = 200
_MOST_COMPARED, _MOST_DOUBLES = 3000, 3


def possible_duplicates(actor: Actor, details: Details, cardholder_id: int | None) -> Rows:
    """Return who may be the same human being, likeliest first, each with the signs that speak for
    it.
    """
    # whoever may not see birth dates must not find them out by trying
    born_on = details.born_on if Permission.BIRTH_DATES in actor.permissions else None
    facts = PersonFacts(
        details.number,
        details.first_name,
        details.last_name,
        details.email,
        born_on,
        details.department_id,
    )
    likeliest = _alike(facts, cardholder_id, actor.scope, latest_digest())
    shown = Cardholder.objects.in_bulk([id_ for id_, _, _ in likeliest]) if likeliest else {}
    return [
        {
            "id": id_,
            "display_name": shown[id_].display_name,
            **{name: getattr(shown[id_], name) for name in _FACTS},
            "department_name": department.name if (department := shown[id_].department) else None,
            "signs": list(told),
            "likeness": likeness,
        }
        for id_, likeness, told in likeliest
        if id_ in shown
    ]


@lru_cache(maxsize=64)
def _alike(
    facts: PersonFacts, cardholder_id: int | None, scope: Scope, digest: str
) -> list[tuple[int, float, tuple[Sign, ...]]]:
    """Return the likeliest, each with the likeness of the names and the signs. As a file is worked on,
    it is asked again with each change of anything: the answer stays until something is done to
    somebody, which the journal's ``digest`` tells.
    """
    candidates = Q(number_key=number_key(facts.number))
    if facts.email:
        candidates |= Q(pk__in=Term.objects.filter(text=fold(facts.email)).values("cardholder_id"))
    has_name = bool(facts.first_name.strip() and facts.last_name.strip())
    if has_name and facts.born_on:
        candidates |= Q(born_on=facts.born_on)
    if has_name and facts.department_id:
        candidates |= Q(department_id=facts.department_id)
    somebody = Actor(None, "", frozenset(), scope)
    people = people_seen(somebody).filter(candidates, erased_at=None).exclude(pk=cardholder_id or 0)
    found = []
    for id_, *row in people.values_list("id", *_FACTS)[:_MOST_COMPARED]:
        other = PersonFacts(*row)
        if told := signs(facts, other):
            found.append((-len(told), -name_likeness(facts, other), id_, told))
    likeliest = sorted(found, key=lambda one: one[:2])[:_MOST_DOUBLES]
    return [(id_, -unlikeness, told) for _, unlikeness, id_, told in likeliest]
