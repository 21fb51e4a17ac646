"""Find who may be the same human being."""

from django.db.models import Q

from cadrin.core.people.details import Details
from cadrin.core.people.duplicates import PersonFacts, name_likeness, signs
from cadrin.core.people.names import fold, number_key
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.rows import Rows
from cadrin.people.models import (
    Cardholder,
    Term,
)
from cadrin.people.scoping import seen_by

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
    candidates = Q(number_key=number_key(details.number))
    if details.email:
        candidates |= Q(
            pk__in=Term.objects.filter(text=fold(details.email)).values("cardholder_id")
        )
    has_name = bool(details.first_name.strip() and details.last_name.strip())
    if has_name and born_on:
        candidates |= Q(born_on=born_on)
    if has_name and details.department_id:
        candidates |= Q(department_id=details.department_id)
    people = Cardholder.objects.filter(seen_by(actor), candidates, erased_at=None).exclude(
        pk=cardholder_id or 0
    )
    found = []
    for id_, *row in people.values_list("id", *_FACTS)[:_MOST_COMPARED]:
        other = PersonFacts(*row)
        if told := signs(facts, other):
            found.append((-len(told), -name_likeness(facts, other), id_, told))
    likeliest = sorted(found, key=lambda one: one[:2])[:_MOST_DOUBLES]
    shown = Cardholder.objects.in_bulk([id_ for _, _, id_, _ in likeliest])
    return [
        {
            "id": id_,
            "display_name": shown[id_].display_name,
            **{name: getattr(shown[id_], name) for name in _FACTS},
            "department_name": department.name if (department := shown[id_].department) else None,
            "signs": list(told),
            "likeness": -unlikeness,
        }
        for _, unlikeness, id_, told in likeliest
        if id_ in shown
    ]
