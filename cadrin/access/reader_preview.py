"""What saving a reader would make people lack."""

from dataclasses import replace
from datetime import datetime
from functools import partial
from typing import NamedTuple

from cadrin.access.models import Membership
from cadrin.access.plan import access_plan
from cadrin.biometrics.queries import with_template_or_excused
from cadrin.core.access.plan import Plan
from cadrin.core.access.readiness import groups_by_formats_read, groups_that_need
from cadrin.core.credentials.factors import ANY_CARD, Factor
from cadrin.core.validity import Standing
from cadrin.sites.commands.readers import ReaderDraft


class ReaderPreview(NamedTuple):
    """How many people more (or, below zero, fewer) would lack a PIN, a finger, a face, or a card that every
    door of theirs can read.

    ``has_way_in`` says whether its door would still have a reader on the way in, ``who`` are those
    who would lack something that they do not lack now.
    """

    without_pin: int
    without_readable_card: int
    without_finger: int
    without_face: int
    has_way_in: bool
    who: frozenset[int] = frozenset()


def preview_reader(reader_id: int, draft: ReaderDraft, at: datetime) -> ReaderPreview:
    """Work out what saving a reader would make people lack. Nothing is saved."""
    plan = access_plan()
    policy = draft.policy()
    others = {id_: other for id_, other in plan.policy_of_reader.items() if id_ != reader_id}
    after = replace(
        plan,
        policy_of_reader=others if policy == ANY_CARD else {**others, reader_id: policy},
        readers_out=plan.readers_out | {reader_id}
        if draft.is_way_out
        else plan.readers_out - {reader_id},
    )
    door_id = plan.door_of_reader.get(reader_id)
    lacking = [
        (find(plan), find(after))
        for find in (
            _without_pin,
            _unread,
            partial(_without, Factor.FINGER, at=at),
            partial(_without, Factor.FACE, at=at),
        )
    ]
    without_pin, unread, without_finger, without_face = (
        len(then) - len(now) for now, then in lacking
    )
    return ReaderPreview(
        without_pin,
        unread,
        without_finger,
        without_face,
        door_id is None or bool(after.policies_into(door_id)),
        frozenset[int]().union(*(then - now for now, then in lacking)),
    )


def _without_pin(plan: Plan) -> set[int]:
    found = Membership.objects.filter(
        group_id__in=groups_that_need(Factor.PIN, plan), cardholder__pins=None
    )
    return set(
        found.exclude(cardholder__standing=Standing.DEPARTED).values_list(
            "cardholder_id", flat=True
        )
    )


def _without(factor: Factor, plan: Plan, at: datetime) -> set[int]:
    """Return who is asked for a finger or a face, has none, and is not let in by card alone."""
    group_ids = groups_that_need(factor, plan)
    if not group_ids:
        return set()
    asked = set(
        Membership.objects.filter(group_id__in=group_ids)
        .exclude(cardholder__standing=Standing.DEPARTED)
        .values_list("cardholder_id", flat=True)
    )
    return asked - with_template_or_excused(factor, at)


def _unread(plan: Plan) -> set[int]:
    unread: set[int] = set()
    for format_ids, group_ids in groups_by_formats_read(plan).items():
        found = Membership.objects.filter(group_id__in=group_ids).exclude(
            cardholder__cards__format__in=format_ids
        )
        found = found.filter(cardholder__cards__isnull=False).exclude(
            cardholder__standing=Standing.DEPARTED
        )
        unread.update(found.values_list("cardholder_id", flat=True))
    return unread
