"""What can be done about a door that lets in nobody, not now, or not alone."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from datetime import datetime

from cadrin.core.access.plan import Holder
from cadrin.core.decision.reasons import Act, Reason
from cadrin.core.decision.remedy_steps import Do, RemedyStep, Steps
from cadrin.core.decision.situation import Situation
from cadrin.core.doors.judging import way_at
from cadrin.core.doors.rules import DoorRules
from cadrin.core.doors.state import SHUT, Change, Waiting, Whereabouts

_SOMEBODY = -1

_Mend = Callable[[Situation, Holder, int, DoorRules, datetime], Situation]


def _with_rules(situation: Situation, door_id: int, rules: DoorRules) -> Situation:
    doors = {**situation.plan.doors, door_id: rules}
    return replace(situation, plan=replace(situation.plan, doors=doors))


def _after(situation: Situation, change: Change) -> Situation:
    return replace(situation, house=situation.house.after(change))


def _forgive(
    situation: Situation, holder: Holder, door_id: int, rules: DoorRules, at: datetime
) -> Situation:
    return _after(situation, Change({}, {holder.id: Whereabouts(None, at)}))


def _make_room(
    situation: Situation, holder: Holder, door_id: int, rules: DoorRules, at: datetime
) -> Situation:
    is_out = situation.presented.reader_id in situation.plan.readers_out
    area_id = way_at(rules, is_out=is_out).destination
    gone = {
        id_: Whereabouts(None, at)
        for id_, where in situation.house.people.items()
        if where.area_id == area_id
    }
    return _after(situation, Change({}, gone))


def _shut_others(
    situation: Situation, holder: Holder, door_id: int, rules: DoorRules, at: datetime
) -> Situation:
    return _after(situation, Change(dict.fromkeys(rules.interlock, SHUT)))


def _bring_another(
    situation: Situation, holder: Holder, door_id: int, rules: DoorRules, at: datetime
) -> Situation:
    is_out = situation.presented.reader_id in situation.plan.readers_out
    came = Waiting(_SOMEBODY, at, is_out, rules.open_seconds)
    return _after(situation, Change({door_id: replace(situation.house.door(door_id), first=came)}))


def _act(act: Act, mend: _Mend) -> Do:
    def do(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
        door_id = situation.plan.door_of_reader.get(situation.presented.reader_id, 0)
        rules = situation.plan.doors.get(door_id)
        if rules is not None:
            yield RemedyStep(act), mend(situation, holder, door_id, rules, at)

    return do


DOOR_ACTS: Mapping[Act, Do] = {
    act: _act(act, mend)
    for act, mend in {
        Act.CLOSED_HOURS: lambda situation, holder, door_id, rules, at: _with_rules(
            situation, door_id, replace(rules, closed=None)
        ),
        Act.END_ORDER: lambda situation, holder, door_id, rules, at: _with_rules(
            situation, door_id, replace(rules, ordered=None)
        ),
        Act.FORGIVE: _forgive,
        Act.MAKE_ROOM: _make_room,
        Act.SHUT_OTHER_DOORS: _shut_others,
        Act.SECOND_PERSON: _bring_another,
        Act.LET_IN: lambda situation, holder, door_id, rules, at: _with_rules(
            situation, door_id, replace(rules, consent_seconds=None)
        ),
    }.items()
}
