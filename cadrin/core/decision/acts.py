"""What each act that remedies a denied read does to the situation, as far as it can be done."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from datetime import datetime
from typing import NamedTuple

from cadrin.core.access.plan import Holder, Membership
from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.formats import DecodeFault
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.reading import bits_of, read_card
from cadrin.core.credentials.card.room import first_to_go
from cadrin.core.credentials.factors import FACTORS, Factor, ReaderPolicy
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.credentials.plate.plate import Plate
from cadrin.core.decision.reasons import REASONS, Act, Check, Reason
from cadrin.core.decision.situation import Presented, Situation
from cadrin.core.validity import ALWAYS, Span, Standing


class RemedyStep(NamedTuple):
    """One act; ``group_id`` where it is about a group, ``card`` where about another card than the
    one shown.

    ``without`` is what was shown beside it, and must not be shown again.
    """

    act: Act
    group_id: int | None = None
    card: CardKey | None = None
    without: Factor | None = None


Steps = Iterator[tuple[RemedyStep, Situation]]
"""Each act that can be done, with the situation after it."""


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


def _with(span: Span, at: datetime) -> Span:
    """Return a span that holds the instant, as much like it as can be."""
    start = None if span.start is not None and at < span.start else span.start
    end = None if span.end is not None and span.end <= at else span.end
    return Span(start, end)


# -- cards -----------------------------------------------------------------------------------


def _keys_of(situation: Situation) -> tuple[CardKey, ...]:
    read = situation.presented.read
    found = read_card(read, situation.plan.formats) if read else ()
    return () if isinstance(found, DecodeFault) else found


def _shown_card(situation: Situation, holder: Holder) -> Card | None:
    return next(
        (card for key in _keys_of(situation) for card in holder.cards if card.key == key), None
    )


def _with_card(act: Act, change: Callable[[Card, datetime], Card]) -> "_Do":
    """Change the card that is shown, where this act answers what is against it."""

    def do(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
        card = _shown_card(situation, holder)
        # a controller without room for it does not know it: one that works stays sooner than one
        # that does not
        against = (
            reason
            if card is None or reason is not Reason.UNKNOWN_CARD
            else card.reason_against_at_any_hour(at)
        )
        if card is not None and against is not None and act in REASONS[against].remedies:
            cards = tuple(change(card, at) if other == card else other for other in holder.cards)
            yield RemedyStep(act), replace(situation, holder=replace(holder, cards=cards))

    return do


def _issue(situation: Situation) -> Steps:
    """Issue a card that is nobody's."""
    keys = _keys_of(situation)
    if keys and situation.is_free:
        yield (
            RemedyStep(Act.ISSUE_CARD),
            replace(situation, holder=Holder(0, "", "", cards=(Card(keys[0]),))),
        )


def _return_another(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Make room for the card that is shown, where its holder has more than the controller keeps."""
    card = _shown_card(situation, holder)
    if card is None or card.reason_against_at_any_hour(at) is not None:
        return
    other = first_to_go(holder.cards, situation.memory)
    cards = tuple(kept for kept in holder.cards if kept.key != other.key)
    yield (
        RemedyStep(Act.RETURN_A_CARD, card=other.key),
        replace(situation, holder=replace(holder, cards=cards)),
    )


def _issue_to_them(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Issue the card that is shown, and nobody's, to whoever came with it."""
    keys = _keys_of(situation)
    if keys and situation.is_free and _shown_card(situation, holder) is None:
        cards = (*holder.cards, Card(keys[0]))
        yield RemedyStep(Act.ISSUE_CARD), replace(situation, holder=replace(holder, cards=cards))


def _show_card(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Let them show a card of theirs, with what is asked for beside it and without what
    was wrong.
    """
    policy, presented, shown = (
        situation.policy.at(at),
        situation.presented,
        _shown_card(situation, holder),
    )
    wrong = _WRONG_BESIDE_A_CARD.get(REASONS[reason].check)
    if wrong and presented.read is None:
        return
    working = (
        card
        for card in holder.cards
        if policy.reads(card.key.format_id) and not card.reason_against(at)
    )
    card = shown if shown and policy.reads(shown.key.format_id) else next(working, None)
    if card is not None:
        read = bits_of(card.key, situation.plan.formats, card.issue_level)
        after = _keep_what_is_asked_beside(
            replace(presented, read=read), Factor.CARD, policy, without=wrong
        )
        if after is not None:
            yield (
                RemedyStep(Act.SHOW_CARD, card=card.key, without=wrong),
                replace(situation, presented=after),
            )


_WRONG_BESIDE_A_CARD = {Check.PIN: Factor.PIN, Check.PLATE: Factor.PLATE}


def _keep_what_is_asked_beside(
    presented: Presented, factor: Factor, policy: ReaderPolicy, *, without: Factor | None = None
) -> Presented | None:
    """Leave out what no alternative asks for together with a factor; None where none does without
    another one.
    """
    together = [asked for asked in policy.alternatives if factor in asked and without not in asked]
    if not together:
        return None
    beside = {asked for alternative in together for asked in alternative}
    is_typed = presented.is_typed and Factor.PIN in beside
    return replace(
        presented,
        read=presented.read if Factor.CARD in beside else None,
        plate=presented.plate if Factor.PLATE in beside else None,
        is_typed=is_typed,
        pin_id=presented.pin_id if is_typed else None,
    )


# -- PINs and plates -------------------------------------------------------------------------


def _type_pin(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Let a PIN be typed that they have, and that works."""
    policy, presented = situation.policy.at(at), situation.presented
    alone, without = presented.is_pin_alone, None
    if REASONS[reason].check is Check.TAKEN:
        without = _factor_not_taken(reason)
        alone = (Factor.PIN,) in policy.alternatives
        if not alone:
            return
        presented = replace(presented, read=None, plate=None)
    for pin in holder.pins:
        if at in pin.span and (pin.opens_alone or not alone):
            presented = replace(presented, is_typed=True, pin_id=pin.id)
            yield RemedyStep(Act.TYPE_PIN, without=without), replace(situation, presented=presented)
            return


def _set_pin(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    new_id = max((pin.id for pin in holder.pins), default=0) + 1
    new = Pin(new_id, "", opens_alone=situation.presented.is_pin_alone)
    presented = replace(situation.presented, is_typed=True, pin_id=new.id)
    after = replace(holder, pins=(*holder.pins, new))
    yield RemedyStep(Act.SET_PIN), replace(situation, holder=after, presented=presented)


def _show_plate(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Let them come with the vehicle of theirs that is known, where a camera reads plates."""
    policy = situation.policy.at(at)
    if not holder.plates:
        return
    wrong = Factor.CARD if reason is Reason.UNKNOWN_CARD else None
    presented = replace(situation.presented, plate=holder.plates[0].number)
    after = _keep_what_is_asked_beside(presented, Factor.PLATE, policy, without=wrong)
    if after is not None:
        yield RemedyStep(Act.SHOW_PLATE, without=wrong), replace(situation, presented=after)


def _set_plate(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Enter the plate that the camera saw, or one for whoever has none, and let them
    come with it.
    """
    number = situation.presented.plate or ("" if holder.plates else "NEW")
    if number:
        presented = replace(situation.presented, plate=number)
        after = replace(holder, plates=(*holder.plates, Plate(number)))
        yield RemedyStep(Act.SET_PLATE), replace(situation, holder=after, presented=presented)


def _set_plate_of_nobody(situation: Situation) -> Steps:
    """Enter the plate that the camera saw at somebody."""
    somebody = Holder(0, "", "", plates=(Plate(situation.presented.plate or ""),))
    yield RemedyStep(Act.SET_PLATE), replace(situation, holder=somebody)


# -- the reader ------------------------------------------------------------------------------


def _with_policy(situation: Situation, policy: ReaderPolicy) -> Situation:
    policies = {**situation.plan.policy_of_reader, situation.presented.reader_id: policy}
    return replace(situation, plan=replace(situation.plan, policy_of_reader=policies))


def _factor_not_taken(reason: Reason) -> Factor:
    return next(factor for factor, facts in FACTORS.items() if facts.not_taken is reason)


def _let_reader_take(situation: Situation, reason: Reason, at: datetime) -> Steps:
    """Let the reader take by itself what it does not, or what was shown without a card, beside what
    it asks for now.
    """
    policy = situation.policy.at(at)
    factor = Factor.PLATE if reason is Reason.CARD_MISSING else _factor_not_taken(reason)
    after = replace(policy, alternatives=(*policy.alternatives, (factor,)))
    yield RemedyStep(Act.READER_POLICY), _with_policy(situation, after)


def _let_reader_read(situation: Situation, reason: Reason, at: datetime) -> Steps:
    yield (
        RemedyStep(Act.READER_FORMATS),
        _with_policy(situation, replace(situation.policy, formats=None)),
    )


# -- the cardholder --------------------------------------------------------------------------


def _activate(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    after = replace(holder, standing=Standing.ACTIVE, suspended_until=None)
    yield RemedyStep(Act.STANDING), replace(situation, holder=after)


def _change_dates(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    yield (
        RemedyStep(Act.DATES),
        replace(situation, holder=replace(holder, span=_with(holder.span, at))),
    )


def _with_a_group(
    situation: Situation, holder: Holder, at: datetime, offered: frozenset[int] | None
) -> Steps:
    """Let a group of theirs count at this instant, or (``offered``) add one, where it opens the
    door just now.
    """
    plan = situation.plan
    door_id = plan.door_of_reader.get(situation.presented.reader_id)
    for group in plan.groups.values():
        schedule_ids = group.schedules_of_door.get(door_id or 0, ())
        if not any(
            plan.schedules[id_].is_open(at) for id_ in schedule_ids if id_ in plan.schedules
        ):
            continue
        mine = next(
            (membership for membership in holder.memberships if membership.group_id == group.id),
            None,
        )
        if offered is None and mine is not None:
            counts = replace(mine, span=_with(mine.span, at))
            after = tuple(counts if other == mine else other for other in holder.memberships)
            step = RemedyStep(Act.GROUP_DATES, group.id)
        elif offered is not None and mine is None and group.id in offered:
            after = (*holder.memberships, Membership(group.id, ALWAYS))
            step = RemedyStep(Act.ADD_TO_GROUP, group.id)
        else:
            continue
        yield step, replace(situation, holder=replace(holder, memberships=after))


_Do = Callable[[Situation, Holder, Reason, datetime], Steps]
_DONE: Mapping[Act, _Do] = {
    Act.ISSUE_CARD: _issue_to_them,
    Act.CARD_STATUS: _with_card(
        Act.CARD_STATUS,
        lambda card, at: replace(card, status=CardStatus.ISSUED, suspended_until=None),
    ),
    Act.CARD_DATES: _with_card(
        Act.CARD_DATES, lambda card, at: replace(card, span=_with(card.span, at))
    ),
    Act.CARD_USES: _with_card(Act.CARD_USES, lambda card, at: replace(card, limit=None)),
    Act.CARD_HOURS: _with_card(Act.CARD_HOURS, lambda card, at: replace(card, hours=None)),
    Act.RETURN_A_CARD: _return_another,
    Act.SHOW_CARD: _show_card,
    Act.TYPE_PIN: _type_pin,
    Act.SET_PIN: _set_pin,
    Act.SHOW_PLATE: _show_plate,
    Act.SET_PLATE: _set_plate,
    Act.STANDING: _activate,
    Act.DATES: _change_dates,
}
_AT_THE_READER: Mapping[Act, Callable[[Situation, Reason, datetime], Steps]] = {
    Act.READER_POLICY: _let_reader_take,
    Act.READER_FORMATS: _let_reader_read,
}
"""What is done to the reader, whoever it is."""
_FOR_NOBODYS: Mapping[Act, Callable[[Situation], Steps]] = {
    Act.ISSUE_CARD: _issue,
    Act.SET_PLATE: _set_plate_of_nobody,
}
"""What can be done for a credential that is nobody's."""
