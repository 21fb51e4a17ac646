"""Whom an actor may see: whoever is outside of their scope is not there for them."""

from collections.abc import Callable, Iterable

from django.db.models import Q, QuerySet

from cadrin.core.errors import Problem
from cadrin.operators.actor import Actor
from cadrin.operators.scope import Scope
from cadrin.people.models import Cardholder, Department

_narrowings: list[Callable[[Scope], Q]] = []


def narrow_by(narrowing: Callable[[Scope], Q]) -> None:
    """Let an app higher in the house say whom else a scope leaves out; called once, when it is made
    ready.
    """
    _narrowings.append(narrowing)


def seen_by(actor: Actor) -> Q:
    """Match the cardholders an actor may see."""
    match = Q()
    if actor.scope.is_whole:
        return match
    if (departments := departments_seen(actor)) is not None:
        match &= Q(department_id__in=departments)
    if actor.scope.companies is not None:
        match &= Q(company_id__in=actor.scope.companies)
    for narrowing in _narrowings:
        match &= narrowing(actor.scope)
    return match


def people_seen(actor: Actor) -> QuerySet[Cardholder]:
    """Return the cardholders an actor may see, to be narrowed down further; nobody writes through
    it.
    """
    return Cardholder.objects.filter(seen_by(actor))


def departments_seen(actor: Actor) -> frozenset[int] | None:
    """Return the departments within reach, with all below them; None is all."""
    wanted = actor.scope.departments
    if wanted is None:
        return None
    parents = dict(Department.objects.values_list("id", "parent_id"))

    def is_within(id_: int | None) -> bool:
        while id_ is not None:
            if id_ in wanted:
                return True
            id_ = parents[id_]
        return False

    return frozenset(id_ for id_ in parents if is_within(id_))


def only_seen(actor: Actor, ids: Iterable[int]) -> set[int]:
    """Return those of the ids whose cardholders an actor may see."""
    wanted = set(ids)
    if actor.scope.is_whole or not wanted:
        return wanted
    return set(
        Cardholder.objects.filter(seen_by(actor), pk__in=wanted).values_list("id", flat=True)
    )


def without_strangers(actor: Actor, problems: Iterable[Problem]) -> tuple[Problem, ...]:
    """Take out of problems who stands in the way, where the actor may not see them.

    A problem that names somebody names their id as ``holder_id`` as well.
    """
    found = tuple(problems)
    named = {int(p.params["holder_id"] or 0) for p in found if "holder_id" in p.params}
    seen = only_seen(actor, named)
    return tuple(
        Problem(f"{p.code}_elsewhere", p.field)
        if "holder_id" in p.params and p.params["holder_id"] not in seen
        else p
        for p in found
    )
