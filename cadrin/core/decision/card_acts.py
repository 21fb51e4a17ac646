"""What acts on cards do to the situation."""

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.card.card import Card
from cadrin.core.credentials.card.reading import bits_of
from cadrin.core.credentials.card.room import first_to_go
from cadrin.core.credentials.factors import Factor, ReaderPolicy
from cadrin.core.decision.reasons import REASONS, Act, Check, Reason
from cadrin.core.decision.remedy_steps import Do, RemedyStep, Steps, keys_shown, shown_card
from cadrin.core.decision.situation import Presented, Situation


def with_card(act: Act, change: Callable[[Card, datetime], Card]) -> "Do":
    """Change the card that is shown, where this act answers what is against it."""

    def do(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
        card = shown_card(situation, holder)
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


def issue(situation: Situation) -> Steps:
    """Issue a card that is nobody's."""
    keys = keys_shown(situation)
    if keys and situation.is_free:
        yield (
            RemedyStep(Act.ISSUE_CARD),
            replace(situation, holder=Holder(0, "", "", cards=(Card(keys[0]),))),
        )


def return_another(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Make room for the card that is shown, where its holder has more than the controller keeps."""
    card = shown_card(situation, holder)
    if card is None or card.reason_against_at_any_hour(at) is not None:
        return
    other = first_to_go(holder.cards, situation.memory)
    cards = tuple(kept for kept in holder.cards if kept.key != other.key)
    yield (
        RemedyStep(Act.RETURN_A_CARD, card=other.key),
        replace(situation, holder=replace(holder, cards=cards)),
    )


def issue_to_them(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Issue the card that is shown, and nobody's, to whoever came with it."""
    keys = keys_shown(situation)
    if keys and situation.is_free and shown_card(situation, holder) is None:
        cards = (*holder.cards, Card(keys[0]))
        yield RemedyStep(Act.ISSUE_CARD), replace(situation, holder=replace(holder, cards=cards))


def show_card(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Let them show a card of theirs, with what is asked for beside it and without what
    was wrong.
    """
    policy, presented, shown = (
        situation.policy.at(at),
        situation.presented,
        shown_card(situation, holder),
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
        after = keep_what_is_asked_beside(
            replace(presented, read=read), Factor.CARD, policy, without=wrong
        )
        if after is not None:
            yield (
                RemedyStep(Act.SHOW_CARD, card=card.key, without=wrong),
                replace(situation, presented=after),
            )


_WRONG_BESIDE_A_CARD = {
    Check.PIN: Factor.PIN,
    Check.PLATE: Factor.PLATE,
    Check.FINGER: Factor.FINGER,
    Check.FACE: Factor.FACE,
}


def keep_what_is_asked_beside(
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
        finger=presented.finger if Factor.FINGER in beside else None,
        face=presented.face if Factor.FACE in beside else None,
        is_typed=is_typed,
        pin_id=presented.pin_id if is_typed else None,
    )
