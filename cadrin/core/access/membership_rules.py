"""Access groups that people are in by what they are: by department, kind or company."""

from collections.abc import Iterable, Mapping
from typing import NamedTuple

from cadrin.core.people.departments import Parents, is_below
from cadrin.core.validity import ALWAYS, Span


class MembershipRule(NamedTuple):
    """Everybody of a department, or of one below it, and of a kind and a company, is in the group;
    what is None does not matter, and not all of it may be.
    """

    group_id: int
    department_id: int | None = None
    kind_id: int | None = None
    company_id: int | None = None


class Belonging(NamedTuple):
    """What of somebody rules go by."""

    department_id: int | None = None
    kind_id: int | None = None
    company_id: int | None = None


class InGroup(NamedTuple):
    """A membership; one by a rule has no times of its own."""

    group_id: int
    span: Span = ALWAYS
    is_by_rule: bool = False


class Settled(NamedTuple):
    """The memberships that somebody has by hand and by rules, and the groups they are kept out of."""

    memberships: tuple[InGroup, ...]
    kept_out: frozenset[int]


def groups_by_rule(
    somebody: Belonging, rules: Iterable[MembershipRule], parents: Parents
) -> frozenset[int]:
    """Return the groups that somebody is in by a rule, were they not kept out."""
    return frozenset(rule.group_id for rule in rules if _matches(somebody, rule, parents))


def _matches(somebody: Belonging, rule: MembershipRule, parents: Parents) -> bool:
    if rule.department_id is not None and (
        somebody.department_id is None
        or not is_below(somebody.department_id, rule.department_id, parents)
    ):
        return False
    return rule.kind_id in (None, somebody.kind_id) and rule.company_id in (
        None,
        somebody.company_id,
    )


def settled(
    before: Mapping[int, bool],
    wanted: Iterable[tuple[int, Span]],
    ruled: frozenset[int],
    kept_out: frozenset[int],
) -> Settled:
    """Return what somebody has after an act: ``before`` says of each group they were in whether it was
    by a rule, ``wanted`` is what an operator wants, ``ruled`` what rules give.

    A membership by a rule goes with it. One that is taken away by hand stays away: it is an
    exception. One with times, or that was given by hand, is no rule's.
    """
    kept: list[InGroup] = []
    by_hand = dict(wanted)
    out = set(kept_out)
    for group_id, span in by_hand.items():
        was_by_rule = before.get(group_id, False)
        if group_id not in before:
            out.discard(group_id)
        if was_by_rule and span == ALWAYS:
            if group_id in ruled and group_id not in out:
                kept.append(InGroup(group_id, is_by_rule=True))
        else:
            is_new_by_rule = group_id not in before and group_id in ruled and span == ALWAYS
            kept.append(InGroup(group_id, span, is_new_by_rule))
    out |= {
        id_ for id_, by_rule in before.items() if by_rule and id_ in ruled and id_ not in by_hand
    }
    missing = sorted(ruled - out - {one.group_id for one in kept})
    return Settled((*kept, *(InGroup(id_, is_by_rule=True) for id_ in missing)), frozenset(out))
