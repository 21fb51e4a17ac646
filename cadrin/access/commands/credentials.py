"""Decide what readers take, and what the site asks of cards and PINs."""

from collections.abc import Iterable, Sequence
from dataclasses import asdict, replace
from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.access.commands import tell_controllers
from cadrin.access.models import Membership, Reader
from cadrin.access.plan import alternatives_of, the_plan
from cadrin.cards.models import CardFormat
from cadrin.cards.pins import mistaken_by
from cadrin.cards.settings import card_settings, pin_rule
from cadrin.core.access.plan import Plan
from cadrin.core.access.readiness import groups_by_formats_read, groups_that_need
from cadrin.core.credentials.factors import ANY_CARD, Factor, Factors, ReaderPolicy
from cadrin.core.credentials.pin.duplicates import PinInUse
from cadrin.core.credentials.pin.rule import PinRule, problems_with_rule
from cadrin.core.errors import Invalid, NotFound, Problem, Stale
from cadrin.core.validity import Standing
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.models import Cardholder

READER, CARD_SETTINGS = "reader", "card_settings"
DEVICES = ("has_keypad", "has_camera", "is_way_out")
MOST_CARDS = 100
MOST_NAMED = 20


class ReaderDraft(NamedTuple):
    """What a reader asks for and where it stands, as an operator wants it; without formats it reads all of them."""

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
    """Decide what a reader takes; every controller is told. Raises Invalid, Stale, NotFound or NotPermitted."""
    actor.require(Permission.SET_UP)
    reader = Reader.objects.filter(pk=reader_id).first()
    if reader is None:
        raise NotFound.of("reader.not_found")
    if reader.version != draft.version:
        raise Stale(reader.version, history_of(READER, reader_id, after_version=draft.version))
    if problems := tuple(_problems_with_reader(reader, draft)):
        raise Invalid(problems)
    names = dict(CardFormat.objects.values_list("id", "name"))
    before_ids = set(reader.formats.values_list("id", flat=True))
    had = alternatives_of(reader.policy)
    before = {"policy": reader.policy, **{name: getattr(reader, name) for name in DEVICES}}
    after = {"policy": stored_policy(draft.policy), **{name: getattr(draft, name) for name in DEVICES}}
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
    record(actor, at, [Act("reader.changed", about, {"name": (reader.name, reader.name), **changes})])
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
    if draft.format_ids - set(CardFormat.objects.values_list("id", flat=True)):
        yield Problem("input.no_longer_there", "formats")


class ReaderConsequences(NamedTuple):
    """How many people more (or, below zero, fewer) would lack a PIN, or a card that every door of theirs can read.

    ``has_way_in`` says whether its door would still have a reader on the way in.
    """

    without_pin: int
    without_readable_card: int
    has_way_in: bool


def consequences_for_reader(reader_id: int, draft: ReaderDraft) -> ReaderConsequences:
    """Work out what saving a reader would make people lack. Nothing is saved."""
    plan = the_plan()
    policy = draft.policy
    others = {id_: other for id_, other in plan.policy_of_reader.items() if id_ != reader_id}
    after = replace(
        plan,
        policy_of_reader=others if policy == ANY_CARD else {**others, reader_id: policy},
        readers_out=plan.readers_out | {reader_id} if draft.is_way_out else plan.readers_out - {reader_id},
    )
    door_id = plan.door_of_reader.get(reader_id)
    return ReaderConsequences(
        len(_without_pin(after)) - len(_without_pin(plan)),
        len(_unread(after)) - len(_unread(plan)),
        door_id is None or bool(after.policies_into(door_id)),
    )


def _without_pin(plan: Plan) -> set[int]:
    found = Membership.objects.filter(group_id__in=groups_that_need(Factor.PIN, plan), cardholder__pins=None)
    return set(found.exclude(cardholder__standing=Standing.DEPARTED).values_list("cardholder_id", flat=True))


def _unread(plan: Plan) -> set[int]:
    unread: set[int] = set()
    for format_ids, group_ids in groups_by_formats_read(plan).items():
        found = Membership.objects.filter(group_id__in=group_ids).exclude(cardholder__cards__format__in=format_ids)
        found = found.filter(cardholder__cards__isnull=False).exclude(cardholder__standing=Standing.DEPARTED)
        unread.update(found.values_list("cardholder_id", flat=True))
    return unread


class CardSettingsDraft(NamedTuple):
    """What the site asks of cards and PINs, as an operator wants it."""

    most_cards: int | None
    rule: PinRule
    version: int


def problems_with_card_settings(draft: CardSettingsDraft) -> tuple[Problem, ...]:
    """Give everything against these decisions, each beside its field."""
    problems = problems_with_rule(draft.rule)
    if draft.most_cards is not None and not 1 <= draft.most_cards <= MOST_CARDS:
        problems = (Problem("input.out_of_range", "most_cards", {"lowest": 1, "highest": MOST_CARDS}), *problems)
    return problems


def _mistaken(pins: Sequence[PinInUse]) -> Problem:
    """Say who needs another PIN first; never whose theirs would be taken for, as one tells the other's."""
    holder_ids = {pin.holder_id for pin in pins}
    numbers = Cardholder.objects.filter(pk__in=holder_ids).order_by("id").values_list("number", flat=True)
    named = ", ".join(numbers[:MOST_NAMED]) + ("…" if len(holder_ids) > MOST_NAMED else "")
    return Problem("pin_rule.mistaken", "duress", {"count": len(holder_ids), "numbers": named})


@transaction.atomic
def save_card_settings(actor: Actor, draft: CardSettingsDraft, at: datetime) -> None:
    """Decide what the site asks of cards and PINs from now on; those there are stay. Controllers are told.

    A rule for duress by which doors would take somebody's PIN for another's is refused until they have another PIN.

    Raises Invalid, Stale or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    kept = card_settings()
    if kept.version != draft.version:
        raise Stale(kept.version, history_of(CARD_SETTINGS, 1, after_version=draft.version))
    if problems := problems_with_card_settings(draft):
        raise Invalid(problems)
    before = {"most_cards": kept.most_cards, **asdict(pin_rule(kept))}
    after = {"most_cards": draft.most_cards, **asdict(draft.rule)}
    changes = changes_between(before, after)
    if not changes:
        return
    if "duress" in changes and (mistaken := mistaken_by(draft.rule)):
        raise Invalid((_mistaken(mistaken),))
    kept.most_cards, kept.pin_rule = draft.most_cards, asdict(draft.rule)
    kept.version += 1
    kept.save()
    record(actor, at, [Act("card_settings.changed", (About(CARD_SETTINGS, 1, kept.version),), changes)])
    tell_controllers()
