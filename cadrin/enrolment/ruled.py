"""Keep everybody in the groups that rules put them in, as they are enrolled, move and leave."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from cadrin.access.commands.memberships import MembershipDraft, memberships_of, set_kept_out
from cadrin.access.queries import is_anybody_by_rule, kept_out_of, membership_rules
from cadrin.core.access.membership_rules import (
    Belonging,
    MembershipRule,
    Settled,
    groups_by_rule,
    settled,
)
from cadrin.core.people.departments import Parents
from cadrin.people.commands.departments import parents

if TYPE_CHECKING:
    from cadrin.enrolment.draft import CardholderDraft
    from cadrin.enrolment.writer import Writing


def settle(writings: Sequence[Writing]) -> list[Writing]:
    """Return what is to be written together with what rules make of it, and keep who is kept out. The
    caller holds the transaction.
    """
    concerned = [w for w in writings if w.details is not None or w.memberships is not None]
    rules = membership_rules()
    if not concerned or not (rules or is_anybody_by_rule()):
        return list(writings)
    ids = [writing.cardholder.pk for writing in concerned]
    had, out, tree = memberships_of(ids), kept_out_of(ids), parents()
    found: dict[int, tuple[MembershipDraft, ...]] = {}
    for writing in concerned:
        id_ = writing.cardholder.pk
        of = writing.details if writing.details is not None else writing.cardholder
        wanted = had[id_] if writing.memberships is None else writing.memberships
        belonging = Belonging(of.department_id, of.kind_id, of.company_id)
        after = _settled(belonging, had[id_], wanted, out.get(id_, frozenset()), rules, tree)
        if after.kept_out != out.get(id_, frozenset()):
            set_kept_out(id_, out.get(id_, ()), after.kept_out)
        found[id_] = _drafts(after, wanted)
    return [
        replace(writing, memberships=found[writing.cardholder.pk])
        if writing.cardholder.pk in found
        else writing
        for writing in writings
    ]


def as_ruled(holder_id: int | None, draft: CardholderDraft) -> CardholderDraft:
    """Return a draft together with what rules would make of it when it is saved."""
    rules = membership_rules()
    if not rules and not is_anybody_by_rule():
        return draft
    had = memberships_of([holder_id])[holder_id] if holder_id else ()
    out = kept_out_of([holder_id] if holder_id else ()).get(holder_id or 0, frozenset())
    of = draft.details
    belonging = Belonging(of.department_id, of.kind_id, of.company_id)
    after = _settled(belonging, had, draft.memberships, out, rules, parents())
    return replace(draft, memberships=_drafts(after, draft.memberships))


def _settled(
    belonging: Belonging,
    had: Iterable[MembershipDraft],
    wanted: Iterable[MembershipDraft],
    kept_out: frozenset[int],
    rules: Sequence[MembershipRule],
    tree: Parents,
) -> Settled:
    return settled(
        {one.group_id: one.is_by_rule for one in had},
        ((one.group_id, one.span) for one in wanted),
        groups_by_rule(belonging, rules, tree),
        kept_out,
    )


def _drafts(after: Settled, wanted: Iterable[MembershipDraft]) -> tuple[MembershipDraft, ...]:
    order = {one.group_id: place for place, one in enumerate(wanted)}
    found = sorted(after.memberships, key=lambda one: order.get(one.group_id, len(order)))
    return tuple(
        MembershipDraft(one.group_id, one.span.start, one.span.end, one.is_by_rule) for one in found
    )
