"""Groups that grew over the years: who answers for them, one that was made twice, a whole area."""

from datetime import datetime, timedelta

from cadrin.access.commands.groups import save_group
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.granted import grants_of
from cadrin.access.models import AccessGroup
from cadrin.demo import scenario
from cadrin.enrolment.commands.memberships import add_people
from cadrin.operators.actor import Actor
from cadrin.operators.models import Operator
from cadrin.people.models import Cardholder
from cadrin.reviews.commands import decide, end_review
from cadrin.reviews.looked import Kind
from cadrin.sites.commands.doors import save_door, stored_door
from cadrin.sites.models import Area, Door, Schedule


def groups_over_the_years(actor: Actor, now: datetime) -> None:
    """Say who looks through the people of some groups and of a door, and leave two groups to be put in order."""
    owners = dict(Operator.objects.values_list("username", "id"))
    for name, (purpose, owner, days, last_done) in scenario.GROUPS_LOOKED_AFTER.items():
        group = AccessGroup.objects.get(name=name)
        grants = tuple(grants_of(group))
        draft = GroupDraft(
            name, purpose, grants, group.version, owner_id=owners[owner], review_days=days
        )
        save_group(actor, group.pk, draft, now)
        if last_done is not None:
            at = now - timedelta(days=last_done)
            people = list(group.memberships.values_list("cardholder_id", flat=True))
            decide(
                actor, Kind.GROUP, group.pk, people, is_kept=True, reason="still works there", at=at
            )
            end_review(actor, Kind.GROUP, group.pk, at)
    door, owner, days = scenario.DOOR_LOOKED_AFTER
    door_id = Door.objects.get(name=door).pk
    looked_after = stored_door(door_id)._replace(owner_id=owners[owner], review_days=days)
    save_door(actor, door_id, looked_after, now)
    _made_twice(actor, now)


def _made_twice(actor: Actor, now: datetime) -> None:
    doors, schedules, areas = (
        dict(kind.objects.values_list("name", "id")) for kind in (Door, Schedule, Area)
    )
    name, purpose, grants, number = scenario.GROUP_MADE_TWICE
    drafts = tuple(GrantDraft(doors[door], schedules[hours]) for door, hours in grants.items())
    again = save_group(actor, None, GroupDraft(name, purpose, drafts), now)
    add_people(actor, again, [Cardholder.objects.get(number=number).pk], now)
    name, purpose, area, hours = scenario.GROUP_OF_AN_AREA
    whole = (GrantDraft(None, schedules[hours], areas[area]),)
    save_group(actor, None, GroupDraft(name, purpose, whole), now)
