"""What each act that remedies a denied read does to the situation, as far as it can be done."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from datetime import datetime

from cadrin.core.access.plan import Holder, Membership
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.factors import Factor, ReaderPolicy
from cadrin.core.decision.biometric_acts import (
    enrol_biometric,
    let_count,
    let_in_by_card_alone,
    show_biometric,
)
from cadrin.core.decision.card_acts import (
    issue,
    issue_to_them,
    return_another,
    show_card,
    with_card,
)
from cadrin.core.decision.door_acts import DOOR_ACTS
from cadrin.core.decision.other_factor_acts import (
    set_pin,
    set_plate,
    set_plate_of_nobody,
    show_plate,
    type_pin,
)
from cadrin.core.decision.reasons import REASONS, Act, Reason
from cadrin.core.decision.remedy_steps import Do, RemedyStep, Steps, factor_not_taken, span_holding
from cadrin.core.decision.situation import Situation
from cadrin.core.validity import ALWAYS, Standing


def after_acts(situation: Situation, reason: Reason, at: datetime, groups: frozenset[int]) -> Steps:
    """Do every act that answers a reason, each by itself; ``groups`` are those that may
    be offered.
    """
    for act in REASONS[reason].remedies:
        if act in _AT_THE_READER:
            yield from _AT_THE_READER[act](situation, reason, at)
        elif situation.holder is None:
            if act in _FOR_NOBODYS:
                yield from _FOR_NOBODYS[act](situation)
        elif act in (Act.GROUP_DATES, Act.ADD_TO_GROUP):
            yield from _with_a_group(
                situation, situation.holder, at, groups if act is Act.ADD_TO_GROUP else None
            )
        else:
            yield from _DONE[act](situation, situation.holder, reason, at)


def _with_policy(situation: Situation, policy: ReaderPolicy) -> Situation:
    policies = {**situation.plan.policy_of_reader, situation.presented.reader_id: policy}
    return replace(situation, plan=replace(situation.plan, policy_of_reader=policies))


def _let_reader_take(situation: Situation, reason: Reason, at: datetime) -> Steps:
    """Let the reader take by itself what it does not, or what was shown without a card, beside what
    it asks for now.
    """
    policy = situation.policy.at(at)
    factor = Factor.PLATE if reason is Reason.CARD_MISSING else factor_not_taken(reason)
    after = replace(policy, alternatives=(*policy.alternatives, (factor,)))
    yield RemedyStep(Act.READER_POLICY), _with_policy(situation, after)


def _let_reader_read(situation: Situation, reason: Reason, at: datetime) -> Steps:
    yield (
        RemedyStep(Act.READER_FORMATS),
        _with_policy(situation, replace(situation.policy, formats=None)),
    )


def _activate(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    after = replace(holder, standing=Standing.ACTIVE, suspended_until=None)
    yield RemedyStep(Act.STANDING), replace(situation, holder=after)


def _change_dates(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    yield (
        RemedyStep(Act.DATES),
        replace(situation, holder=replace(holder, span=span_holding(holder.span, at))),
    )


def _with_a_group(
    situation: Situation, holder: Holder, at: datetime, offered: frozenset[int] | None
) -> Steps:
    """Let a group of theirs count at this instant, or (``offered``) add one, where it opens the
    door just now.
    """
    plan = situation.plan
    reader_id = situation.presented.reader_id
    door_id, is_out = plan.door_of_reader.get(reader_id, 0), reader_id in plan.readers_out
    for group in plan.groups.values():
        schedule_ids = group.schedules_at(door_id, is_out=is_out)
        if not any(
            plan.schedules[id_].is_open(at) for id_ in schedule_ids if id_ in plan.schedules
        ):
            continue
        mine = next(
            (membership for membership in holder.memberships if membership.group_id == group.id),
            None,
        )
        if offered is None and mine is not None:
            counts = replace(mine, span=span_holding(mine.span, at))
            after = tuple(counts if other == mine else other for other in holder.memberships)
            step = RemedyStep(Act.GROUP_DATES, group.id)
        elif offered is not None and mine is None and group.id in offered:
            after = (*holder.memberships, Membership(group.id, ALWAYS))
            step = RemedyStep(Act.ADD_TO_GROUP, group.id)
        else:
            continue
        yield step, replace(situation, holder=replace(holder, memberships=after))


_DONE: Mapping[Act, Do] = {
    Act.ISSUE_CARD: issue_to_them,
    Act.CARD_STATUS: with_card(
        Act.CARD_STATUS,
        lambda card, at: replace(card, status=CardStatus.ISSUED, suspended_until=None),
    ),
    Act.CARD_DATES: with_card(
        Act.CARD_DATES, lambda card, at: replace(card, span=span_holding(card.span, at))
    ),
    Act.CARD_USES: with_card(Act.CARD_USES, lambda card, at: replace(card, limit=None)),
    Act.CARD_HOURS: with_card(Act.CARD_HOURS, lambda card, at: replace(card, hours=None)),
    Act.RETURN_A_CARD: return_another,
    Act.SHOW_CARD: show_card,
    Act.TYPE_PIN: type_pin,
    Act.SET_PIN: set_pin,
    Act.SHOW_PLATE: show_plate,
    Act.SET_PLATE: set_plate,
    Act.LAY_FINGER: show_biometric(Factor.FINGER),
    Act.ENROL_FINGER: enrol_biometric(Factor.FINGER),
    Act.FINGER_TERMS: let_count(Factor.FINGER),
    Act.SHOW_FACE: show_biometric(Factor.FACE),
    Act.ENROL_FACE: enrol_biometric(Factor.FACE),
    Act.FACE_TERMS: let_count(Factor.FACE),
    Act.BY_CARD_ALONE: let_in_by_card_alone,
    Act.STANDING: _activate,
    Act.DATES: _change_dates,
    **DOOR_ACTS,
}
_AT_THE_READER: Mapping[Act, Callable[[Situation, Reason, datetime], Steps]] = {
    Act.READER_POLICY: _let_reader_take,
    Act.READER_FORMATS: _let_reader_read,
}
"""What is done to the reader, whoever it is."""
_FOR_NOBODYS: Mapping[Act, Callable[[Situation], Steps]] = {
    Act.ISSUE_CARD: issue,
    Act.SET_PLATE: set_plate_of_nobody,
}
"""What can be done for a credential that is nobody's."""
