"""Read cardholders to change them."""

from collections.abc import Iterable, Mapping
from typing import Any

from django.db.models import F

from cadrin.core.errors import NotFound, Stale
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.parts import CARDHOLDER
from cadrin.people.models import Cardholder
from cadrin.people.queries import seen_among


def lock_cardholder(actor: Actor, cardholder_id: int, version: int) -> Cardholder:
    """Read a cardholder to change it; as `lock_cardholders`."""
    return lock_cardholders(actor, {cardholder_id: version})[cardholder_id]


def lock_cardholders(actor: Actor, versions: Mapping[int, int]) -> dict[int, Cardholder]:
    """Read cardholders to change them, within the writer's transaction, by id.

    Raises NotFound when one is gone or out of the actor's reach.
    Raises Stale, with what was changed since by whom, when the version of one is old.
    """
    found = seen_among(actor, versions) if versions else {}
    if len(found) < len(versions):
        raise NotFound.of("cardholder.not_found")
    for id_, version in versions.items():
        if found[id_].version != version:
            raise Stale(found[id_].version, _since(actor, id_, version))
    return found


def _since(actor: Actor, cardholder_id: int, version: int) -> list[Mapping[str, Any]]:
    # which groups somebody came into at other sites is not told to whoever is kept to one
    without = "membership." if actor.scope.sites is not None else ""
    since = history_of(CARDHOLDER, cardholder_id, after_version=version, without=without)
    return [seen_act(actor, act) for act in since]


def seen_act(actor: Actor, act: Mapping[str, Any]) -> Mapping[str, Any]:
    """Return an act of the journal as far as the actor may see it: birth dates are not
    everybody's.
    """
    if Permission.BIRTH_DATES in actor.permissions:
        return act
    return {
        **act,
        "changes": {field: pair for field, pair in act["changes"].items() if field != "born_on"},
    }


def new_cardholder() -> Cardholder:
    """Return a cardholder to be written for the first time."""
    return Cardholder(version=0)


def move_versions(ids: Iterable[int]) -> None:
    """Move the versions of cardholders: something of theirs was changed."""
    Cardholder.objects.filter(pk__in=list(ids)).update(version=F("version") + 1)
