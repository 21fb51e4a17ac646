"""From marks to records: what each controller should hold now."""

from collections.abc import Callable, Iterable, Mapping
from datetime import datetime
from functools import lru_cache, partial
from typing import NamedTuple

from django.db import connection, transaction
from django.db.models import Q

from cadrin.access.matching import is_in_any_of
from cadrin.access.plan import access_plan, holders
from cadrin.access.presence import whereabouts
from cadrin.access.queries import member_ids, members_of_any
from cadrin.biometrics.queries import template_counts
from cadrin.config.database.reading import ObjectsByIds
from cadrin.core.access.plan import Plan
from cadrin.core.credentials.biometric import without_room
from cadrin.core.credentials.card.room import ANY_MEMORY, Memory, name_of_memory
from cadrin.core.credentials.factors import BIOMETRIC, Factor
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.doors import encode_presence
from cadrin.core.records.keys import OF_PEOPLE, THE_RULES, Body, RecordKey, RecordKind, digest
from cadrin.core.records.plan_records import plan_at_controller, plan_records
from cadrin.core.records.states import RecordState, after_change
from cadrin.core.validity import Standing
from cadrin.delivery.models import Link, Record
from cadrin.delivery.record_states import Step, advance
from cadrin.outbox.commands import forget_marks, mark_for_delivery
from cadrin.outbox.queries import has_marks, next_marks, plan_version
from cadrin.outbox.subjects import Subject
from cadrin.people.queries import people_matching
from cadrin.sites.queries import controllers_of_doors, readers_of_controllers

CARDHOLDERS_AT_ONCE = 100
"""So that nobody at a desk waits long for the writer's lock."""

Wanted = Mapping[tuple[int, RecordKey], str]
"""Controller and record to the digest it should have there; empty means that it should not be
there.
"""


def plans_here() -> Mapping[int, Plan]:
    """Give, for every controller, the plan cut down to its doors."""
    return _plans_here_at(plan_version())


@lru_cache(maxsize=2)
def _plans_here_at(version: str) -> Mapping[int, Plan]:
    plan = access_plan()
    return {
        controller_id: plan_at_controller(plan, doors)
        for controller_id, doors in readers_of_controllers().items()
    }


class Destinations(NamedTuple):
    """Where records go: the plan of each controller, and for each group the controllers that know
    it.
    """

    plans: Mapping[int, Plan]
    of_group: Mapping[int, tuple[int, ...]]


def destinations() -> Destinations:
    """Return where records go, by one look at the version of the plan."""
    version = plan_version()
    return Destinations(_plans_here_at(version), _controllers_of_groups_at(version))


@lru_cache(maxsize=2)
def _controllers_of_groups_at(version: str) -> Mapping[int, tuple[int, ...]]:
    found: dict[int, list[int]] = {}
    for controller_id, here in _plans_here_at(version).items():
        for group_id in here.groups:
            found.setdefault(group_id, []).append(controller_id)
    return {group_id: tuple(ids) for group_id, ids in found.items()}


OF_A_MEMORY = (
    "most_cards",
    "longest_name",
    "latest",
    "longest_span",
    "most_templates",
    "most_memberships",
    "most_schedules",
)
"""What a controller tells of its memory, by which its records are written."""


links = ObjectsByIds(Link, lambda: Link.objects.all())
"""What is known of every controller from talking to it."""


def memories() -> dict[int, Memory]:
    """Return what is known of each controller's memory."""
    return {link.controller_id: memory_of(link) for link in links()}


def memory_of(link: Link) -> Memory:
    return Memory(
        name_of_memory(link.controller_id, link.store),
        link.most_cards,
        link.longest_name,
        link.latest,
        frozenset(link.without_templates),
        link.longest_span,
        link.most_memberships,
        link.most_schedules,
    )


def plan_bodies_at(controller_id: int) -> dict[RecordKey, Body]:
    """Return everything but the cardholders that a controller should hold."""
    here = plans_here().get(controller_id)
    return plan_records(here, memories().get(controller_id, ANY_MEMORY)) if here else {}


Ring = Callable[[Iterable[int] | None], None]
"""Told which controllers have something to do now; None is all of them."""


def _ring_nobody(controller_ids: Iterable[int] | None) -> None:
    pass


def take_marks(at: datetime, most: int = CARDHOLDERS_AT_ONCE, ring: Ring = _ring_nobody) -> int:
    """Turn the oldest marks into what controllers should hold; give how many marks were taken.

    One transaction: stopped in the middle, the marks are still there. ``ring`` is called after it.
    """
    if not has_marks():
        return 0
    with transaction.atomic():
        marks = next_marks(most)
        is_withdrawal = any(mark.is_withdrawal for mark in marks)
        ids: dict[str, set[int]] = {}
        for mark in marks:
            ids.setdefault(mark.subject, set()).add(mark.subject_id)
        groups, controllers = ids.get(Subject.GROUP, set()), ids.get(Subject.CONTROLLER, set())
        if groups or controllers:
            _pass_on_to_people(groups, controllers)
            want_plans(at)
            ids.setdefault(Subject.PRESENCE, set()).update(_people_to_be_told_of_anew())
        presences = Record.objects.filter(
            kind=RecordKind.PRESENCE, subject_id__in=ids.get(Subject.CARDHOLDER, set())
        )
        # whoever departs is counted nowhere any more
        moved = {*ids.get(Subject.PRESENCE, ()), *presences.values_list("subject_id", flat=True)}
        concerned = want_presences(moved, at)
        share_out_room_for_templates()
        concerned |= want_cardholders(
            ids.get(Subject.CARDHOLDER, set()), at, is_withdrawal=is_withdrawal
        )
        concerned |= controllers_of_doors(ids.get(Subject.DOOR, ()))
        forget_marks(marks)
    ring(None if groups or controllers else concerned)
    return len(marks)


def share_out_room_for_templates() -> None:
    """Work out whose templates each controller has room for, and mark whom that changed."""
    for link in Link.objects.exclude(most_templates=None):
        counts = template_counts_at(link.controller_id)
        left_out = without_room(counts, link.most_templates or 0)
        if changed := left_out ^ set(link.without_templates):
            mark_for_delivery(Subject.CARDHOLDER, changed)
            link.without_templates = sorted(left_out)
            link.save(update_fields=("without_templates",))


def template_counts_at(controller_id: int) -> list[tuple[int, int]]:
    """Return how many templates each cardholder has that a controller should hold; whoever has the
    newest comes last.
    """
    here = plans_here().get(controller_id, Plan())
    taken = [factor for factor in BIOMETRIC if here.takes(factor)]
    people = is_in_any_of(here.groups) & ~Q(standing=Standing.DEPARTED)
    return template_counts(taken, people_matching(people)) if taken else []


def _pass_on_to_people(group_ids: Iterable[int], controller_ids: Iterable[int]) -> None:
    """Mark the people whose records depend on these.

    The hours or doors of a group stand in its own record: its people's records differ only at
    controllers that come to know the group, or no longer do.
    """
    people: set[int] = set()
    for group_id in group_ids:
        rows = Record.objects.filter(kind=RecordKind.GROUP, subject_id=group_id).exclude(wanted="")
        before = set(rows.values_list("controller_id", flat=True))
        after = {
            controller_id for controller_id, here in plans_here().items() if group_id in here.groups
        }
        if before != after:
            people.update(member_ids(group_id))
    for controller_id in controller_ids:
        here = plans_here().get(controller_id, Plan())
        people.update(members_of_any(here.groups))
        held = Record.objects.filter(controller_id=controller_id, kind=RecordKind.CARDHOLDER)
        people.update(held.values_list("subject_id", flat=True))
    mark_for_delivery(Subject.CARDHOLDER, people)


def want_plans(at: datetime) -> None:
    """Set what all controllers should hold apart from cardholders."""
    memory = memories()
    wanted = {
        (controller_id, key): digest(key, body)
        for controller_id, here in plans_here().items()
        for key, body in plan_records(here, memory.get(controller_id, ANY_MEMORY)).items()
    }
    rows = list(Record.objects.exclude(kind__in=OF_PEOPLE))
    gone = {(row.controller_id, key_of(row)): "" for row in rows if not _is_left_alone(row)}
    _want(gone | wanted, rows, at)


def _is_left_alone(row: Record) -> bool:
    """Say whether the rules cannot be written just now: what a controller holds is better than
    nothing.
    """
    here = plans_here().get(row.controller_id)
    return (
        here is not None
        and not here.pins.is_known
        and key_of(row) == THE_RULES
        and here.takes(Factor.PIN)
    )


def _people_to_be_told_of_anew() -> Iterable[int]:
    """Return everybody whose whereabouts are known, where other controllers than before go by them."""
    asking = {id_ for id_, here in plans_here().items() if here.areas}
    records = Record.objects.filter(kind=RecordKind.PRESENCE)
    told = set(records.values_list("controller_id", flat=True).distinct())
    if asking == told:
        return ()
    return {*whereabouts(), *records.values_list("subject_id", flat=True)}


def want_presences(cardholder_ids: Iterable[int], at: datetime) -> set[int]:
    """Set what controllers should know of where people are: those with an area that counts people.
    Gives the controllers for which that is another than before.
    """
    ids = list(cardholder_ids)
    if not ids:
        return set()
    there = whereabouts(ids)
    asking = [id_ for id_, here in plans_here().items() if here.areas]
    rows = list(Record.objects.filter(kind=RecordKind.PRESENCE, subject_id__in=ids))
    gone = {(row.controller_id, key_of(row)): "" for row in rows}
    wanted = {
        (controller_id, key): digest(key, encode_presence(where))
        for id_, where in there.items()
        for controller_id in asking
        if (key := RecordKey(RecordKind.PRESENCE, id_))
    }
    return _want(gone | wanted, rows, at)


def want_cardholders(
    cardholder_ids: Iterable[int], at: datetime, *, is_withdrawal: bool = False
) -> set[int]:
    """Set what controllers should hold of these cardholders: those that one of their groups leads
    to, or did. Gives the controllers for which that is another than before.
    """
    ids = list(cardholder_ids)
    found, memory = holders(ids), memories()
    here, of_group = destinations()
    rows = list(Record.objects.filter(kind=RecordKind.CARDHOLDER, subject_id__in=ids))
    concerned: dict[int, set[int]] = {}
    for row in rows:
        concerned.setdefault(row.subject_id, set()).add(row.controller_id)
    wanted = {}
    for id_ in ids:
        key, holder = RecordKey(RecordKind.CARDHOLDER, id_), found.get(id_)
        controllers = concerned.get(id_, set())
        if holder:
            controllers = controllers.union(
                *(of_group.get(membership.group_id, ()) for membership in holder.memberships)
            )
        for controller_id in controllers:
            plan = here.get(controller_id)
            body = (
                encode_cardholder(holder, plan, memory.get(controller_id, ANY_MEMORY))
                if holder and plan
                else None
            )
            wanted[controller_id, key] = "" if body is None else digest(key, body)
    return _want(wanted, rows, at, is_withdrawal)


def key_of(row: Record) -> RecordKey:
    return RecordKey(RecordKind(row.kind), row.subject_id)


def _want(
    wanted: Wanted, rows: Iterable[Record], at: datetime, is_withdrawal: bool = False
) -> set[int]:
    existing = {(row.controller_id, key_of(row)): row for row in rows}
    new, concerned = [], set()
    changed: dict[int, Step] = {}
    for (controller_id, key), digest_ in wanted.items():
        row = existing.get((controller_id, key))
        if digest_ != (row.wanted if row else ""):
            concerned.add(controller_id)
        if row is None and digest_:
            new.append(
                (
                    controller_id,
                    key.kind.value,
                    key.id,
                    digest_,
                    RecordState.WAITING.value,
                    at,
                    is_withdrawal,
                )
            )
        elif row is not None and row.wanted != digest_:
            changed[row.pk] = partial(after_change, wanted=digest_, is_withdrawal=is_withdrawal)
    # many times as fast as through the models, and the writer's lock is held
    with connection.cursor() as cursor:
        cursor.executemany(
            "INSERT INTO delivery_record"
            " (controller_id, kind, subject_id, wanted, confirmed, state, refusal, changed_at, is_withdrawal)"
            " VALUES (%s, %s, %s, %s, '', %s, '', %s, %s)",
            new,
        )
    advance(changed, at)
    return concerned
