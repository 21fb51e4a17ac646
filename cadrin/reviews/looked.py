"""What is looked through: the people of an access group, or those whom groups let in at a door."""

from enum import StrEnum
from typing import Any, NamedTuple

from cadrin.access.plan import access_plan
from cadrin.access.queries import doors_of_group, get_group
from cadrin.core.errors import NotFound
from cadrin.operators.actor import Actor
from cadrin.sites.queries import doors_within


class Kind(StrEnum):
    GROUP = "group"
    DOOR = "door"


class Looked(NamedTuple):
    """One access group or door, with the groups whose people are looked through and the doors at which
    it is told when they were last let in.
    """

    kind: Kind
    id: int
    name: str
    group_ids: frozenset[int]
    door_ids: tuple[int, ...]

    @property
    def of_reviews(self) -> dict[str, Any]:
        """By what its reviews are known."""
        return {f"{self.kind.value}_id": self.id}


def looked_through(actor: Actor, kind: Kind, id_: int) -> Looked:
    """Raises NotFound, for what is out of the actor's reach as well."""
    if kind is Kind.GROUP:
        group = get_group(actor, id_)
        return Looked(kind, id_, group.name, frozenset({id_}), tuple(doors_of_group(id_)))
    name = doors_within(actor).filter(pk=id_).values_list("name", flat=True).first()
    if name is None:
        raise NotFound.of("door.not_found")
    return Looked(kind, id_, name, groups_into(id_), (id_,))


def groups_into(door_id: int) -> frozenset[int]:
    """Return the groups that let people in, or out, at a door in some hours."""
    return frozenset(group.id for group in access_plan().groups_at(door_id))
