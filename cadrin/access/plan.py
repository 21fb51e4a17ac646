"""The plan of the whole house, read once for each version of it."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from functools import lru_cache

from cadrin.access.granted import granted
from cadrin.access.models import AccessGroup, Membership
from cadrin.biometrics.at_doors import NOTHING, biometrics_at_doors
from cadrin.biometrics.settings import face_rule, finger_rule
from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.core.access.plan import AccessGroup as CoreGroup
from cadrin.core.access.plan import Holder, Plan, Way
from cadrin.core.access.plan import Membership as CoreMembership
from cadrin.core.credentials.card.card import Card as CoreCard
from cadrin.core.credentials.factors import Factor, ReaderPolicy
from cadrin.core.credentials.pin.pin import Pin as CorePin
from cadrin.core.credentials.plate.plate import Plate as CorePlate
from cadrin.core.people.details import Details
from cadrin.core.validity import Span, Standing
from cadrin.credentials.at_doors import cards_at_doors, pins_at_doors_of, plates_at_doors
from cadrin.credentials.queries import formats
from cadrin.credentials.settings import pins_at_doors
from cadrin.outbox.queries import plan_version
from cadrin.people.queries import people_at_doors
from cadrin.sites.door_rules import rules_of_areas, rules_of_doors
from cadrin.sites.hours import schedules_of_the_core
from cadrin.sites.queries import (
    doors_of_readers,
    plugs_of_readers,
    policies_of_readers,
    readers_on_the_way_out,
)

_memberships = RowsByIds(
    lambda: (
        Membership.objects.filter(cardholder_id__among=IDS)
        .order_by("cardholder_id", "id")
        .values_list("cardholder_id", "group_id", "activation_at", "expiry_at")
    )
)


def access_plan() -> Plan:
    """Return doors, schedules, groups and formats as the core takes them; read anew only when they
    have changed.
    """
    return _plan_at(plan_version())


@lru_cache(maxsize=2)
def _plan_at(version: str) -> Plan:
    grants: dict[int, list[tuple[int, int, Way]]] = {}
    for group_id, door_id, schedule_id, way in (
        granted().order_by("id", "opens").values_list("group", "opens", "schedule", "way")
    ):
        grants.setdefault(group_id, []).append((door_id, schedule_id, Way(way)))
    return Plan(
        schedules=schedules_of_the_core(),
        groups={
            id_: CoreGroup.of_grants(id_, name, grants.get(id_, ()), overrides=overrides)
            for id_, name, overrides in AccessGroup.objects.values_list("id", "name", "overrides")
        },
        formats=formats(),
        door_of_reader=doors_of_readers(),
        policy_of_reader=_with_the_sites_matches(policies_of_readers()),
        pins=pins_at_doors(),
        readers_out=readers_on_the_way_out(),
        doors=rules_of_doors(),
        plugs=plugs_of_readers(),
        areas=rules_of_areas(),
    )


def _with_the_sites_matches(policies: Mapping[int, ReaderPolicy]) -> dict[int, ReaderPolicy]:
    """Say at each reader that takes fingers or faces how alike they must be, where it has no word
    of its own.
    """
    finger, face = round(finger_rule().match * 100), round(face_rule().match * 100)
    return {
        reader_id: replace(
            policy,
            finger_match=policy.finger_match or (finger if policy.takes(Factor.FINGER) else None),
            face_match=policy.face_match or (face if policy.takes(Factor.FACE) else None),
        )
        for reader_id, policy in policies.items()
    }


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


def holders(ids: Iterable[int]) -> dict[int, Holder]:
    """Return cardholders with their credentials and memberships, in a few queries, without those
    that are not there.
    """
    wanted = list(ids)
    cards, pins, plates = cards_at_doors(wanted), pins_at_doors_of(wanted), plates_at_doors(wanted)
    biometrics = biometrics_at_doors(wanted)
    memberships: dict[int, list[CoreMembership]] = {}
    for holder_id, group_id, start, end in _memberships(wanted):
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
            **biometrics.get(id_, NOTHING)._asdict(),
        )
        for id_, number, name, standing, start, end, until, extended in people_at_doors(wanted)
    }
