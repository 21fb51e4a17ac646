"""Make, rename, move and remove doors, with the readers beside them."""

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from django.db import transaction
from django.db.models import F

from cadrin.core.doors.rules import ANY_DOOR
from cadrin.core.errors import Invalid, NotFound, Problem
from cadrin.journal.commands import About, Act, record
from cadrin.journal.naming import names_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import tell_controllers
from cadrin.sites.commands.keeping import keep, problems_with_name, refuse_stale, removed
from cadrin.sites.door_rules import DOES, LOOKED_AFTER
from cadrin.sites.looking_after import owners_told, problems_with_looking_after
from cadrin.sites.models import Area, Controller, Door, Reader, Schedule

DOOR = "door"
OPEN_SECONDS = range(1, 256)
"""How long a door may stay unlocked after a read (common practice: a byte of seconds)."""


class DoorDraft(NamedTuple):
    """A door as an operator wants it, with the readers on its way in and its way out. Its owner, an
    operator, looks every ``review_days`` through those who may open it.

    It leads from an area, None for from outside, into another one. ``version`` is the one it was
    read at; 0 for a new one.
    """

    name: str
    area_id: int
    from_area_id: int | None
    controller_id: int
    readers_in: tuple[int, ...] = ()
    readers_out: tuple[int, ...] = ()
    open_seconds: int = ANY_DOOR.open_seconds
    extended_open_seconds: int = ANY_DOOR.extended_open_seconds
    held_seconds: int | None = None
    tells_forced: bool = False
    unlocked_schedule_id: int | None = None
    closed_schedule_id: int | None = None
    first_person: bool = False
    second_seconds: int | None = None
    consent_seconds: int | None = None
    has_exit_button: bool = False
    interlock: tuple[int, ...] = ()
    owner_id: int | None = None
    review_days: int | None = None
    version: int = 0

    @property
    def readers(self) -> tuple[int, ...]:
        return (*self.readers_in, *self.readers_out)


def get_door(door_id: int) -> Door:
    """Raises NotFound."""
    door = Door.objects.filter(pk=door_id).first()
    if door is None:
        raise NotFound.of("door.not_found")
    return door


def stored_door(door_id: int) -> DoorDraft:
    """Return a door as it is, to be changed. Raises NotFound."""
    door = get_door(door_id)
    readers = list(door.readers.order_by("id").values_list("id", "is_way_out"))
    return DoorDraft(
        door.name,
        door.area_id,
        door.from_area_id,
        door.controller_id,
        tuple(id_ for id_, is_way_out in readers if not is_way_out),
        tuple(id_ for id_, is_way_out in readers if is_way_out),
        **{name: getattr(door, name) for name in (*DOES, *LOOKED_AFTER)},
        interlock=tuple(sorted(door.interlock.values_list("id", flat=True))),
        version=door.version,
    )


@transaction.atomic
def save_door(actor: Actor, door_id: int | None, draft: DoorDraft, at: datetime) -> int:
    """Make a door with its readers, or save one, and give its id; the controllers that it is, or was,
    at are told. Raises Invalid, Stale, NotFound or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    door = Door(version=0) if door_id is None else get_door(door_id)
    refuse_stale(DOOR, door, draft.version)
    if problems := tuple(problems_with_door(door_id, draft)):
        raise Invalid(problems)
    controllers = {id_ for id_ in (door.controller_id, draft.controller_id) if id_}
    # whoever opens all doors of an area opens this one by it
    is_moved = len(controllers) > 1 or door.area_id != draft.area_id
    areas: dict[int | None, str | None] = {None: None}
    areas.update(Area.objects.values_list("id", "name"))
    names = dict(Controller.objects.values_list("id", "name"))
    after = {
        "name": draft.name.strip(),
        "area_id": draft.area_id,
        "from_area_id": draft.from_area_id,
        "controller_id": draft.controller_id,
        **{name: getattr(draft, name) for name in (*DOES, *LOOKED_AFTER)},
    }
    schedules = names_of(
        "schedule",
        filter(
            None,
            (
                door.unlocked_schedule_id,
                door.closed_schedule_id,
                draft.unlocked_schedule_id,
                draft.closed_schedule_id,
            ),
        ),
    )
    told = {
        "area": (areas.get(door.area_id), areas[draft.area_id]),
        "from_area": (areas.get(door.from_area_id), areas[draft.from_area_id]),
        "controller": (names.get(door.controller_id), names[draft.controller_id]),
        "owner": owners_told(door.owner_id, draft.owner_id),
        **{
            name: (
                schedules.get(getattr(door, f"{name}_id") or 0),
                schedules.get(getattr(draft, f"{name}_id") or 0),
            )
            for name in ("unlocked_schedule", "closed_schedule")
        },
    }
    is_changed = keep(actor, DOOR, door, after, at, told)
    are_placed = _place_readers(actor, door, draft, at)
    is_locked_otherwise = _interlock(actor, door, draft, at)
    if (are_placed or is_locked_otherwise) and not is_changed:
        Door.objects.filter(pk=door.pk).update(version=door.version + 1)
    if is_changed or are_placed or is_locked_otherwise:
        tell_controllers(with_their_people=controllers if is_moved or are_placed else ())
    return door.pk


def _place_readers(actor: Actor, door: Door, draft: DoorDraft, at: datetime) -> bool:
    """Put readers beside a door, let go of the others, and say whether anything moved."""
    had = dict(door.readers.values_list("id", "is_way_out"))
    wanted = {id_: id_ in draft.readers_out for id_ in draft.readers}
    if had == wanted:
        return False
    gone = [id_ for id_ in had if id_ not in wanted]
    # whoever has one of them open to change what it asks for is told
    Reader.objects.filter(pk__in=gone).update(door=None, is_way_out=False, version=F("version") + 1)
    for id_, is_way_out in wanted.items():
        if had.get(id_) is not is_way_out:
            Reader.objects.filter(pk=id_).update(
                door=door, is_way_out=is_way_out, version=F("version") + 1
            )
    names = dict(Reader.objects.filter(pk__in={*had, *wanted}).values_list("id", "name"))
    changes = {
        "readers": (sorted(names[id_] for id_ in had), sorted(names[id_] for id_ in wanted)),
        "name": (door.name, door.name),
    }
    record(actor, at, [Act("door.changed", (About(DOOR, door.pk, door.version),), changes)])
    return True


def _interlock(actor: Actor, door: Door, draft: DoorDraft, at: datetime) -> bool:
    """Say which other doors must be shut before this one opens, and it before them; say whether that
    changed.
    """
    had = set(door.interlock.values_list("id", flat=True))
    if had == set(draft.interlock):
        return False
    door.interlock.set(draft.interlock)
    names = names_of("door", {*had, *draft.interlock})
    changes = {
        "interlock": (
            sorted(names[id_] for id_ in had),
            sorted(names[id_] for id_ in draft.interlock),
        ),
        "name": (door.name, door.name),
    }
    record(actor, at, [Act("door.changed", (About(DOOR, door.pk, door.version),), changes)])
    return True


def problems_with_door(door_id: int | None, draft: DoorDraft) -> Iterable[Problem]:
    """Yield everything against saving a door, each beside its field."""
    yield from problems_with_name(DOOR, draft.name, Door.objects.exclude(pk=door_id or 0))
    areas = set(Area.objects.values_list("id", flat=True))
    if draft.area_id not in areas:
        yield Problem("input.no_longer_there", "area_id")
    if draft.from_area_id is not None and draft.from_area_id not in areas:
        yield Problem("input.no_longer_there", "from_area_id")
    elif draft.from_area_id == draft.area_id:
        yield Problem("door.into_its_own_area", "from_area_id")
    for field in ("open_seconds", "extended_open_seconds"):
        if getattr(draft, field) not in OPEN_SECONDS:
            limits = {"lowest": OPEN_SECONDS[0], "highest": OPEN_SECONDS[-1]}
            yield Problem("input.out_of_range", field, limits)
    if draft.extended_open_seconds < draft.open_seconds:
        yield Problem("door.extended_is_shorter", "extended_open_seconds")
    yield from problems_with_what_it_does(door_id, draft)
    yield from problems_with_looking_after(draft.owner_id, draft.review_days)
    deciding = Controller.objects.filter(is_desk=False, is_retired=False)
    if not deciding.filter(pk=draft.controller_id).exists():
        yield Problem("input.no_longer_there", "controller_id")
        return
    yield from _problems_with_readers(door_id, draft)


SECONDS = {
    "held_seconds": range(1, 3601),
    "second_seconds": range(2, 121),
    "consent_seconds": range(5, 301),
}
"""How long a door may be open, a second person may take, and an operator."""


def problems_with_what_it_does(door_id: int | None, draft: DoorDraft) -> Iterable[Problem]:
    """Yield everything against the rules of a door."""
    for field, allowed in SECONDS.items():
        value = getattr(draft, field)
        if value is not None and value not in allowed:
            yield Problem(
                "input.out_of_range", field, {"lowest": allowed[0], "highest": allowed[-1]}
            )
    known = set(Schedule.objects.values_list("id", flat=True))
    for field in ("unlocked_schedule_id", "closed_schedule_id"):
        value = getattr(draft, field)
        if value is not None and value not in known:
            yield Problem("input.no_longer_there", field)
    if draft.first_person and draft.unlocked_schedule_id is None:
        yield Problem("door.first_person_without_hours", "first_person")
    if not draft.interlock:
        return
    if draft.unlocked_schedule_id is not None:
        yield Problem("door.interlock_with_hours", "interlock")
    others = {door.pk: door for door in Door.objects.filter(pk__in=draft.interlock)}
    for id_ in draft.interlock:
        other = others.get(id_)
        if id_ == door_id:
            yield Problem("door.interlock_with_itself", "interlock")
        elif other is None:
            yield Problem("input.no_longer_there", "interlock")
        elif other.controller_id != draft.controller_id:
            yield Problem("door.interlock_elsewhere", "interlock", {"name": other.name})
        elif other.unlocked_schedule_id is not None:
            yield Problem("door.interlock_with_hours_there", "interlock", {"name": other.name})


def _problems_with_readers(door_id: int | None, draft: DoorDraft) -> Iterable[Problem]:
    known = {reader.pk: reader for reader in Reader.objects.filter(pk__in=draft.readers)}
    if len(set(draft.readers)) < len(draft.readers):
        yield Problem("door.reader_twice", "readers_out")
    for field in ("readers_in", "readers_out"):
        for id_ in getattr(draft, field):
            reader = known.get(id_)
            if reader is None:
                yield Problem("input.no_longer_there", field)
            elif reader.controller_id != draft.controller_id:
                yield Problem("door.reader_of_another_controller", field, {"name": reader.name})
            elif reader.door_id not in (None, door_id):
                yield Problem("door.reader_at_another_door", field, {"name": reader.name})


@transaction.atomic
def remove_bare_door(actor: Actor, door_id: int, at: datetime) -> None:
    """Remove a door that no group opens; its readers are then at none, and what was read there stays
    on record. Raises Invalid, NotFound or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    door = get_door(door_id)
    controller_id = door.controller_id
    Reader.objects.filter(door=door).update(door=None, is_way_out=False, version=F("version") + 1)
    removed(actor, DOOR, door, at)
    tell_controllers(with_their_people=[controller_id])
