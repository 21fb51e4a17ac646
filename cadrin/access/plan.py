"""The plan of the whole house, read once for each version of it."""

from collections.abc import Iterable
from functools import lru_cache

from cadrin.access.models import AccessGroup, Grant, Membership
from cadrin.core.access.plan import AccessGroup as CoreGroup
from cadrin.core.access.plan import Holder, Plan
from cadrin.core.access.plan import Membership as CoreMembership
from cadrin.core.credentials.card.card import Card as CoreCard
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.use_limit import UseLimit
from cadrin.core.credentials.factors import ANY_CARD, ReaderPolicy
from cadrin.core.credentials.pin.pin import Pin as CorePin
from cadrin.core.credentials.plate.plate import Plate as CorePlate
from cadrin.core.people.details import Details
from cadrin.core.validity import Span, Standing
from cadrin.credentials.card_draft import schedule_of_card
from cadrin.credentials.models import Card, CardUse, Pin, Plate
from cadrin.credentials.queries import formats
from cadrin.credentials.settings import pins_at_doors
from cadrin.outbox.queries import plan_version
from cadrin.people.models import Cardholder
from cadrin.sites.models import Reader, Schedule
from cadrin.sites.queries import alternatives_of, schedule_of


def access_plan() -> Plan:
    """Return doors, schedules, groups and formats as the core takes them; read anew only when they
    have changed.
    """
    return _plan_at(plan_version())


@lru_cache(maxsize=2)
def _plan_at(version: str) -> Plan:
    grants: dict[int, dict[int, list[int]]] = {}
    for group_id, door_id, schedule_id in Grant.objects.order_by("id").values_list(
        "group", "door", "schedule"
    ):
        grants.setdefault(group_id, {}).setdefault(door_id, []).append(schedule_id)
    return Plan(
        schedules={s.pk: schedule_of(s.zone, s.hours) for s in Schedule.objects.all()},
        groups={
            id_: CoreGroup(
                id_, name, {door: tuple(ids) for door, ids in grants.get(id_, {}).items()}
            )
            for id_, name in AccessGroup.objects.values_list("id", "name")
        },
        formats=formats(),
        door_of_reader={
            reader_id: door_id
            for reader_id, door_id in Reader.objects.values_list("id", "door_id")
            if door_id is not None
        },
        policy_of_reader=_policies(),
        pins=pins_at_doors(),
        readers_out=frozenset(Reader.objects.filter(is_way_out=True).values_list("id", flat=True)),
    )


def _policies() -> dict[int, ReaderPolicy]:
    """Return what readers ask for, of those that ask for something else than any card."""
    formats_of: dict[int, set[int]] = {}
    for reader_id, format_id in Reader.formats.through.objects.values_list(
        "reader_id", "cardformat_id"
    ):
        formats_of.setdefault(reader_id, set()).add(format_id)
    found = {
        reader_id: ReaderPolicy(
            alternatives_of(policy),
            frozenset(formats_of[reader_id]) if reader_id in formats_of else None,
        )
        for reader_id, policy in Reader.objects.values_list("id", "policy")
    }
    return {reader_id: policy for reader_id, policy in found.items() if policy != ANY_CARD}


def holder_of(
    id_: int,
    details: Details,
    name: str,
    cards: Iterable[CoreCard] = (),
    memberships: Iterable[CoreMembership] = (),
    pins: Iterable[CorePin] = (),
    plates: Iterable[CorePlate] = (),
) -> Holder:
    """Return a cardholder as far as doors are concerned."""
    return Holder(
        id_,
        details.number,
        name,
        details.standing,
        details.span,
        details.suspended_until,
        tuple(cards),
        tuple(memberships),
        tuple(pins),
        tuple(plates),
        extended_time=details.extended_time,
    )


_HOLDER = (
    "id", "number", "display_name", "standing", "activation_at", "expiry_at", "suspended_until",
    "extended_time",
)  # fmt: skip
_CARD = (
    "holder_id", "id", "format_id", "facility_code", "card_number", "status", "activation_at",
    "expiry_at",
    "suspended_until", "hours", "use_limit", "counted_from", "is_watched", "issue_level",
)  # fmt: skip


def _cards_of(holder_ids: list[int]) -> dict[int, list[CoreCard]]:
    rows = list(
        Card.objects.filter(holder_id__in=holder_ids)
        .order_by("holder_id", "id")
        .values_list(*_CARD)
    )
    uses: dict[int, list[tuple[str, int]]] = {}
    if limited := [id_ for _, id_, *_, limit, _, _, _ in rows if limit]:
        found = CardUse.objects.filter(card_id__in=limited).order_by("memory")
        for id_, memory, count in found.values_list("card_id", "memory", "count"):
            uses.setdefault(id_, []).append((memory, count))
    cards: dict[int, list[CoreCard]] = {}
    for (
        holder_id,
        id_,
        format_id,
        code,
        number,
        status,
        start,
        end,
        until,
        hours,
        limit,
        since,
        watched,
        level,
    ) in rows:
        card = CoreCard(
            CardKey(format_id, code, number),
            CardStatus(status),
            Span(start, end),
            until,
            schedule_of_card(hours),
            UseLimit(limit, since, tuple(uses.get(id_, ()))) if limit else None,
            watched,
            level,
        )
        cards.setdefault(holder_id, []).append(card)
    return cards


def _pins_of(holder_ids: list[int]) -> dict[int, list[CorePin]]:
    pins: dict[int, list[CorePin]] = {}
    rows = Pin.objects.filter(holder_id__in=holder_ids).order_by("holder_id", "id")
    columns = ("holder_id", "id", "door_hash", "opens_alone", "expiry_at")
    for holder_id, id_, hash_, alone, end in rows.values_list(*columns):
        pins.setdefault(holder_id, []).append(CorePin(id_, hash_, alone, Span(None, end)))
    return pins


def holders(ids: Iterable[int]) -> dict[int, Holder]:
    """Return cardholders with their credentials and memberships, in a few queries, without those
    that are not there.
    """
    wanted = list(ids)
    cards, pins = _cards_of(wanted), _pins_of(wanted)
    plates: dict[int, list[CorePlate]] = {}
    driven = Plate.objects.filter(holder_id__in=wanted).order_by("holder_id", "id")
    for holder_id, number in driven.values_list("holder_id", "number"):
        plates.setdefault(holder_id, []).append(CorePlate(number))
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
            tuple(pins.get(id_, ())),
            tuple(plates.get(id_, ())),
            extended_time=extended,
        )
        for id_, number, name, standing, start, end, until, extended in Cardholder.objects.filter(
            pk__in=wanted
        ).values_list(*_HOLDER)
    }
