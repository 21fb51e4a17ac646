"""Decide what a reader asks for."""

from collections.abc import Iterable
from datetime import datetime
from typing import Any, NamedTuple

from django.db import transaction

from cadrin.core.credentials.factors import ANY_CARD, Factor, Factors, PolicyHours, ReaderPolicy
from cadrin.core.errors import Invalid, NotFound, Problem, Stale
from cadrin.credentials.queries import card_formats, formats
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import tell_controllers
from cadrin.sites.hours import schedules_of_the_core
from cadrin.sites.models import Reader
from cadrin.sites.queries import policies_of_readers

READER = "reader"
DEVICES = (
    "has_keypad",
    "has_camera",
    "has_finger_scanner",
    "has_face_reader",
    "is_way_out",
    "finger_match",
    "face_match",
)


MATCHES = range(20, 91)
"""How alike a finger may have to be at a reader, or how far apart a face, in hundredths."""


class AskedBySchedule(NamedTuple):
    """What is asked instead while a schedule is open."""

    schedule_id: int
    alternatives: tuple[Factors, ...]


class ReaderDraft(NamedTuple):
    """What a reader asks for and where it stands, as an operator wants it; without formats it reads
    all of them.
    """

    alternatives: tuple[Factors, ...]
    has_keypad: bool
    format_ids: frozenset[int]
    version: int
    is_way_out: bool = False
    has_camera: bool = False
    has_finger_scanner: bool = False
    finger_match: int | None = None
    by_hours: tuple[AskedBySchedule, ...] = ()
    has_face_reader: bool = False
    face_match: int | None = None

    def policy(self) -> ReaderPolicy:
        """Return what it asks for. Raises Invalid."""
        schedules = schedules_of_the_core()
        return ReaderPolicy(
            self.alternatives,
            self.format_ids or None,
            tuple(
                PolicyHours(schedules[schedule_id], asked)
                for schedule_id, asked in self.by_hours
                if schedule_id in schedules
            ),
            self.finger_match,
            self.face_match,
        )


def stored_alternatives(alternatives: Iterable[Factors]) -> list[list[str]]:
    """Write alternatives as the database keeps them."""
    return [[factor.value for factor in alternative] for alternative in alternatives]


def _besides_cards(policy: ReaderPolicy) -> set[Factor]:
    return {factor for asked in policy.asked_at_any_hour for factor in asked} - {Factor.CARD}


@transaction.atomic
def save_reader(actor: Actor, reader_id: int, draft: ReaderDraft, at: datetime) -> None:
    """Decide what a reader takes; every controller is told. Raises Invalid, Stale, NotFound or
    NotPermitted.
    """
    actor.require(Permission.SET_UP)
    reader = Reader.objects.filter(pk=reader_id).first()
    if reader is None:
        raise NotFound.of("reader.not_found")
    if reader.version != draft.version:
        raise Stale(reader.version, history_of(READER, reader_id, after_version=draft.version))
    if problems := tuple(_problems_with_reader(reader, draft)):
        raise Invalid(problems)
    names = {row["id"]: row["name"] for row in card_formats()}
    before_ids = set(reader.formats.values_list("id", flat=True))
    had, policy = policies_of_readers().get(reader_id, ANY_CARD), draft.policy()
    before, after = _as_stored(reader), _as_wanted(draft, policy)
    changes = changes_between(
        before | {"formats": sorted(names[id_] for id_ in before_ids)},
        after | {"formats": sorted(names[id_] for id_ in draft.format_ids)},
    )
    if not changes:
        return
    # PINs, plates and templates lie only at controllers with a reader that takes them
    begins_or_ends = _besides_cards(had) != _besides_cards(policy)
    for name, value in after.items():
        setattr(reader, name, value)
    reader.version += 1
    reader.save()
    reader.formats.set(draft.format_ids)
    about = (About(READER, reader_id, reader.version),)
    record(
        actor, at, [Act("reader.changed", about, {"name": (reader.name, reader.name), **changes})]
    )
    tell_controllers(with_their_people=[reader.controller_id] if begins_or_ends else [])


def _as_stored(reader: Reader) -> dict[str, Any]:
    return {name: getattr(reader, name) for name in ("policy", "policy_by_hours", *DEVICES)}


def _as_wanted(draft: ReaderDraft, policy: ReaderPolicy) -> dict[str, Any]:
    by_hours = [
        [asked.schedule_id, stored_alternatives(hours.alternatives)]
        for asked, hours in zip(draft.by_hours, policy.by_hours, strict=True)
    ]
    return {
        "policy": stored_alternatives(policy.alternatives),
        "policy_by_hours": by_hours,
        **{name: getattr(draft, name) for name in DEVICES},
    }


def _problems_with_reader(reader: Reader, draft: ReaderDraft) -> Iterable[Problem]:
    if {asked.schedule_id for asked in draft.by_hours} - schedules_of_the_core().keys():
        yield Problem("input.no_longer_there", "by_hours")
        return
    try:
        policy = draft.policy()
    except Invalid as refused:
        yield from refused.problems
        return
    if policy.takes(Factor.PIN) and not draft.has_keypad:
        yield Problem("reader.needs_keypad", "policy")
    if policy.takes(Factor.PLATE) and not draft.has_camera:
        yield Problem("reader.needs_camera", "policy")
    if policy.takes(Factor.FINGER) and not draft.has_finger_scanner:
        yield Problem("reader.needs_finger_scanner", "policy")
    if policy.takes(Factor.FACE) and not draft.has_face_reader:
        yield Problem("reader.needs_face_reader", "policy")
    for field in ("finger_match", "face_match"):
        match = getattr(draft, field)
        if match is not None and match not in MATCHES:
            limits = {"lowest": MATCHES[0], "highest": MATCHES[-1]}
            yield Problem("input.out_of_range", field, limits)
    is_desk = reader.controller.is_desk
    if is_desk and (policy.alternatives, policy.by_hours) != (
        ANY_CARD.alternatives,
        (),
    ):
        yield Problem("reader.at_a_desk", "policy")
    if is_desk and draft.is_way_out:
        yield Problem("reader.at_a_desk", "is_way_out")
    if draft.format_ids - formats().keys():
        yield Problem("input.no_longer_there", "formats")
