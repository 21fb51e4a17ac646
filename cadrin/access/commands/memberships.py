"""Write memberships: the one place that does. The caller holds the transaction and has checked what
it asks for.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from cadrin.access.models import AccessGroup, Membership
from cadrin.core.validity import ALWAYS, Span
from cadrin.journal.commands import About, Act, changes_between
from cadrin.people.commands.cardholders import CARDHOLDER

GROUP = "group"


@dataclass(frozen=True, slots=True)
class MembershipDraft:
    """A membership as an operator wants a cardholder to have it."""

    group_id: int
    activation_at: datetime | None = None
    expiry_at: datetime | None = None

    @property
    def span(self) -> Span:
        return Span(self.activation_at, self.expiry_at)


def set_memberships(
    cardholder_id: int, drafts: Sequence[MembershipDraft], version: int
) -> list[Act]:
    """Make a cardholder's memberships these; one that is missing is removed. Gives the acts for the
    journal.
    """
    had = {
        m.group_id: m
        for m in Membership.objects.filter(cardholder_id=cardholder_id).select_related("group")
    }
    wanted = {draft.group_id: draft for draft in drafts}
    names = dict(AccessGroup.objects.filter(pk__in=wanted).values_list("id", "name"))
    acts = []

    def act(
        action: str,
        group_id: int,
        name: str,
        before: Mapping[str, object],
        after: Mapping[str, object],
    ) -> Act:
        about = (About(CARDHOLDER, cardholder_id, version), About(GROUP, group_id))
        changes = {"group": (name, name)} | dict(changes_between(before, after))
        return Act(action, about, changes, {"group_id": (group_id, group_id)})

    for group_id, membership in had.items():
        if group_id not in wanted:
            membership.delete()
            span = {"activation_at": membership.activation_at, "expiry_at": membership.expiry_at}
            acts.append(act("membership.removed", group_id, membership.group.name, span, {}))
    for group_id, draft in wanted.items():
        span = {"activation_at": draft.activation_at, "expiry_at": draft.expiry_at}
        if group_id not in had:
            put_into(group_id, [cardholder_id], draft.span)
            acts.append(act("membership.added", group_id, names[group_id], {}, span))
        else:
            before = {name: getattr(had[group_id], name) for name in span}
            if before != span:
                Membership.objects.filter(pk=had[group_id].pk).update(**span)
                acts.append(act("membership.changed", group_id, names[group_id], before, span))
    return acts


def put_into(group_id: int, cardholder_ids: Iterable[int], span: Span = ALWAYS) -> None:
    """Put people into a group that they are not in."""
    Membership.objects.bulk_create(
        Membership(
            group_id=group_id, cardholder_id=id_, activation_at=span.start, expiry_at=span.end
        )
        for id_ in cardholder_ids
    )


def take_out_of(group_id: int, cardholder_ids: Iterable[int]) -> None:
    """Take people out of a group."""
    Membership.objects.filter(group_id=group_id, cardholder_id__in=cardholder_ids).delete()
