"""What acts on PINs and licence plates do to the situation."""

from dataclasses import replace
from datetime import datetime

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.credentials.plate.plate import Plate
from cadrin.core.decision.card_acts import keep_what_is_asked_beside
from cadrin.core.decision.reasons import REASONS, Act, Check, Reason
from cadrin.core.decision.remedy_steps import RemedyStep, Steps, factor_not_taken
from cadrin.core.decision.situation import Situation


def type_pin(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Let a PIN be typed that they have, and that works."""
    policy, presented = situation.policy.at(at), situation.presented
    alone, without = presented.is_pin_alone, None
    if REASONS[reason].check is Check.TAKEN:
        without = factor_not_taken(reason)
        alone = (Factor.PIN,) in policy.alternatives
        if not alone:
            return
        presented = replace(presented, read=None, plate=None, finger=None, face=None)
    for pin in holder.pins:
        if at in pin.span and (pin.opens_alone or not alone):
            presented = replace(presented, is_typed=True, pin_id=pin.id)
            yield RemedyStep(Act.TYPE_PIN, without=without), replace(situation, presented=presented)
            return


def set_pin(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    new_id = max((pin.id for pin in holder.pins), default=0) + 1
    new = Pin(new_id, "", opens_alone=situation.presented.is_pin_alone)
    presented = replace(situation.presented, is_typed=True, pin_id=new.id)
    after = replace(holder, pins=(*holder.pins, new))
    yield RemedyStep(Act.SET_PIN), replace(situation, holder=after, presented=presented)


def show_plate(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Let them come with the vehicle of theirs that is known, where a camera reads plates."""
    policy = situation.policy.at(at)
    if not holder.plates:
        return
    wrong = Factor.CARD if reason is Reason.UNKNOWN_CARD else None
    presented = replace(situation.presented, plate=holder.plates[0].number)
    after = keep_what_is_asked_beside(presented, Factor.PLATE, policy, without=wrong)
    if after is not None:
        yield RemedyStep(Act.SHOW_PLATE, without=wrong), replace(situation, presented=after)


def set_plate(situation: Situation, holder: Holder, reason: Reason, at: datetime) -> Steps:
    """Enter the plate that the camera saw, or one for whoever has none, and let them
    come with it.
    """
    number = situation.presented.plate or ("" if holder.plates else "NEW")
    if number:
        presented = replace(situation.presented, plate=number)
        after = replace(holder, plates=(*holder.plates, Plate(number)))
        yield RemedyStep(Act.SET_PLATE), replace(situation, holder=after, presented=presented)


def set_plate_of_nobody(situation: Situation) -> Steps:
    """Enter the plate that the camera saw at somebody."""
    somebody = Holder(0, "", "", plates=(Plate(situation.presented.plate or ""),))
    yield RemedyStep(Act.SET_PLATE), replace(situation, holder=somebody)
