"""Read controllers: whether they answer, what they hold, and what is amiss there."""

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from typing import Any

from django.db.models import Count, DateTimeField, Q, QuerySet

from cadrin.access.plan import access_plan, holders
from cadrin.config.database.reading import Given, RowsByIds
from cadrin.core.credentials.card.room import cards_left_out
from cadrin.core.decision.events import WRONG_CLOCK_SECONDS
from cadrin.core.records.cardholders import belongs_at
from cadrin.core.records.keys import RecordKind
from cadrin.core.records.plan_records import schedules_left_out
from cadrin.core.records.states import RecordState
from cadrin.core.records.waiting import is_held_back
from cadrin.core.schedules import Schedule
from cadrin.credentials.queries import people_with_more_cards_than
from cadrin.delivery.beats import is_line_late
from cadrin.delivery.found_people import found_at_controllers
from cadrin.delivery.models import Incident, Link, Record
from cadrin.delivery.queries import records_seen
from cadrin.delivery.record_states import is_not_held
from cadrin.delivery.wanted import links, memories, plans_here
from cadrin.journal.naming import names_of
from cadrin.journal.queries import latest_digest
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.scoping import only_seen
from cadrin.sites.queries import controllers_shown, doors_of_controllers

NOT_HELD = tuple(state for state in RecordState if state is not RecordState.HELD)
INCIDENTS_ARE_TROUBLE_FOR = timedelta(days=1)


def controllers(actor: Actor, at: datetime) -> list[dict[str, Any]]:
    """Return every controller within reach: what it should hold, what it holds, and how the line to it
    is.
    """
    every = _counts(actor)
    found = found_at_controllers() if Permission.ENROL in actor.permissions else {}
    doors = doors_of_controllers(actor)
    return [
        {
            **line,
            "doors": doors.get(id_, []),
            "counts": {
                RecordState.HELD.value: every.get(id_, 0) - sum(line["counts"].values()),
                **line["counts"],
            },
            "found_people": found.get(id_, 0) if actor.scope.is_whole else 0,
        }
        for line in with_what_still_works(actor, lines_to(actor, at))
        for id_ in [line["id"]]
    ]


def with_what_still_works(actor: Actor, lines: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Say of lines from how many people something was taken away that their controllers still hold."""
    taking_away = _withdrawals_not_held(actor) if lines else {}
    return [{**line, "still_works": taking_away.get(line["id"], 0)} for line in lines]


def lines_to(actor: Actor, at: datetime) -> list[dict[str, Any]]:
    """Return the line to every controller within reach, and what is amiss there: every open page
    asks for it. ``counts`` are of what it does not hold.
    """
    left_out_schedules, hours = _schedules_left_out(), access_plan().schedules
    left_out, incidents = _people_with_cards_left_out(actor, at), _incidents_lately(at)
    not_held = _not_held_by_state(actor)
    known = {link.controller_id: link for link in links()}
    return [
        {
            **controller,
            **_line(known.get(id_), hours, at),
            "counts": {state.value: not_held.get((id_, state), 0) for state in NOT_HELD},
            "left_out": left_out.get(id_, 0),
            "schedules_left_out": left_out_schedules.get(id_, []),
            "without_templates": len(only_seen(actor, known[id_].without_templates))
            if id_ in known
            else 0,
            "incidents": incidents.get(id_, []),
        }
        for controller in controllers_shown(actor)
        for id_ in [controller["id"]]
    ]


def _not_held_by_state(actor: Actor) -> dict[tuple[int, str], int]:
    counted = _states_of_all() if actor.scope.is_whole else _by_state(records_seen(actor))
    return {(controller_id, state): count for controller_id, state, count in counted}


def _by_state(seen: Q) -> QuerySet[Any, Any]:
    rows = Record.objects.filter(is_not_held(), seen)
    return rows.values_list("controller_id", "state").annotate(Count("id")).order_by()


_states_of_all = RowsByIds(lambda: _by_state(Q()))


def _counts(actor: Actor) -> dict[int, int]:
    rows = Record.objects.filter(records_seen(actor)).values_list("controller_id")
    return dict(rows.annotate(Count("id")).order_by())


def _incidents_lately(at: datetime) -> dict[int, list[dict[str, Any]]]:
    found: dict[int, list[dict[str, Any]]] = {}
    for controller_id, *told in _latest_incidents(since=at - INCIDENTS_ARE_TROUBLE_FOR):
        found.setdefault(controller_id, []).append(dict(zip(_OF_INCIDENTS, told, strict=True)))
    return found


_OF_INCIDENTS = ("kind", "detail", "count", "first_at", "last_at")
_latest_incidents = RowsByIds(
    lambda: (
        Incident.objects.filter(last_at__gte=Given("since", DateTimeField()))
        .order_by("-last_at")
        .values_list("controller_id", *_OF_INCIDENTS)[:200]
    )
)


def _line(link: Link | None, hours: Mapping[int, Schedule], at: datetime) -> dict[str, Any]:
    """Say how the line to a controller is; nothing was heard of one without a link."""
    return {
        "answered_at": link.answered_at if link else None,
        "failed_at": link.failed_at if link else None,
        "failure": link.failure if link else "",
        "clock_off_seconds": link.clock_off_seconds if link else 0,
        "is_clock_kept": bool(link and link.is_clock_kept),
        "is_paused": bool(link and link.is_paused),
        "sends_by": link.sends_by_id if link else None,
        "is_held_back": link is not None
        and is_held_back(
            is_paused=link.is_paused,
            hours=hours.get(link.sends_by_id or 0),
            at=at,
        ),
        "capacity": link.capacity if link else None,
        "is_late": is_line_late(link.turned_at if link else None, at),
    }


def _withdrawals_not_held(actor: Actor) -> dict[int, int]:
    """Return, by controller, of how many people it holds an older record from which something was
    taken away.
    """
    rows = Record.objects.filter(is_not_held(), records_seen(actor), is_withdrawal=True)
    rows = rows.exclude(confirmed="")
    counted = rows.values_list("controller_id", "kind").annotate(Count("id")).order_by()
    return {id_: count for id_, kind, count in counted if kind == RecordKind.CARDHOLDER}


def _schedules_left_out() -> dict[int, list[str]]:
    """Return, by controller, the names of the schedules for which it has no room."""
    here, found = plans_here(), {}
    for id_, memory in memories().items():
        if id_ in here and (ids := schedules_left_out(here[id_], memory)):
            found[id_] = sorted(names_of("schedule", ids).values())
    return found


def _people_with_cards_left_out(actor: Actor, at: datetime) -> dict[int, int]:
    """Return, by controller, how many people have a card that would work and for which it has no
    room.
    """
    small = {id_: memory for id_, memory in memories().items() if memory.most_cards is not None}
    if not small:
        return {}
    fewest = min(memory.most_cards or 0 for memory in small.values())
    people = holders(only_seen(actor, people_with_more_cards_than(fewest, latest_digest())))
    here = plans_here()
    return {
        id_: sum(
            1
            for person in people.values()
            if belongs_at(person, here[id_]) and cards_left_out(person.cards, memory, at)
        )
        for id_, memory in small.items()
        if id_ in here
    }


def has_trouble(controller: Mapping[str, Any]) -> bool:
    """Say whether a person should look at a controller: by what `lines_to` returns of it."""
    return bool(
        controller["failed_at"]
        or controller["is_late"]
        or controller["counts"][RecordState.REFUSED]
        or controller["incidents"]
        or controller["left_out"]
        or controller["schedules_left_out"]
        or controller["without_templates"]
        or abs(controller["clock_off_seconds"]) > WRONG_CLOCK_SECONDS
    )
