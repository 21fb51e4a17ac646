"""Whom a controller that has no room for everybody is to hold."""

from datetime import datetime

from django.db.models import QuerySet

from cadrin.core.records.importance import Claim, least_important
from cadrin.core.records.keys import RecordKind
from cadrin.core.records.states import RecordState, with_place, without_place
from cadrin.core.validity import Standing
from cadrin.delivery.models import Link, Record
from cadrin.delivery.record_states import Step, advance, is_not_held
from cadrin.people.queries import claims_of

NO_PLACE = "no_place"
"""The refusal that Cadrin itself writes: others are more important."""

_YET_TO_COME = 2**62


def settle_places(controller_id: int, at: datetime) -> None:
    """Decide who is held by a controller that has less room than there are people for it: the others
    are not sent, and what it holds of them is removed before anything else is sent.
    """
    room = _room_at(controller_id)
    people = _people_for(controller_id)
    waiting_in_vain = people.filter(is_not_held(), refusal=NO_PLACE)
    if room is None or _is_room_for_all(controller_id, room):
        advance(dict.fromkeys(waiting_in_vain.values_list("id", flat=True), with_place), at)
        return
    left = least_important(_claims(controller_id), room)
    steps: dict[int, Step] = {}
    for id_, holder_id, state, refusal in people.values_list(
        "id", "subject_id", "state", "refusal"
    ):
        is_out = state == RecordState.REFUSED and refusal == NO_PLACE
        if (holder_id in left) is not is_out:
            steps[id_] = without_place if holder_id in left else with_place
    advance(steps, at, dict.fromkeys(steps, NO_PLACE))


def whose_place(controller_id: int, claim: Claim) -> int | None:
    """Return who has no place at a controller any more once somebody is to be held there; they
    themselves (0 for one who is yet to be enrolled) where others are more important, None where there is room.
    """
    room = _room_at(controller_id)
    people = _people_for(controller_id).exclude(subject_id=claim.holder_id)
    if room is None or people.count() < room:
        return None
    if not claim.holder_id:  # who is yet to be enrolled comes after everybody
        claim = claim._replace(holder_id=_YET_TO_COME)
    others = [one for one in _claims(controller_id) if one.holder_id != claim.holder_id]
    before, after = least_important(others, room), least_important([*others, claim], room)
    (out,) = after - before
    return 0 if out == _YET_TO_COME else out


def _is_room_for_all(controller_id: int, room: int) -> bool:
    # with those that are about to be removed an index has their number; most have room for these too
    every = Record.objects.filter(controller_id=controller_id, kind=RecordKind.CARDHOLDER)
    return every.count() <= room or _people_for(controller_id).count() <= room


def _room_at(controller_id: int) -> int | None:
    mine = Link.objects.filter(controller_id=controller_id)
    return mine.values_list("capacity", flat=True).first()


def _people_for(controller_id: int) -> QuerySet[Record]:
    rows = Record.objects.filter(controller_id=controller_id, kind=RecordKind.CARDHOLDER)
    return rows.exclude(wanted="")


def _claims(controller_id: int) -> list[Claim]:
    rows = claims_of(_people_for(controller_id).values("subject_id"))
    return [Claim(id_, Standing(standing), expiry_at) for id_, standing, expiry_at in rows]
