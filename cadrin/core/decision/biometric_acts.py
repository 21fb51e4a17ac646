"""What acts on fingers and faces, and on who is let in without, do to the situation."""

from dataclasses import replace
from datetime import datetime

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.biometric import Biometric
from cadrin.core.credentials.factors import BIOMETRIC, Factor
from cadrin.core.decision.card_acts import keep_what_is_asked_beside
from cadrin.core.decision.reasons import Act, Reason
from cadrin.core.decision.remedy_steps import Do, RemedyStep, Steps, span_holding
from cadrin.core.decision.situation import Situation
from cadrin.core.records.biometrics import AGAINST
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
        new = Biometric(_NEW, "", AGAINST[factor])
        kept = tuple(item for item in holder.biometrics(factor) if item.id != _NEW)
        theirs = (*kept, new)
        after = holder.with_biometrics(factor, theirs)
        presented = situation.presented.with_biometric(factor, _NEW)
        yield RemedyStep(_ENROL[factor]), replace(situation, holder=after, presented=presented)

    return do


def let_count(factor: Factor) -> Do:
    """Let a template of theirs that is suspended, or not in its time, count now, and be shown."""

    def do(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
        act = Act.FINGER_TERMS if factor is Factor.FINGER else Act.FACE_TERMS
        theirs = holder.biometrics(factor)
        shown = situation.presented.biometric(factor)
        stopped = [item for item in theirs if item.reason_against(at) is reason]
        wanted = next((item for item in stopped if item.id == shown), *stopped[:1])
        counts = replace(wanted, is_suspended=False, span=span_holding(wanted.span, at))
        after = tuple(counts if item is wanted else item for item in theirs)
        yield (
            RemedyStep(act),
            replace(
                situation,
                holder=holder.with_biometrics(factor, after),
                presented=situation.presented.with_biometric(factor, wanted.id),
            ),
        )

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
