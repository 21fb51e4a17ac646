"""What one controller should hold beside its cardholders: the plan cut down to its doors, as
records.
"""

from collections import Counter
from collections.abc import Mapping
from dataclasses import replace

from cadrin.core.access.plan import Plan
from cadrin.core.credentials.card.room import ANY_MEMORY, Memory
from cadrin.core.credentials.factors import ANY_CARD, Factor
from cadrin.core.doors.rules import ANY_DOOR
from cadrin.core.records.card_formats import encode_format
from cadrin.core.records.doors import encode_area, encode_door
from cadrin.core.records.fields import encode_schedule
from cadrin.core.records.keys import THE_RULES, Body, RecordKey, RecordKind
from cadrin.core.records.places import encode_group, encode_reader
from cadrin.core.records.rules import encode_rules


def plan_at_controller(plan: Plan, doors_here: Mapping[int, int]) -> Plan:
    """Cut a plan down to one controller; ``doors_here`` leads from its readers to its doors."""
    doors = set(doors_here.values())
    groups = {}
    for group in plan.groups.values():
        if schedules_of_door := {
            d: ids for d, ids in group.schedules_of_door.items() if d in doors
        }:
            one_way = {place: way for place, way in group.one_way.items() if place[0] in doors}
            groups[group.id] = replace(group, schedules_of_door=schedules_of_door, one_way=one_way)
    wanted = {
        id_ for group in groups.values() for ids in group.schedules_of_door.values() for id_ in ids
    }
    schedules = {id_: schedule for id_, schedule in plan.schedules.items() if id_ in wanted}
    policies = {
        reader_id: policy
        for reader_id, policy in plan.policy_of_reader.items()
        if reader_id in doors_here
    }
    rules = {door_id: plan.doors.get(door_id, ANY_DOOR) for door_id in doors}
    plugs = {reader_id: plug for reader_id, plug in plan.plugs.items() if reader_id in doors_here}
    counting = {id_ for door in rules.values() for id_ in (door.from_area, door.to_area)}
    return Plan(
        schedules,
        groups,
        plan.formats,
        doors_here,
        policies,
        plan.pins,
        plan.readers_out.intersection(doors_here),
        rules,
        plugs,
        {id_: area for id_, area in plan.areas.items() if id_ in counting},
    )


def schedules_left_out(here: Plan, memory: Memory) -> tuple[int, ...]:
    """Return the schedules for which a controller has no room, so that no group opens a door by them
    there: those by which most groups open stay, of these the oldest.
    """
    if memory.most_schedules is None or len(here.schedules) <= memory.most_schedules:
        return ()
    used = Counter(
        id_
        for group in here.groups.values()
        for id_ in {id_ for ids in group.schedules_of_door.values() for id_ in ids}
    )
    by_importance = sorted(here.schedules, key=lambda id_: (-used[id_], id_))
    return tuple(sorted(by_importance[memory.most_schedules :]))


def plan_records(here: Plan, memory: Memory = ANY_MEMORY) -> dict[RecordKey, Body]:
    """Write everything but the cardholders that a controller with this plan and memory should hold."""
    left_out = schedules_left_out(here, memory)
    records: dict[RecordKey, Body] = {}
    if here.takes(Factor.PIN) and here.pins.is_known:
        records[THE_RULES] = encode_rules(here.pins)
    for id_, card_format in here.formats.items():
        records[RecordKey(RecordKind.FORMAT, id_)] = encode_format(card_format)
    for id_, schedule in here.schedules.items():
        if id_ in left_out:
            continue
        records[RecordKey(RecordKind.SCHEDULE, id_)] = encode_schedule(schedule)
    for id_, area in here.areas.items():
        records[RecordKey(RecordKind.AREA, id_)] = encode_area(area)
    for id_, rules in here.doors.items():
        records[RecordKey(RecordKind.DOOR, id_)] = encode_door(rules)
    for id_, door_id in here.door_of_reader.items():
        policy = here.policy_of_reader.get(id_, ANY_CARD)
        records[RecordKey(RecordKind.READER, id_)] = encode_reader(
            door_id, policy, here.plugs.get(id_), is_way_out=id_ in here.readers_out
        )
    for id_, group in here.groups.items():
        records[RecordKey(RecordKind.GROUP, id_)] = encode_group(group)
    return records
