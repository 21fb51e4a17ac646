"""Decide what a reader asks for."""

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.core.credentials.factors import ANY_CARD, Factor, Factors, ReaderPolicy
from cadrin.core.errors import Invalid, NotFound, Problem, Stale
from cadrin.credentials.queries import card_formats, formats
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import tell_controllers
from cadrin.sites.models import Reader
from cadrin.sites.queries import alternatives_of

READER = "reader"
DEVICES = ("has_keypad", "has_camera", "is_way_out")


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

    @property
    def policy(self) -> ReaderPolicy:
        return ReaderPolicy(self.alternatives, self.format_ids or None)


def stored_policy(policy: ReaderPolicy) -> list[list[str]]:
    """Write alternatives as the database keeps them."""
    return [[factor.value for factor in alternative] for alternative in policy.alternatives]


def _besides_cards(alternatives: tuple[Factors, ...]) -> set[Factor]:
    return {factor for alternative in alternatives for factor in alternative} - {Factor.CARD}


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
    had = alternatives_of(reader.policy)
    before = {"policy": reader.policy, **{name: getattr(reader, name) for name in DEVICES}}
    after = {
        "policy": stored_policy(draft.policy),
        **{name: getattr(draft, name) for name in DEVICES},
    }
    changes = changes_between(
        before | {"formats": sorted(names[id_] for id_ in before_ids)},
        after | {"formats": sorted(names[id_] for id_ in draft.format_ids)},
    )
    if not changes:
        return
    # PINs and plates lie only at controllers with a reader that takes them
    begins_or_ends = _besides_cards(had) != _besides_cards(draft.alternatives)
    reader.policy = after["policy"]
    for name in DEVICES:
        setattr(reader, name, getattr(draft, name))
    reader.version += 1
    reader.save()
    reader.formats.set(draft.format_ids)
    about = (About(READER, reader_id, reader.version),)
    record(
        actor, at, [Act("reader.changed", about, {"name": (reader.name, reader.name), **changes})]
    )
    tell_controllers(with_their_people=[reader.controller_id] if begins_or_ends else [])


def _problems_with_reader(reader: Reader, draft: ReaderDraft) -> Iterable[Problem]:
    try:
        policy = draft.policy
    except Invalid as refused:
        yield from refused.problems
        return
    if policy.takes(Factor.PIN) and not draft.has_keypad:
        yield Problem("reader.needs_keypad", "policy")
    if policy.takes(Factor.PLATE) and not draft.has_camera:
        yield Problem("reader.needs_camera", "policy")
    if reader.door_id is None and policy.alternatives != ANY_CARD.alternatives:
        yield Problem("reader.at_a_desk", "policy")
    if reader.door_id is None and draft.is_way_out:
        yield Problem("reader.at_a_desk", "is_way_out")
    if draft.format_ids - formats().keys():
        yield Problem("input.no_longer_there", "formats")
