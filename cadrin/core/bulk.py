"""One act on many cardholders: what it does to each of them, or why it leaves one as it is."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from enum import StrEnum
from typing import Any

from cadrin.core.validity import Span, Standing, overlap


class BulkAct(StrEnum):
    DEPARTMENT = "department"
    COMPANY = "company"
    KIND = "kind"
    STANDING = "standing"
    EXPIRY = "expiry"
    ADD_GROUP = "add_group"
    REMOVE_GROUP = "remove_group"
    UNDO = "undo"


class LeftAlone(StrEnum):
    """Why a batch leaves somebody as they are."""

    SAME = "same"
    """They are already so."""
    ENDS_BEFORE_IT_BEGINS = "ends_before_it_begins"
    ERASED = "erased"
    CHANGED_SINCE = "changed_since"
    """Somebody changed it after the batch that is to be taken back."""
    GONE = "gone"
    MEETS = "meets"
    """They are in a group that the one to be added may not meet at a door."""


MembershipSpan = tuple[datetime | None, datetime | None]


@dataclass(frozen=True, slots=True)
class Subject:
    """What a batch may change of a cardholder. ``groups`` has the span of each membership."""

    department_id: int | None = None
    company_id: int | None = None
    kind_id: int | None = None
    standing: Standing = Standing.ACTIVE
    standing_reason: str = ""
    suspended_until: datetime | None = None
    activation_at: datetime | None = None
    expiry_at: datetime | None = None
    groups: Mapping[int, MembershipSpan] = field(default_factory=dict)
    is_erased: bool = False


@dataclass(frozen=True, slots=True)
class BulkOrder:
    """What to do: the value is an id, a standing, or an instant (None for no expiry), as the act
    takes it.
    """

    act: BulkAct
    value: int | Standing | datetime | None
    reason: str = ""
    apart: frozenset[int] = frozenset()
    """Groups whose people are not put into the one to be added."""
    span: MembershipSpan = (None, None)
    """The time for which people are put into a group."""

    @property
    def group_id(self) -> int | None:
        """Return the access group that it is about; None when it is about none."""
        is_group = self.act in (BulkAct.ADD_GROUP, BulkAct.REMOVE_GROUP)
        return self.value if is_group and isinstance(self.value, int) else None


TOUCHES_DOORS = frozenset(
    {BulkAct.STANDING, BulkAct.EXPIRY, BulkAct.ADD_GROUP, BulkAct.REMOVE_GROUP}
)


def changed(subject: Subject, order: BulkOrder) -> Subject | LeftAlone:
    """Return somebody as the batch would leave them, or why it does not touch them."""
    if subject.is_erased:
        return LeftAlone.ERASED
    after = _applied(subject, order)
    if after == subject:
        return LeftAlone.SAME
    if Span(after.activation_at, after.expiry_at).is_empty:
        return LeftAlone.ENDS_BEFORE_IT_BEGINS
    is_added = order.act is BulkAct.ADD_GROUP
    if is_added and any(
        overlap(Span(*subject.groups[id_]), Span(*order.span))
        for id_ in order.apart & subject.groups.keys()
    ):
        return LeftAlone.MEETS
    return after


def _applied(subject: Subject, order: BulkOrder) -> Subject:
    match order.act, order.value:
        case ((BulkAct.DEPARTMENT | BulkAct.COMPANY | BulkAct.KIND), (int() | None) as id_):
            chosen: dict[str, Any] = {f"{order.act.value}_id": id_}
            return replace(subject, **chosen)
        case BulkAct.STANDING, Standing() as standing:
            return replace(
                subject, standing=standing, standing_reason=order.reason, suspended_until=None
            )
        case BulkAct.EXPIRY, (datetime() | None) as expiry_at:
            return replace(subject, expiry_at=expiry_at)
        case BulkAct.ADD_GROUP, int() as group_id:
            return replace(subject, groups={group_id: order.span, **subject.groups})
        case BulkAct.REMOVE_GROUP, int() as group_id:
            return replace(
                subject,
                groups={id_: span for id_, span in subject.groups.items() if id_ != group_id},
            )
    raise ValueError(f"{order.act} does not take {order.value!r}")


def undone(now: Subject, before: Subject, order: BulkOrder) -> Subject | LeftAlone:
    """Return somebody as they were before a batch; only if they still are as the batch left them.

    ``before`` is what they were as the batch found them. What others changed elsewhere since stays.
    """
    if now.is_erased:
        return LeftAlone.ERASED
    left = changed(before, order)
    if isinstance(left, LeftAlone):
        return LeftAlone.SAME
    group_id = order.group_id
    if group_id is not None:
        if now.groups.get(group_id) != left.groups.get(group_id):
            return LeftAlone.CHANGED_SINCE
        others = {id_: span for id_, span in now.groups.items() if id_ != group_id}
        had = {group_id: before.groups[group_id]} if group_id in before.groups else {}
        return replace(now, groups=others | had)
    fields = {name: getattr(before, name) for name in FIELDS_OF[order.act]}
    if any(getattr(now, name) != getattr(left, name) for name in fields):
        return LeftAlone.CHANGED_SINCE
    after = replace(now, **fields)
    return (
        LeftAlone.ENDS_BEFORE_IT_BEGINS
        if Span(after.activation_at, after.expiry_at).is_empty
        else after
    )


FIELDS_OF: Mapping[BulkAct, tuple[str, ...]] = {
    BulkAct.DEPARTMENT: ("department_id",),
    BulkAct.COMPANY: ("company_id",),
    BulkAct.KIND: ("kind_id",),
    BulkAct.STANDING: ("standing", "standing_reason", "suspended_until"),
    BulkAct.EXPIRY: ("expiry_at",),
    BulkAct.ADD_GROUP: (),
    BulkAct.REMOVE_GROUP: (),
    BulkAct.UNDO: (),
}
