"""A front door with rules, and a controller at which one thing happens after the other."""

from dataclasses import replace
from datetime import timedelta

from cadrin.core.access.plan import Membership, Plan
from cadrin.core.credentials.factors import Evidence
from cadrin.core.decision.decide import decide
from cadrin.core.decision.reasons import Reason
from cadrin.core.decision.verdict import Verdict
from cadrin.core.doors.locks import lock_of
from cadrin.core.doors.passing import (
    Happening,
    after_opening,
    after_read,
    after_shutting,
)
from cadrin.core.doors.rules import AreaRules, DoorRules, Lock
from cadrin.core.doors.state import NOBODY_THERE
from cadrin.core.tests.builders import (
    EVERYWHERE,
    FRONT,
    FRONT_READER,
    MONDAY_NOON,
    a_card,
    a_holder,
    a_plan,
    a_read,
    held,
)

OUT_READER = 110


def a_ruled_plan(rules: DoorRules, areas: dict[int, AreaRules] | None = None) -> Plan:
    """The front door with rules, and a reader on its way out."""
    plan = a_plan()
    return replace(
        plan,
        doors={FRONT: rules},
        door_of_reader={**plan.door_of_reader, OUT_READER: FRONT},
        readers_out=frozenset({OUT_READER}),
        areas=areas or {},
    )


class House:
    """A controller and what happens at it, one thing after the other."""

    def __init__(self, plan: Plan, people: int = 4) -> None:
        everywhere = (Membership(EVERYWHERE),)
        self.holders = {
            id_: a_holder(id_=id_, cards=(a_card(id_),), memberships=everywhere)
            for id_ in range(1, people + 1)
        }
        self.records = held(plan, *self.holders.values())
        self.now, self.at = NOBODY_THERE, MONDAY_NOON

    def read(self, person: int = 1, reader: int = FRONT_READER) -> Verdict:
        read = Evidence(a_read(a_card(person)))
        verdict = decide(read, reader, self.at, self.records, self.now)
        change = after_read(verdict, reader, self.records.plan, self.now, self.at)
        self.now = self.now.after(change)
        return verdict

    def reason(self, person: int = 1, reader: int = FRONT_READER) -> Reason:
        return self.read(person, reader).reason

    def open(self, door: int = FRONT) -> Happening | None:
        happened = after_opening(door, self.records.plan, self.now, self.at)
        self.now = self.now.after(happened.change)
        return happened.happening

    def shut(self, door: int = FRONT) -> Happening | None:
        happened = after_shutting(door, self.now)
        self.now = self.now.after(happened.change)
        return happened.happening

    def wait(self, seconds: float) -> None:
        self.at += timedelta(seconds=seconds)

    def lock(self, door: int = FRONT) -> Lock:
        return lock_of(self.records.plan.doors[door], self.now.door(door), self.at)
