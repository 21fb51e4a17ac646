"""What a line sends next: the records of one message, and what they say now."""

from datetime import datetime

from django.db.models import QuerySet

from cadrin.access.plan import access_plan, holders
from cadrin.access.presence import whereabouts
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.doors import encode_presence
from cadrin.core.records.keys import Body, RecordKey, RecordKind
from cadrin.core.records.order import ORDER_OF_SENDING
from cadrin.core.records.states import TO_BE_SENT
from cadrin.core.records.waiting import is_held_back
from cadrin.delivery.link_notes import LinkNotes
from cadrin.delivery.models import Link, Record
from cadrin.delivery.places import settle_places
from cadrin.delivery.record_states import is_not_held
from cadrin.delivery.wanted import memories, plan_bodies_at, plans_here

FEWEST_AT_ONCE, RECORDS_AT_ONCE, MOST_AT_ONCE = 25, 100, 400
A_MESSAGE_SECONDS = 0.3
"""A message holds as many records as take about so long: what is taken away waits for the one that is
on its way, and what is done for each message alone is done seldom.
"""


class NextRecords:
    """The records of one controller that are to be sent, a message at a time."""

    def __init__(self, controller_id: int, notes: LinkNotes) -> None:
        self._controller_id, self._notes = controller_id, notes
        self._at_once = RECORDS_AT_ONCE
        self._room_settled: int | None = None
        self._is_held_back = False

    def rows(self, at: datetime) -> list[Record]:
        """Return the records of the first stage that has any, in the order of sending."""
        # says nothing new, but is the condition that the index of what is not held is made for
        mine = Record.objects.filter(is_not_held(), controller_id=self._controller_id)
        if not mine.exists():
            return []
        self._settle_places(mine, at)
        # only now: whoever has no place any more is among them
        kinds = set(mine.values_list("kind", flat=True).distinct())
        holds_back = self._holds_back(at)
        for stage in ORDER_OF_SENDING:
            if stage.kind not in kinds or (holds_back and stage.may_wait):
                continue
            rows = mine.filter(kind=stage.kind, state__in=stage.states)
            if stage.is_withdrawal is not None:
                rows = rows.filter(is_withdrawal=stage.is_withdrawal)
            if stage.is_put is not None:
                rows = rows.exclude(wanted="") if stage.is_put else rows.filter(wanted="")
            if stage.is_there:
                rows = rows.exclude(confirmed="")
            if found := list(rows.order_by("id")[: self._at_once]):
                return found
        return []

    def may_go_on(self, at: datetime) -> bool:
        """Say whether what was held back waits no longer."""
        return self._is_held_back and not self._holds_back(at)

    def took(self, count: int, seconds: float) -> None:
        """Let the next message be larger or smaller by how long one of so many records took."""
        if seconds > A_MESSAGE_SECONDS:
            self._at_once = max(FEWEST_AT_ONCE, self._at_once // 2)
        elif count == self._at_once and seconds < A_MESSAGE_SECONDS / 2:
            self._at_once = min(MOST_AT_ONCE, self._at_once * 2)

    def _holds_back(self, at: datetime) -> bool:
        """Say whether what people gain waits: while somebody paused it, or outside of the hours in which
        it is sent.
        """
        link = Link.objects.filter(pk=self._notes.link.pk)
        is_paused, schedule_id = link.values_list("is_paused", "sends_by").get()
        hours = access_plan().schedules.get(schedule_id or 0)
        self._is_held_back = is_held_back(is_paused=is_paused, hours=hours, at=at)
        return self._is_held_back

    def _settle_places(self, mine: QuerySet[Record], at: datetime) -> None:
        """Decide anew who has a place, where somebody is about to be sent or its room is another."""
        people = mine.filter(kind=RecordKind.CARDHOLDER, state__in=TO_BE_SENT).exclude(wanted="")
        room = self._notes.link.capacity
        if room != self._room_settled or people.exists():
            settle_places(self._controller_id, at)
            self._room_settled = room


def bodies_at(controller_id: int, keys: list[RecordKey]) -> dict[RecordKey, Body]:
    """Write records of one kind as they are now; one that should no longer be there is about to be
    marked so.
    """
    here = plans_here().get(controller_id)
    if here is None or not keys:
        return {}
    if keys[0].kind is RecordKind.PRESENCE:
        there = whereabouts(key.id for key in keys)
        return {key: encode_presence(there[key.id]) for key in keys if key.id in there}
    if keys[0].kind is not RecordKind.CARDHOLDER:
        bodies = plan_bodies_at(controller_id)
        return {key: bodies[key] for key in keys if key in bodies}
    found, memory = holders(key.id for key in keys), memories()[controller_id]
    written = [
        (key, encode_cardholder(found[key.id], here, memory)) for key in keys if key.id in found
    ]
    return {key: body for key, body in written if body is not None}
