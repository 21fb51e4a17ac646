"""The plan of the whole house, read once for each version of it."""

from collections.abc import Iterable, Mapping
from functools import lru_cache

from cadrin.access.models import AccessGroup, Grant, Membership, PlanVersion, Reader, Schedule
from cadrin.cards.models import Card
from cadrin.cards.queries import formats
from cadrin.core.access.plan import AccessGroup as CoreGroup
from cadrin.core.access.plan import Card as CoreCard
from cadrin.core.access.plan import CardKey, Holder, Plan
from cadrin.core.access.plan import Membership as CoreMembership
from cadrin.core.cards.status import CardStatus
from cadrin.core.details import Details
from cadrin.core.schedules import Hours
from cadrin.core.schedules import Schedule as CoreSchedule
from cadrin.core.validity import Span, Standing
from cadrin.people.models import Cardholder


def plan_version() -> str:
    """Give the token that every change to doors, schedules, groups and formats moves."""
    return PlanVersion.objects.filter(pk=1).values_list("token", flat=True).first() or ""


def the_plan() -> Plan:
    """Give doors, schedules, groups and formats as the core takes them; read anew only when they have changed."""
    return _plan_at(plan_version())


@lru_cache(maxsize=2)
def _plan_at(version: str) -> Plan:
    grants: dict[int, dict[int, list[int]]] = {}
    for group_id, door_id, schedule_id in Grant.objects.order_by("id").values_list("group", "door", "schedule"):
        grants.setdefault(group_id, {}).setdefault(door_id, []).append(schedule_id)
    return Plan(
        schedules={s.pk: schedule_of(s.zone, s.hours) for s in Schedule.objects.all()},
        groups={
            id_: CoreGroup(id_, name, {door: tuple(ids) for door, ids in grants.get(id_, {}).items()})
            for id_, name in AccessGroup.objects.values_list("id", "name")
        },
        formats=formats(),
        door_of_reader={
            reader_id: door_id
            for reader_id, door_id in Reader.objects.values_list("id", "door_id")
            if door_id is not None
        },
    )


def schedule_of(zone: str, hours: Iterable[Iterable[int]]) -> CoreSchedule:
    """Read a schedule as the database keeps it. Raises Invalid."""
    return CoreSchedule(zone, tuple(Hours(*window) for window in hours))


def holder_of(
    id_: int,
    details: Details,
    name: str,
    cards: Iterable[CoreCard] = (),
    memberships: Iterable[CoreMembership] = (),
) -> Holder:
    """Give a cardholder as far as doors are concerned."""
    return Holder(
        id_,
        details.number,
        name,
        details.standing,
        details.span,
        details.suspended_until,
        tuple(cards),
        tuple(memberships),
    )


def holders(ids: Iterable[int]) -> dict[int, Holder]:
    """Give cardholders with their cards and memberships, in three queries; those that are not there are left out."""
    wanted = list(ids)
    cards: dict[int, list[CoreCard]] = {}
    for holder_id, *key, status, start, end in (
        Card.objects.filter(holder_id__in=wanted)
        .order_by("holder_id", "id")
        .values_list("holder_id", "format_id", "facility_code", "card_number", "status", "activation_at", "expiry_at")
    ):
        cards.setdefault(holder_id, []).append(CoreCard(CardKey(*key), CardStatus(status), Span(start, end)))
    memberships: dict[int, list[CoreMembership]] = {}
    for holder_id, group_id, start, end in (
        Membership.objects.filter(cardholder_id__in=wanted)
        .order_by("cardholder_id", "id")
        .values_list("cardholder_id", "group_id", "activation_at", "expiry_at")
    ):
        memberships.setdefault(holder_id, []).append(CoreMembership(group_id, Span(start, end)))
    return {
        id_: Holder(
            id_,
            number,
            name,
            Standing(standing),
            Span(start, end),
            until,
            tuple(cards.get(id_, ())),
            tuple(memberships.get(id_, ())),
        )
        for id_, number, name, standing, start, end, until in Cardholder.objects.filter(pk__in=wanted).values_list(
            "id", "number", "display_name", "standing", "activation_at", "expiry_at", "suspended_until"
        )
    }


def readers_of_controllers() -> Mapping[int, dict[int, int]]:
    """Give, for every controller that decides, its readers and the doors beside them."""
    found: dict[int, dict[int, int]] = {}
    rows = Reader.objects.filter(controller__is_desk=False, door__isnull=False).order_by("id")
    for controller_id, reader_id, door_id in rows.values_list("controller_id", "id", "door_id"):
        found.setdefault(controller_id, {})[reader_id] = door_id or 0
    return found
