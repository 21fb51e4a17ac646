"""The doors that grants open, be it by the door itself or by its area."""

from collections.abc import Iterable
from typing import Any

from django.db.models import QuerySet
from django.db.models.functions import Coalesce

from cadrin.access.drafts import GrantDraft
from cadrin.access.models import AccessGroup as Group
from cadrin.access.models import Grant
from cadrin.core.access.plan import AccessGroup, Way
from cadrin.sites.queries import doors_into


def granted() -> QuerySet[Any]:
    """Return grants, each once for every door that it ``opens``."""
    opening = Grant.objects.annotate(opens=Coalesce("door_id", "area__doors"))
    return opening.filter(opens__isnull=False)


def grants_of(group: Group) -> dict[GrantDraft, int]:
    """Return the grants of a group as they were wanted, each with its id."""
    rows = group.grants.order_by("id").values_list("door", "schedule", "area", "way", "id")
    return {
        GrantDraft(door_id, schedule_id, area_id, Way(way)): id_
        for door_id, schedule_id, area_id, way, id_ in rows
    }


def group_that_opens(
    grants: Iterable[GrantDraft], id_: int = 0, name: str = "", *, overrides: bool = False
) -> AccessGroup:
    """Return a group with these grants as the core takes it."""
    return AccessGroup.of_grants(id_, name, _opened_by(grants), overrides=overrides)


def _opened_by(grants: Iterable[GrantDraft]) -> Iterable[tuple[int, int, Way]]:
    """Yield each door that grants open, with its schedule and the way."""
    drafts = list(grants)
    doors = doors_into({grant.area_id for grant in drafts if grant.area_id is not None})
    for grant in drafts:
        opened = doors.get(grant.area_id, ()) if grant.area_id else (grant.door_id,)
        yield from ((id_, grant.schedule_id, grant.way) for id_ in opened if id_ is not None)
