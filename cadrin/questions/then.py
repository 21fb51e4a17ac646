"""The house at an instant: as it is, or as the journal tells that it was."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import datetime
from typing import Self

from cadrin.access.plan import access_plan, holders
from cadrin.access.plan_then import plan_then
from cadrin.access.queries import members_of_any
from cadrin.core.access.finder import Roster
from cadrin.core.access.plan import Holder, Plan
from cadrin.core.errors import Invalid
from cadrin.enrolment.then import holders_then
from cadrin.journal.queries import changed_since
from cadrin.questions.kept_members import KeptMembers, Members

MOST_CHANGED = 5_000
"""People of whom something was changed since: more are not taken back for one question."""


_members_now = KeptMembers()


@dataclass
class House:
    """Doors and people at ``at``; ``as_now`` is what was changed since and cannot be taken back."""

    at: datetime
    plan: Plan
    is_past: bool = False
    as_now: set[str] = field(default_factory=set)

    @classmethod
    def at_instant(cls, at: datetime, now: datetime) -> Self:
        if at >= now:
            return cls(at, access_plan())
        plan, as_now = plan_then(at)
        return cls(at, plan, is_past=True, as_now=set(as_now))

    def people(self, ids: Iterable[int]) -> dict[int, Holder]:
        """Return cardholders as they were, without those who were not there."""
        if not self.is_past:
            return holders(ids)
        found, as_now = holders_then(ids, self.at)
        self.as_now |= as_now
        return found

    def members_of_any(self, group_ids: Iterable[int]) -> Members:
        """Return whoever may have been in one of these groups. Raises Invalid where too much was
        changed since.
        """
        if not self.is_past:
            return _members_now(group_ids)
        changed = changed_since("cardholder", self.at)
        if len(changed) > MOST_CHANGED:
            raise Invalid.of("question.too_much_since", "at", count=len(changed))
        people = self.people(members_of_any(group_ids) | changed)
        return Members(people, Roster(list(people.values())))
