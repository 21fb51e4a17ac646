"""Write memberships: the one place that does. The caller holds the transaction and has checked what
it asks for.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from cadrin.access.models import KeptOut, Membership
from cadrin.access.queries import names_of_groups
from cadrin.config.database.inserting import insert_rows
from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.core.validity import Span
from cadrin.journal.commands import About, Act, changes_between
from cadrin.people.commands.parts import Part, holders_before

GROUP = "group"


@dataclass(frozen=True, slots=True)
class MembershipDraft:
    """A membership as an operator wants a cardholder to have it."""

    group_id: int
    activation_at: datetime | None = None
    expiry_at: datetime | None = None
    is_by_rule: bool = False

    @property
    def span(self) -> Span:
        return Span(self.activation_at, self.expiry_at)

    def kept(self) -> dict[str, datetime | bool | None]:
        """Return everything but the group, by the names of the columns it is kept in."""
        return {**self.times(), "is_by_rule": self.is_by_rule}

    def times(self) -> dict[str, datetime | None]:
        return {"activation_at": self.activation_at, "expiry_at": self.expiry_at}

    def told(self) -> dict[str, datetime | bool | None]:
        """Return what the journal tells of it; that it was given by hand goes without saying."""
        return {**self.times(), "is_by_rule": self.is_by_rule or None}


_memberships = RowsByIds(
    lambda: (
        Membership.objects.filter(cardholder_id__among=IDS)
        .order_by("id")
        .values_list("cardholder_id", "group_id", "activation_at", "expiry_at", "is_by_rule")
    )
)


def memberships_of(
    holder_ids: Iterable[int], among: Iterable[int] | None = None
) -> dict[int, tuple[MembershipDraft, ...]]:
    """Return the memberships of cardholders in the order in which they were given, in all groups or
    ``among`` some.
    """
    found: dict[int, tuple[MembershipDraft, ...]] = dict.fromkeys(holder_ids, ())
    wanted = None if among is None else frozenset(among)
    for holder_id, group_id, start, end, is_by_rule in _memberships(found):
        if wanted is None or group_id in wanted:
            found[holder_id] += (MembershipDraft(group_id, start, end, is_by_rule),)
    return found


def set_memberships(parts: Sequence[Part[MembershipDraft]]) -> list[Act]:
    """Make the memberships of each cardholder these; one that is missing is removed. Gives the acts
    for the journal.
    """
    had = {
        holder_id: {membership.group_id: membership for membership in memberships}
        for holder_id, memberships in memberships_of(holders_before(parts)).items()
    }
    groups = {draft.group_id for part in parts for draft in part.wanted}
    groups.update(group_id for memberships in had.values() for group_id in memberships)
    names = names_of_groups(groups)
    acts: list[Act] = []
    removed: dict[int, list[int]] = {}
    new: list[tuple[object, ...]] = []
    for part in parts:
        before, wanted = (
            had.get(part.holder_id, {}),
            {draft.group_id: draft for draft in part.wanted},
        )
        for group_id, membership in before.items():
            if group_id not in wanted:
                removed.setdefault(group_id, []).append(part.holder_id)
                acts.append(
                    _act("membership.removed", part, group_id, names, membership.told(), {})
                )
        for group_id, draft in wanted.items():
            if group_id not in before:
                new.append((group_id, part.holder_id, *draft.kept().values()))
                acts.append(_act("membership.added", part, group_id, names, {}, draft.told()))
            elif before[group_id] != draft:
                _change(part.holder_id, draft)
                spans = before[group_id].told(), draft.told()
                acts.append(_act("membership.changed", part, group_id, names, *spans))
    for group_id, holder_ids in removed.items():
        Membership.objects.filter(group_id=group_id, cardholder_id__in=holder_ids).delete()
    columns = ("group_id", "cardholder_id", "activation_at", "expiry_at", "is_by_rule")
    insert_rows(Membership, columns, new)
    return acts


def set_kept_out(holder_id: int, before: Iterable[int], after: Iterable[int]) -> None:
    """Keep somebody out of groups, whatever their rules say, and no longer out of others."""
    gone = set(before) - set(after)
    KeptOut.objects.filter(cardholder_id=holder_id, group_id__in=gone).delete()
    KeptOut.objects.bulk_create(
        KeptOut(cardholder_id=holder_id, group_id=id_) for id_ in set(after) - set(before)
    )


def _change(holder_id: int, draft: MembershipDraft) -> None:
    Membership.objects.filter(cardholder_id=holder_id, group_id=draft.group_id).update(
        **draft.kept()
    )


def _act(
    action: str,
    part: Part[MembershipDraft],
    group_id: int,
    names: Mapping[int, str],
    before: Mapping[str, object],
    after: Mapping[str, object],
) -> Act:
    name = names[group_id]
    return Act(
        action,
        (part.about, About(GROUP, group_id)),
        {"group": (name, name), **changes_between(before, after)},
        {"group_id": (group_id, group_id)},
    )
