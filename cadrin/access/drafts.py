"""Access groups as operators want them."""

from typing import NamedTuple

from cadrin.core.access.plan import Way


class GrantDraft(NamedTuple):
    """One door with one schedule, or all doors into an area; both ways or one alone."""

    door_id: int | None
    schedule_id: int
    area_id: int | None = None
    way: Way = Way.BOTH


class RuleDraft(NamedTuple):
    """Everybody of a department, a kind and a company; what is None does not matter."""

    department_id: int | None = None
    kind_id: int | None = None
    company_id: int | None = None


class GroupDraft(NamedTuple):
    """An access group as an operator wants it. ``version`` is the one it was read at; 0 for a new
    one. One that ``overrides`` opens doors in their closed hours too. Its owner, an operator, looks
    through its people every ``review_days``. Whoever fits one of its ``rules`` is in it by that.
    """

    name: str
    remarks: str
    grants: tuple[GrantDraft, ...]
    version: int = 0
    overrides: bool = False
    owner_id: int | None = None
    review_days: int | None = None
    rules: tuple[RuleDraft, ...] = ()
