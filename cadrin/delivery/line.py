"""The line to one controller: send what it lacks, check what it holds, fetch its events.

Only the line writes what a controller was confirmed to hold. It may be stopped at any point: the
next one begins by asking the controller for everything it holds.
"""

import time
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from datetime import datetime
from functools import partial
from threading import Semaphore

from django.db import OperationalError, transaction

from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.core.decision.events import LONGEST_UNREADABLE, Told, Unreadable
from cadrin.core.records.keys import RecordKey, RecordKind, digest, sum_of
from cadrin.core.records.states import (
    RecordAt,
    RecordState,
    after_answer,
    after_comparison,
    after_refusal,
    found_astray,
)
from cadrin.credentials.queries import holders_of_limited_cards
from cadrin.delivery.found_people import note_people
from cadrin.delivery.incident_kinds import IncidentKind
from cadrin.delivery.incidents import note_incident
from cadrin.delivery.link_notes import LinkNotes
from cadrin.delivery.models import Link, Record
from cadrin.delivery.next_records import NextRecords, bodies_at
from cadrin.delivery.record_states import Step, advance, is_not_held, state_of
from cadrin.delivery.wanted import key_of
from cadrin.delivery.wire import Answer, NoAnswer, Sent, Wire
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.sites.commands.orders import acts_for, note_outcome

MOST_NOTED, ASKED_AT_ONCE = 5_000, 200
"""People whom only a controller knows: so many are written down, so many asked for at once."""
LINES_AT_WORK_AT_ONCE, WITHDRAWALS_ARE_LOOKED_FOR_EVERY_SECONDS = 2, 0.1
"""To write and to confirm records is work for one processor: more lines only stand in each other's
way. While a controller takes its time another line is at work.
"""
TOLD_AT_ONCE = 5
"""How many records an incident names; the others are counted."""

TakeEvents = Callable[[int, str, Sequence[Told], datetime, int], None]
"""Told the controller, the memory its events are numbered in, the events, the time, and how far its
clock is off.
"""


_withdrawals = RowsByIds(
    lambda: (
        Record.objects.filter(is_not_held(), is_withdrawal=True, controller_id__among=IDS)
        .values_list("id")
        .order_by()[:1]
    )
)


class Line:
    """``turnstile`` lets some lines at a time do what is work here; one with withdrawals does not wait."""

    def __init__(
        self,
        controller_id: int,
        wire: Wire,
        take_events: TakeEvents,
        turnstile: Semaphore | None = None,
    ) -> None:
        self.controller_id = controller_id
        self._wire = wire
        self._take_events = take_events
        self._sum: str | None = (
            None  # of what it should answer next; None until everything was compared
        )
        self._has_more = True
        self._is_clock_kept = False
        self._was_told = False
        self._turnstile = turnstile or Semaphore()
        self._notes = LinkNotes(controller_id)
        self._next = NextRecords(controller_id, self._notes)

    @property
    def is_busy(self) -> bool:
        """Whether there was more to send, or to be told, than one round took."""
        return self._has_more or self._was_told

    @property
    def last(self) -> tuple[str, int]:
        """The memory of the controller, and the last event of it that was taken."""
        return self._notes.link.store, self._notes.link.last_event

    def turn(self, now: Callable[[], datetime], *, is_news: bool = True) -> bool:
        """Do one round and say whether the controller answered.

        Without news (nothing was marked since the last round), and nothing left over, no record is
        looked for.
        """
        try:
            if is_news:
                self._act_at_doors(now())
                self._see_whether_to_compare()
            if self._sum is None:
                self.compare(now())
                self._has_more = True
                is_news = True
            self._mind_the_clock(now, is_news=is_news)
            # remembered, should this round fail on the way
            self._has_more = self._has_more or is_news
            if self._next.may_go_on(now()):
                self._has_more = True
            if self._has_more:
                self._has_more = self.send_batch(now())
            self._fetch_events(now)
        except NoAnswer as no_answer:
            self._sum = None
            self._notes.silence(str(no_answer), now())
            return False
        return True

    def _see_whether_to_compare(self) -> None:
        asked = Link.objects.filter(pk=self._notes.link.pk, must_compare=True)
        if asked.exists():
            with transaction.atomic():  # in its turn: others write too
                asked.update(must_compare=False)
            self._sum = None

    def _mind_the_clock(self, now: Callable[[], datetime], *, is_news: bool) -> None:
        """Set its clock right where somebody asked, once, or where it is kept right. One that cannot be
        set stays as it is, which is told all the same.
        """
        mine, must_set = Link.objects.filter(pk=self._notes.link.pk), False
        if is_news:
            self._is_clock_kept, must_set = mine.values_list(
                "is_clock_kept", "must_set_clock"
            ).get()
        if not must_set and not (self._is_clock_kept and self._notes.link.clock_off_seconds):
            return
        with suppress(NoAnswer):
            self._notes.answer(self._wire.set_clock(now()), now())
            if must_set:
                with transaction.atomic():
                    mine.update(must_set_clock=False)

    def _act_at_doors(self, at: datetime) -> None:
        """Let it do at once what operators asked of its doors; each is tried once. Raises NoAnswer."""
        for act in acts_for(self.controller_id, at):
            is_done = False
            try:
                is_done = self._wire.act_at_door(act.door_id, act.kind)
            finally:
                note_outcome(act, is_done=is_done)

    # -- what it holds -----------------------------------------------------------------------

    def compare(self, at: datetime) -> None:
        """Hold every digest of the controller against what it was thought to hold.
        Raises NoAnswer.
        """
        answer, held = self._wire.digests()
        is_known = self._notes.link.store == answer.store
        rows = {key_of(row): row for row in Record.objects.filter(controller_id=self.controller_id)}
        strays = {key: found_astray(digest_) for key, digest_ in held.items() if key not in rows}
        self._note_people(strays, at)
        self._keep(strays, at)
        amiss = {
            key: row
            for key, row in rows.items()
            if row.confirmed != held.get(key, "")
            or row.state in (RecordState.SENT, RecordState.REFUSED)
        }
        steps = {
            row.pk: partial(after_comparison, held=held.get(key, "")) for key, row in amiss.items()
        }
        advance(steps, at)
        if is_known:  # one that was emptied, or is met for the first time, has nothing to explain
            self._tell_of(IncidentKind.STRAY, [str(key) for key in strays], at)
            changed = [
                str(key)
                for key, row in amiss.items()
                if held.get(key)
                and after_comparison(state_of(row), held[key]).state is RecordState.ADRIFT
            ]
            self._tell_of(IncidentKind.CHANGED, changed, at)
        self._sum = sum_of(held.values())
        self._notes.answer(answer, at)

    def _note_people(self, strays: Iterable[RecordKey], at: datetime) -> None:
        """Write down whom only the controller knows, before they are removed there: they may be people
        to be enrolled. One that does not tell them is emptied of them all the same.
        """
        asked = [key for key in strays if key.kind is RecordKind.CARDHOLDER][:MOST_NOTED]
        for start in range(0, len(asked), ASKED_AT_ONCE):
            try:
                note_people(
                    self.controller_id, self._wire.people(asked[start : start + ASKED_AT_ONCE]), at
                )
            except NoAnswer:
                return

    def _keep(self, strays: Mapping[RecordKey, RecordAt], at: datetime) -> None:
        """Write down what the controller holds and should not know."""
        # a record may have come to be wanted while the controller was answering
        Record.objects.bulk_create(
            (
                Record(
                    controller_id=self.controller_id,
                    kind=key.kind,
                    subject_id=key.id,
                    changed_at=at,
                    **stray._asdict(),
                )
                for key, stray in strays.items()
            ),
            ignore_conflicts=True,
        )

    def _tell_of(self, kind: IncidentKind, keys: Sequence[str], at: datetime) -> None:
        if keys:
            note_incident(self.controller_id, kind, ", ".join(keys[:TOLD_AT_ONCE]), at, len(keys))

    # -- sending -----------------------------------------------------------------------------

    @contextmanager
    def _my_turn(self) -> Iterator[None]:
        is_through = False
        while not (is_through or _withdrawals([self.controller_id])):
            is_through = self._turnstile.acquire(timeout=WITHDRAWALS_ARE_LOOKED_FOR_EVERY_SECONDS)
        try:
            yield
        finally:
            if is_through:
                self._turnstile.release()

    def send_batch(self, at: datetime) -> bool:
        """Send the next records and write down what was confirmed; False when nothing was there to
        send.

        Raises NoAnswer.
        """
        with self._my_turn():
            rows = {key_of(row): row for row in self._next.rows(at)}
            put = bodies_at(
                self.controller_id,
                [
                    key
                    for key, row in rows.items()
                    if row.wanted and row.state != RecordState.REFUSED
                ],
            )
            remove = [
                key
                for key, row in rows.items()
                if not row.wanted or row.state == RecordState.REFUSED
            ]
            if not put and not remove:
                return False
            began = time.monotonic()
            ids = [rows[key].pk for key in (*put, *remove)]
            with transaction.atomic():
                Record.objects.filter(pk__in=ids).exclude(state=RecordState.SENT).update(
                    state=RecordState.SENT
                )
        sent = self._wire.send(put, remove)
        with self._my_turn():
            self._confirm(sent, rows, {key: digest(key, body) for key, body in put.items()}, at)
        self._next.took(len(ids), time.monotonic() - began)
        return True

    def _confirm(
        self, sent: Sent, rows: dict[RecordKey, Record], digests: dict[RecordKey, str], at: datetime
    ) -> None:
        told = dict(sent.held) | dict.fromkeys(sent.removed, "")
        confirmed = {key: digest_ for key, digest_ in told.items() if key in rows}
        refused = {key: code for key, code in sent.refused.items() if key in digests}
        steps: dict[int, Step] = {
            rows[key].pk: partial(after_refusal, sent=digests[key]) for key in refused
        }
        steps |= {
            rows[key].pk: partial(after_answer, confirmed=digest_)
            for key, digest_ in confirmed.items()
        }
        with transaction.atomic():
            advance(steps, at, {rows[key].pk: code for key, code in refused.items()})
            self._work_out_anew(
                [key for key, digest_ in digests.items() if digest_ != rows[key].wanted]
            )
            if sent.removed:  # there may be room now
                again = Record.objects.filter(
                    controller_id=self.controller_id, state=RecordState.REFUSED
                )
                again.update(state=RecordState.WAITING)
        if self._sum is not None:
            there = [digest_ for digest_ in confirmed.values() if digest_]
            before = [rows[key].confirmed for key in confirmed if rows[key].confirmed]
            self._expect(sum_of([self._sum, *there, *before]), sent.answer)

    def _work_out_anew(self, keys: Sequence[RecordKey]) -> None:
        """Mark what is written otherwise than it is wanted: something changed since, and sending it
        again is no use.
        """
        people = [key.id for key in keys if key.kind is RecordKind.CARDHOLDER]
        mark_for_delivery(Subject.CARDHOLDER, people)
        moved = [key.id for key in keys if key.kind is RecordKind.PRESENCE]
        mark_for_delivery(Subject.PRESENCE, moved)
        if len(people) + len(moved) < len(keys):
            # the plan of every controller is worked out anew with it
            mark_for_delivery(Subject.GROUP, [0])

    # -- what it says ------------------------------------------------------------------------

    def _fetch_events(self, now: Callable[[], datetime]) -> None:
        answer, events = self._wire.events(*self.last, wait_seconds=0.0)
        self._was_told = bool(events)
        if events:
            taken = self._taken(answer.store, events, now())
            unreadable = [event.text for event in taken if isinstance(event, Unreadable)]
            if unreadable:
                note_incident(
                    self.controller_id,
                    IncidentKind.UNREADABLE,
                    unreadable[0],
                    now(),
                    len(unreadable),
                )
        if events or answer.store != self._notes.link.store:
            last = max((event.number for event in events), default=0)
            is_another = answer.store != self._notes.link.store
            self._notes.link.store, self._notes.link.last_event = answer.store, last
            with transaction.atomic():
                self._notes.link.save(update_fields=("store", "last_event"))
                if is_another:  # what it had counted itself it must now be told
                    mark_for_delivery(Subject.CARDHOLDER, holders_of_limited_cards())
        if self._sum is not None:
            self._expect(self._sum, answer)
        self._notes.answer(answer, now())

    def _taken(self, store: str, events: Sequence[Told], at: datetime) -> Sequence[Told]:
        """Pass events on, and return them; one that cannot be written is put aside, and stops no
        other.
        """
        try:
            self._take_events(
                self.controller_id, store, events, at, self._notes.link.clock_off_seconds
            )
            return events
        except OperationalError:
            raise  # the database is busy: all of them come again in the next round
        except Exception:
            if len(events) == 1 and isinstance(events[0], Unreadable):
                raise
        taken: list[Told] = []
        for event in events:
            if len(events) == 1:
                event = Unreadable(event.number, repr(event)[:LONGEST_UNREADABLE])
            taken += self._taken(store, [event], at)
        return taken

    def _expect(self, expected: str, answer: Answer) -> None:
        """Keep the sum when the controller says the same; otherwise everything is compared in the
        next round.
        """
        self._sum = expected if answer.sum == expected else None
