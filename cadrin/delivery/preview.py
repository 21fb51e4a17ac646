"""The consequences of a draft, before it is saved."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import UTC, datetime, time, timedelta
from typing import Literal, NamedTuple

from cadrin.access.commands.groups import problems_with_group
from cadrin.access.drafts import GroupDraft
from cadrin.access.granted import group_that_opens
from cadrin.access.plan import access_plan, holders
from cadrin.access.queries import member_ids, not_as_ruled
from cadrin.access.scoping import group_ids_hidden
from cadrin.biometrics.at_doors import as_saved
from cadrin.core.access.difference import (
    ReachDifference,
    reach_difference,
    weeks_that_matter,
)
from cadrin.core.access.meeting import Meeting, meetings
from cadrin.core.access.membership_rules import MembershipRule
from cadrin.core.access.plan import AccessGroup, Holder, Plan
from cadrin.core.access.reach import DoorReach, reach
from cadrin.core.access.readiness import ReadinessItem, readiness
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.room import ANY_MEMORY, Memory, cards_left_out
from cadrin.core.credentials.factors import BIOMETRIC
from cadrin.core.errors import Problem
from cadrin.core.people.details import RegisterRules
from cadrin.core.records.cardholders import Cut, belongs_at, encode_cardholder, what_is_cut
from cadrin.core.records.importance import Claim
from cadrin.core.records.keys import digest
from cadrin.core.records.plan_records import plan_at_controller, plan_records, schedules_left_out
from cadrin.core.schedules import zone_named
from cadrin.core.validity import Condition, Span, State, state_at
from cadrin.credentials.pins import term_of_new
from cadrin.credentials.settings import pin_rule
from cadrin.delivery.models import Link
from cadrin.delivery.places import whose_place
from cadrin.delivery.queries import carrying_at, not_held_counts
from cadrin.delivery.wanted import memories, plans_here, template_counts_at
from cadrin.enrolment.draft import CardholderDraft, Limits, Wanted
from cadrin.enrolment.problems import problems_with_draft
from cadrin.enrolment.queries import with_what_is_hidden
from cadrin.enrolment.ruled import as_ruled
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.commands.departments import parents
from cadrin.people.duplicates import possible_duplicates
from cadrin.people.queries import count_matching, get_cardholder, rules
from cadrin.sites.queries import controller_ids, door_ids, home_site

SECONDS_A_DAY = 86_400


class ToSend(NamedTuple):
    """What saving would send to one controller; ``is_silent`` when it does not answer at present.

    ``left_out`` are the cards that would work and for which it has no room, as it keeps
    ``most_cards`` of one cardholder: they open nothing there. ``is_full`` when it has no room for
    them, as others are more important, ``in_place_of`` whom it lets go for them;
    ``is_without_templates`` where it has none for their fingers and faces. ``cut`` is what it cannot
    express, and ``latest`` the last day of its calendar. It keeps ``most_memberships`` of one
    cardholder, and has no room for ``schedules_left_out``: nothing opens by them there.
    """

    controller_id: int
    act: Literal["put", "remove"]
    is_silent: bool
    records: int = 1
    most_cards: int | None = None
    left_out: tuple[CardKey, ...] = ()
    is_full: bool = False
    in_place_of: int | None = None
    is_without_templates: bool = False
    cut: tuple[Cut, ...] = ()
    latest: datetime | None = None
    longest_days: int | None = None
    most_memberships: int | None = None
    schedules_left_out: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class CardholderPreview:
    """What the draft would lead to; ``week`` is the time in which ``reach`` is shown.

    ``condition`` is the state now, and until when by itself; ``expired_at`` since when it is over.

    ``difference_out`` is of the ways out that ask for something else than the ways in.
    """

    problems: tuple[Problem, ...]
    condition: Condition
    expired_at: datetime | None
    readiness: tuple[ReadinessItem, ...]
    week: Span
    reach: tuple[DoorReach, ...]
    difference: ReachDifference
    difference_out: ReachDifference
    to_send: tuple[ToSend, ...]
    possible_duplicates: Rows
    meetings: tuple[Meeting, ...] = ()


def week_from(at: datetime) -> Span:
    """Return the seven days of the site that begin with the day of an instant."""
    zone = zone_named(home_site()["zone"])
    day = at.astimezone(zone).date()
    first, last = (datetime.combine(item, time(), zone) for item in (day, day + timedelta(days=7)))
    return Span(first, last)


def preview_cardholder(
    actor: Actor, cardholder_id: int | None, draft: CardholderDraft, now: datetime, as_of: datetime
) -> CardholderPreview:
    """Work out what saving the draft would change, and what the doors would do at ``as_of``.

    What the actor may not see counts for readiness and hours, and is not shown. Raises NotFound.
    """
    if cardholder_id is not None:
        get_cardholder(actor, cardholder_id)
    plan, doors = access_plan(), door_ids(actor)
    register_rules = rules()
    before, after = _before_and_after(actor, Wanted(cardholder_id, draft), register_rules, now)
    weeks = weeks_that_matter(now, before, after)
    week = week_from(as_of)
    difference, difference_out = reach_difference(before, after, doors, plan, weeks)
    controllers = set(controller_ids(actor))
    not_held = (
        not_held_counts({cardholder_id: before}).get(cardholder_id, 0) if cardholder_id else 0
    )
    condition = state_at(after.standing, after.span, now, after.suspended_until)
    return CardholderPreview(
        condition=condition,
        expired_at=after.span.end if condition.state is State.EXPIRED else None,
        problems=problems_with_draft(actor, draft, cardholder_id, register_rules, now),
        readiness=readiness(after, plan, now, not_held),
        week=week,
        reach=reach(after, doors, plan, as_of, week),
        difference=difference,
        difference_out=difference_out,
        to_send=tuple(
            item for item in _to_send(before, after, now) if item.controller_id in controllers
        ),
        possible_duplicates=possible_duplicates(actor, draft.details, cardholder_id),
        meetings=_meetings_seen(actor, after, plan, set(doors)),
    )


def _meetings_seen(
    actor: Actor, holder: Holder, plan: Plan, doors: set[int]
) -> tuple[Meeting, ...]:
    """Return where somebody's groups meet, as far as the actor may see the groups and doors."""
    hidden = group_ids_hidden(actor)
    shown = [one for one in holder.memberships if one.group_id not in hidden]
    seen = (
        one._replace(door_ids=tuple(id_ for id_ in one.door_ids if id_ in doors))
        for one in meetings(shown, plan)
    )
    return tuple(one for one in seen if one.door_ids)


def _before_and_after(
    actor: Actor, wanted: Wanted, register_rules: RegisterRules, now: datetime
) -> tuple[Holder, Holder]:
    """Return what doors make of a cardholder as they are, and would make of the draft."""
    id_, draft = wanted.holder_id, wanted.draft
    before = (holders([id_]).get(id_) if id_ else None) or Holder(0, "", "")
    limits: Limits = {card.key: card.limit for card in before.cards if card.limit}
    (whole,) = with_what_is_hidden(actor, [wanted])
    after = as_ruled(wanted.cardholder_id, whole.draft).holder(id_, register_rules.names, limits)
    unchanged = {pin.id for pin in draft.pins if pin.id and not pin.is_new}
    after = _with_pins_as_saved(after, before, unchanged, term_of_new(pin_rule(), now))
    return before, as_saved(after, before, draft.biometrics, now)


def _with_pins_as_saved(after: Holder, before: Holder, unchanged: set[int], term: Span) -> Holder:
    """Return a holder whose PINs that stay are those that doors know already, and whose new ones
    have their term.
    """
    known = {pin.id: pin for pin in before.pins if pin.id in unchanged}
    pins = (
        replace(known.get(pin.id, replace(pin, span=term)), opens_alone=pin.opens_alone)
        for pin in after.pins
    )
    return replace(after, pins=tuple(pins))


def _to_send(before: Holder, after: Holder, at: datetime) -> Iterable[ToSend]:
    silent, memory = _silent_controllers(), memories()
    limits = dict(
        Link.objects.exclude(most_templates=None).values_list("controller_id", "most_templates")
    )
    for controller_id, here in plans_here().items():
        of_this = memory.get(controller_id, ANY_MEMORY)
        then = _with_room_or_without(of_this, after, controller_id, here, limits.get(controller_id))
        old, new = (
            encode_cardholder(item, here, known)
            for item, known in ((before, of_this), (after, then))
        )
        if new is not None and new != old:
            out = whose_place(controller_id, Claim(after.id, after.standing, after.span.end))
            left_out = tuple(card.key for card in cards_left_out(after.cards, of_this, at))
            yield ToSend(
                controller_id,
                "put",
                controller_id in silent,
                most_cards=of_this.most_cards if left_out else None,
                left_out=left_out,
                is_full=out == after.id,
                in_place_of=out if out != after.id else None,
                is_without_templates=after.id in then.without_templates,
                cut=what_is_cut(after, here, of_this),
                most_memberships=of_this.most_memberships,
                latest=None
                if of_this.latest is None
                else datetime.fromtimestamp(of_this.latest, UTC),
                longest_days=None
                if of_this.longest_span is None
                else of_this.longest_span // SECONDS_A_DAY,
            )
        elif old is not None and new is None:
            yield ToSend(controller_id, "remove", controller_id in silent)


def _with_room_or_without(
    memory: Memory, holder: Holder, controller_id: int, here: Plan, most: int | None
) -> Memory:
    """Return a memory as it will be: with room for the templates of a holder, or without."""
    theirs = sum(
        not template.is_suspended
        for factor in BIOMETRIC
        if here.takes(factor)
        for template in holder.biometrics(factor)
    )
    others = memory.without_templates - {holder.id}
    if most is None or not theirs or not belongs_at(holder, here):
        return memory._replace(without_templates=others)
    kept = sum(
        count
        for holder_id, count in template_counts_at(controller_id)
        if holder_id != holder.id and holder_id not in others
    )
    mine = {holder.id} if kept + theirs > most else set()
    return memory._replace(without_templates=others | mine)


def _silent_controllers() -> set[int]:
    return set(Link.objects.exclude(failed_at=None).values_list("controller_id", flat=True))


@dataclass(frozen=True, slots=True)
class GroupPreview:
    """What saving a group would change: its doors, for how many people, how many come into it and
    leave it by its rules, which groups give the same already, and what is sent.
    """

    problems: tuple[Problem, ...]
    gained: tuple[int, ...]
    lost: tuple[int, ...]
    other_hours: tuple[int, ...]
    people: int
    joining: int
    leaving: int
    same_as: tuple[int, ...]
    to_send: tuple[ToSend, ...]


def preview_group(group_id: int | None, draft: GroupDraft) -> GroupPreview:
    """Work out what saving the group would open and close for its people, and how many records that
    sends.
    """
    plan = access_plan()
    before = plan.groups.get(group_id or 0, AccessGroup(group_id or 0, "", {}))
    after = group_that_opens(draft.grants, before.id, draft.name, overrides=draft.overrides)
    old, new = before.schedules_of_door, after.schedules_of_door
    rules = [MembershipRule(before.id, *rule) for rule in draft.rules if any(rule)]
    ruled = not_as_ruled(group_id, rules, parents())
    return GroupPreview(
        problems=problems_with_group(draft, group_id),
        gained=tuple(door for door in new if door not in old),
        lost=tuple(door for door in old if door not in new),
        other_hours=tuple(door for door in new if door in old and not before.opens_as(after, door)),
        people=len(member_ids(group_id)) if group_id else 0,
        joining=ruled.missing.count(),
        leaving=ruled.over.count(),
        same_as=tuple(
            one.id
            for one in plan.groups.values()
            if new and one.id != before.id and one.gives_as(after)
        ),
        to_send=tuple(_group_to_send(before, after)),
    )


def _group_to_send(before: AccessGroup, after: AccessGroup) -> Iterable[ToSend]:
    """Count, for each controller, the group's own record, the schedules it needs, and its people's
    records.

    People's records change only where the group comes or goes: its doors stand in its own record.
    """
    silent, plan, memory = _silent_controllers(), access_plan(), memories()
    changed = replace(plan, groups={**plan.groups, after.id: after})
    for controller_id, here in plans_here().items():
        then = plan_at_controller(changed, here.door_of_reader)
        of_this = memory.get(controller_id, ANY_MEMORY)
        old, new = (
            {key: digest(key, body) for key, body in plan_records(one, of_this).items()}
            for one in (here, then)
        )
        put = sum(1 for key, item in new.items() if old.get(key) != item)
        removed = sum(1 for key in old if key not in new)
        if before.id and (before.id in here.groups) != (after.id in then.groups):
            put += count_matching(carrying_at(here), member_ids(before.id))
        if put or removed:
            yield ToSend(
                controller_id,
                "put" if put else "remove",
                controller_id in silent,
                put + removed,
                schedules_left_out=schedules_left_out(then, of_this),
            )
