"""What acts on fingers and faces, and on who is let in without, do to the situation."""

from dataclasses import replace
from datetime import datetime

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.biometric import Biometric
from cadrin.core.credentials.factors import BIOMETRIC, Factor
from cadrin.core.decision.card_acts import keep_what_is_asked_beside
from cadrin.core.decision.reasons import Act, Reason
from cadrin.core.decision.remedy_steps import Do, RemedyStep, Steps
from cadrin.core.decision.situation import Situation
from cadrin.core.validity import ALWAYS

_SHOW = {Factor.FINGER: Act.LAY_FINGER, Factor.FACE: Act.SHOW_FACE}
_ENROL = {Factor.FINGER: Act.ENROL_FINGER, Factor.FACE: Act.ENROL_FACE}
_NEW = 1 << 40
"""The id of a template that is to be enrolled."""


def show_biometric(factor: Factor) -> Do:
    """Let them lay a finger, or show the face, that is theirs and known."""

    def do(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
        policy = situation.policy.at(at)
        working = [item for item in holder.biometrics(factor) if item.reason_against(at) is None]
        if not working or not policy.takes(factor):
            return
        wrong = Factor.CARD if reason is Reason.UNKNOWN_CARD else None
        presented = situation.presented.with_biometric(factor, working[0].id)
        after = keep_what_is_asked_beside(presented, factor, policy, without=wrong)
        if after is not None:
            yield (
                RemedyStep(_SHOW[factor], without=wrong),
                replace(situation, presented=after),
            )

    return do


def enrol_biometric(factor: Factor) -> Do:
    """Enrol a finger or the face, with consent, and let them show it."""

    def do(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
        new = Biometric(_NEW, "", reason)
        kept = tuple(item for item in holder.biometrics(factor) if item.id != _NEW)
        theirs = (*kept, new)
        after = (
            replace(holder, fingers=theirs)
            if factor is Factor.FINGER
            else replace(holder, faces=theirs)
        )
        presented = situation.presented.with_biometric(factor, _NEW)
        yield RemedyStep(_ENROL[factor]), replace(situation, holder=after, presented=presented)

    return do


def let_in_by_card_alone(
    situation: Situation, holder: Holder, reason: Reason, at: datetime
) -> Steps:
    """Excuse them from fingers and faces; a card must be shown."""
    if situation.presented.read is None or holder.is_by_card_alone(at):
        return
    presented = situation.presented
    for factor in BIOMETRIC:
        presented = presented.with_biometric(factor, None)
    after = replace(holder, card_alone=ALWAYS)
    yield (
        RemedyStep(Act.BY_CARD_ALONE),
        replace(situation, holder=after, presented=presented),
    )
