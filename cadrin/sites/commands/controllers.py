"""Take in, rename, replace and retire controllers, and their readers."""

import secrets
import socket
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from ipaddress import ip_address
from typing import NamedTuple

from django.conf import settings
from django.db import transaction

from cadrin.core.addresses import place_of, problem_with_places
from cadrin.core.errors import Invalid, NotFound, Problem
from cadrin.core.limits import problems_with_limits
from cadrin.core.signing import KEY_BYTES
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.sealing import seal
from cadrin.outbox.commands import move_plan_version, tell_controllers
from cadrin.sites.commands.keeping import keep, problems_with_name, refuse_stale, removed
from cadrin.sites.commands.readers import READER
from cadrin.sites.models import Controller, Reader

CONTROLLER = "controller"
STANDIN = "standin"


class Plug(NamedTuple):
    """A reader as its controller tells of it: where it is plugged in, and what it can take."""

    number: int
    name: str
    has_keypad: bool = False
    has_camera: bool = False
    has_finger_scanner: bool = False
    has_face_reader: bool = False


class ControllerDraft(NamedTuple):
    """A controller as an operator wants it. ``version`` is the one it was read at; 0 for a new one."""

    name: str
    address: str
    version: int = 0
    limits: Mapping[str, int] = {}
    knows_one_group: bool = False


def new_key() -> bytes:
    """Return a key for a controller, from the system's secure source."""
    return secrets.token_bytes(KEY_BYTES)


def get_any_controller(controller_id: int) -> Controller:
    """Return a controller that is not retired. Raises NotFound."""
    controller = Controller.objects.filter(pk=controller_id, is_retired=False).first()
    if controller is None:
        raise NotFound.of("controller.not_found")
    return controller


def problems_with_controller(
    controller_id: int | None, draft: ControllerDraft
) -> Sequence[Problem]:
    """Return what the register has against saving a controller, each beside its field."""
    others = Controller.objects.exclude(pk=controller_id or 0)
    problems = list(problems_with_name(CONTROLLER, draft.name, others))
    if twin := others.filter(address=draft.address.strip()).first():
        problems.append(Problem("controller.address_taken", "address", {"name": twin.name}))
    problems += problems_with_limits(draft.limits)
    return problems


def refuse(controller_id: int | None, draft: ControllerDraft) -> None:
    """Raises Invalid with everything against saving a controller. A host name is looked up, which may
    take seconds: never while others wait to write.
    """
    address = draft.address.strip()
    problems = (*problems_with_controller(controller_id, draft), *problems_with_address(address))
    if problems:
        raise Invalid(problems)


def problems_with_address(address: str) -> Iterable[Problem]:
    """Yield why nothing is sent to an address."""
    kind, _, number = address.partition(":")
    if kind == STANDIN and number.isascii() and number.isdecimal():
        if not settings.STANDINS_URL:
            yield Problem("bench.not_there", "address")
        return
    try:
        place = place_of(address)
        found = socket.getaddrinfo(place.host, place.port, type=socket.SOCK_STREAM)
    except Invalid as refused:
        yield from refused.problems
        return
    except (OSError, UnicodeError):
        yield Problem("controller.no_such_host", "address", {"text": address})
        return
    leads_to = {ip_address(str(place[0]).partition("%")[0]) for *_, place in found}
    if problem := problem_with_places(address, leads_to):
        yield problem


def save_controller(actor: Actor, controller_id: int, draft: ControllerDraft, at: datetime) -> None:
    """Rename a controller, or say where it listens now. Raises Invalid, Stale, NotFound or
    NotPermitted.
    """
    actor.require(Permission.SET_UP)
    if draft.address.strip() != get_any_controller(controller_id).address:
        refuse(controller_id, draft)
    with transaction.atomic():
        controller = get_any_controller(controller_id)
        refuse_stale(CONTROLLER, controller, draft.version)
        if problems := problems_with_controller(controller_id, draft):
            raise Invalid(problems)
        limits = dict(sorted(draft.limits.items()))
        after = {
            "name": draft.name.strip(),
            "address": draft.address.strip(),
            "limits": limits,
            "knows_one_group": draft.knows_one_group,
        }
        keep(actor, CONTROLLER, controller, after, at)


@transaction.atomic
def add_controller(
    actor: Actor, draft: ControllerDraft, key: bytes, plugs: Iterable[Plug], at: datetime
) -> int:
    """Take in a controller that answered to a key, with its readers, which stand at no door yet.

    Raises Invalid or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    if problems := problems_with_controller(None, draft):
        raise Invalid(problems)
    controller = Controller(version=0, sealed_key=seal(key.hex()))
    after = {"name": draft.name.strip(), "address": draft.address.strip()}
    keep(actor, CONTROLLER, controller, after, at)
    taken = {name.casefold() for name in Reader.objects.values_list("name", flat=True)}
    for plug in plugs:
        name = _free_name(f"{controller.name}, {plug.name}", taken)
        devices = {
            field: getattr(plug, field) for field in Plug._fields if field.startswith("has_")
        }
        reader = Reader(version=0, controller=controller, plug=plug.number)
        keep(actor, READER, reader, {"name": name, **devices}, at)
    return controller.pk


def _free_name(name: str, taken: set[str]) -> str:
    """Return a name that no reader has, and take it."""
    found, n = name[:60], 2
    while found.casefold() in taken:
        found, n = f"{name[:55]} {n}", n + 1
    taken.add(found.casefold())
    return found


@transaction.atomic
def put_another(
    actor: Actor, controller_id: int, address: str, key: bytes, plugs: Sequence[Plug], at: datetime
) -> None:
    """Put another device in the place of a controller: the same doors and readers, which keep the order
    of their plugs. Raises Invalid, NotFound or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    controller = get_any_controller(controller_id)
    readers = list(controller.readers.order_by("plug", "id"))
    if len(plugs) < len(readers):
        raise Invalid.of("controller.too_few_plugs", "address", count=len(readers))
    after = {"name": controller.name, "address": address}
    keep(actor, CONTROLLER, controller, after, at)
    Controller.objects.filter(pk=controller_id).update(sealed_key=seal(key.hex()))
    Reader.objects.filter(controller=controller).update(plug=None)
    for reader, plug in zip(readers, sorted(plugs), strict=False):
        Reader.objects.filter(pk=reader.pk).update(plug=plug.number)
    tell_controllers(with_their_people=[controller_id])


@transaction.atomic
def retire_controller(actor: Actor, controller_id: int, at: datetime) -> None:
    """Speak to a controller no more; it must have no door. Its readers are gone with it, what was read
    there stays on record. What it holds it goes on holding.

    Raises Invalid, NotFound or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    controller = get_any_controller(controller_id)
    if count := controller.doors.count():
        raise Invalid.of("controller.in_use", None, count=count)
    controller.readers.all().delete()
    # its name and its address are free for another
    keep(
        actor,
        CONTROLLER,
        controller,
        {
            "name": f"{controller.name[:40]} ({controller.pk})",
            "address": f"retired:{controller.pk}",
            "is_retired": True,
        },
        at,
    )
    move_plan_version()


@transaction.atomic
def rename_reader(actor: Actor, reader_id: int, name: str, version: int, at: datetime) -> None:
    """Raises Invalid, Stale, NotFound or NotPermitted."""
    actor.require(Permission.SET_UP)
    reader = _get_reader(reader_id)
    refuse_stale(READER, reader, version)
    others = Reader.objects.exclude(pk=reader_id)
    if problems := tuple(problems_with_name(READER, name, others)):
        raise Invalid(problems)
    keep(actor, READER, reader, {"name": name.strip()}, at)


@transaction.atomic
def remove_reader(actor: Actor, reader_id: int, at: datetime) -> None:
    """Remove a reader that stands at no door. Raises Invalid, NotFound or NotPermitted."""
    actor.require(Permission.SET_UP)
    reader = _get_reader(reader_id)
    if reader.door_id is not None:
        raise Invalid.of("reader.at_a_door", None)
    removed(actor, READER, reader, at)


def _get_reader(reader_id: int) -> Reader:
    reader = Reader.objects.filter(pk=reader_id).first()
    if reader is None:
        raise NotFound.of("reader.not_found")
    return reader
