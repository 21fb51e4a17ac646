"""The line to one controller: send what it lacks, check what it holds, fetch its events.

Only the line writes what a controller was confirmed to hold. It may be stopped at any point: the
next one begins by asking the controller for everything it holds.
"""

from collections.abc import Callable, Iterable, Sequence
from datetime import UTC, datetime, timedelta
from itertools import islice
from typing import Any

from django.db import connection, transaction

from cadrin.access.plan import holders
from cadrin.cards.queries import holders_of_limited_cards
from cadrin.core.delivery import KINDS, Body, RecordKey, RecordKind, digest, holder_body, sum_of
from cadrin.delivery.models import DeliveryState, Link, Record
from cadrin.delivery.wanted import key_of, memory_of, plan_bodies_at, plans_here
from cadrin.delivery.wire import Answer, NoAnswer, Sent, Wire
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.models import Subject

RECORDS_AT_ONCE = 500
ROWS_AT_ONCE = 5000
LINK_IS_WRITTEN_EVERY = timedelta(seconds=5)
TO_BE_SENT = (DeliveryState.WAITING, DeliveryState.SENT, DeliveryState.ADRIFT)

TakeEvents = Callable[[int, str, list[dict[str, Any]]], None]
"""Told the controller, the memory its events are numbered in, and the events."""


class Line:
    def __init__(self, controller_id: int, wire: Wire, take_events: TakeEvents) -> None:
        self.controller_id = controller_id
        self._wire = wire
        self._take_events = take_events
        self._sum: str | None = None  # of what it should answer next; None until everything was compared
        self._has_more = True
        with transaction.atomic():
            self._link = Link.objects.get_or_create(controller_id=controller_id)[0]

    def turn(self, now: Callable[[], datetime], wait_seconds: float = 0.0, *, is_news: bool = True) -> bool:
        """Do one round and say whether the controller answered; when nothing is to be done, wait for an event.

        Without news (nothing was marked since the last round), and nothing left over, no record is looked for.
        """
        try:
            if self._sum is None:
                self.compare(now())
                self._has_more = True
            # remembered, should this round fail on the way
            self._has_more = self._has_more or is_news
            if self._has_more:
                self._has_more = self.send_batch(now())
            self._fetch_events(0.0 if self._has_more else wait_seconds, now)
        except NoAnswer as no_answer:
            self._sum = None
            self._note_silence(str(no_answer), now())
            return False
        return True

    # -- what it holds -----------------------------------------------------------------------

    def compare(self, at: datetime) -> None:
        """Hold every digest of the controller against what it was thought to hold. Raises NoAnswer."""
        answer, held = self._wire.digests()
        rows = {key_of(row): row for row in Record.objects.filter(controller_id=self.controller_id)}
        strays = [
            Record(
                controller_id=self.controller_id,
                kind=key.kind,
                subject_id=key.id,
                confirmed=one,
                state=DeliveryState.ADRIFT,
                changed_at=at,
            )
            for key, one in held.items()
            if key not in rows
        ]
        # a record may have come to be wanted while the controller was answering
        Record.objects.bulk_create(strays, ignore_conflicts=True)
        found = [
            (held.get(key, ""), row)
            for key, row in rows.items()
            if row.confirmed != held.get(key, "") or row.state in (DeliveryState.SENT, DeliveryState.REFUSED)
        ]
        self._write(
            "UPDATE delivery_record SET confirmed = %s, refusal = '', changed_at = %s,"
            " state = CASE WHEN wanted = %s AND wanted <> '' THEN 'held' ELSE %s END WHERE id = %s",
            [(one, at, one, _state_when_amiss(row), row.pk) for one, row in found],
        )
        self._sum = sum_of(held.values())
        self._note_answer(answer, at)

    def _write(self, sql: str, rows: Iterable[Sequence[str | int | datetime]]) -> None:
        """Change many rows, in steps short enough that nobody waits for the writer's lock."""
        todo = iter(rows)
        while step := list(islice(todo, ROWS_AT_ONCE)):
            with transaction.atomic(), connection.cursor() as cursor:
                cursor.executemany(sql, step)

    # -- sending -----------------------------------------------------------------------------

    def send_batch(self, at: datetime) -> bool:
        """Send the next records and write down what was confirmed; False when nothing was there to send.

        Raises NoAnswer.
        """
        rows = {key_of(row): row for row in self._next_rows()}
        put = self._bodies([key for key, row in rows.items() if row.wanted])
        remove = [key for key, row in rows.items() if not row.wanted]
        if not put and not remove:
            return False
        ids = [rows[key].pk for key in (*put, *remove)]
        with transaction.atomic():
            Record.objects.filter(pk__in=ids).exclude(state=DeliveryState.SENT).update(state=DeliveryState.SENT)
        sent = self._wire.send(put, remove)
        self._confirm(sent, rows, {key: digest(key, body) for key, body in put.items()}, at)
        return True

    def _next_rows(self) -> list[Record]:
        """Put before removing, and each kind after those it leans on; removing goes the other way round."""
        # the second condition says nothing new, but is the one that the index of what is not held is made for
        waiting = Record.objects.filter(controller_id=self.controller_id, state__in=TO_BE_SENT)
        waiting = waiting.exclude(state=DeliveryState.HELD)
        if not waiting.exists():
            return []
        for kind in KINDS:
            if rows := list(waiting.filter(kind=kind).exclude(wanted="")[:RECORDS_AT_ONCE]):
                return rows
        for kind in reversed(KINDS):
            if rows := list(waiting.filter(kind=kind, wanted="")[:RECORDS_AT_ONCE]):
                return rows
        return []

    def _bodies(self, keys: list[RecordKey]) -> dict[RecordKey, Body]:
        """Write the records as they are now; one that should no longer be there is about to be marked so."""
        here = plans_here().get(self.controller_id)
        if here is None or not keys:
            return {}
        if keys[0].kind is not RecordKind.CARDHOLDER:
            bodies = plan_bodies_at(self.controller_id)
            return {key: bodies[key] for key in keys if key in bodies}
        found, memory = holders(key.id for key in keys), memory_of(self.controller_id, self._link.store)
        written = [(key, holder_body(found[key.id], here, memory)) for key in keys if key.id in found]
        return {key: body for key, body in written if body is not None}

    def _confirm(self, sent: Sent, rows: dict[RecordKey, Record], digests: dict[RecordKey, str], at: datetime) -> None:
        confirmed = dict(sent.held) | dict.fromkeys(sent.removed, "")
        confirmed = {key: one for key, one in confirmed.items() if key in rows}
        refused = {key: code for key, code in sent.refused.items() if key in digests}
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.executemany(
                "UPDATE delivery_record SET confirmed = %s, refusal = '', changed_at = %s,"
                " state = CASE WHEN wanted = %s THEN 'held' ELSE 'waiting' END WHERE id = %s",
                [(one, at, one, rows[key].pk) for key, one in confirmed.items()],
            )
            # what was changed again since is waiting anyway
            cursor.executemany(
                "UPDATE delivery_record SET state = 'refused', refusal = %s, changed_at = %s"
                " WHERE id = %s AND wanted = %s",
                [(code, at, rows[key].pk, digests[key]) for key, code in refused.items()],
            )
            cursor.execute(
                "DELETE FROM delivery_record WHERE controller_id = %s AND state = 'held' AND wanted = ''",
                [self.controller_id],
            )
            if sent.removed:  # there may be room now
                cursor.execute(
                    "UPDATE delivery_record SET state = 'waiting' WHERE controller_id = %s AND state = 'refused'",
                    [self.controller_id],
                )
        if self._sum is not None:
            told = [one for key, one in confirmed.items() if one]
            before = [rows[key].confirmed for key in confirmed if rows[key].confirmed]
            self._expect(sum_of([self._sum, *told, *before]), sent.answer)

    # -- what it says ------------------------------------------------------------------------

    def _fetch_events(self, wait_seconds: float, now: Callable[[], datetime]) -> None:
        answer, events = self._wire.events(self._link.store, self._link.last_event, wait_seconds)
        if events:
            self._take_events(self.controller_id, answer.store, events)
        if events or answer.store != self._link.store:
            last = max((int(event["number"]) for event in events), default=0)
            is_another = answer.store != self._link.store
            self._link.store, self._link.last_event = answer.store, last
            with transaction.atomic():
                self._link.save(update_fields=("store", "last_event"))
                if is_another:  # what it had counted itself it must now be told
                    mark_for_delivery(Subject.CARDHOLDER, holders_of_limited_cards())
        if self._sum is not None:
            self._expect(self._sum, answer)
        self._note_answer(answer, now())

    def _expect(self, expected: str, answer: Answer) -> None:
        """Keep the sum when the controller says the same; otherwise everything is compared in the next round."""
        self._sum = expected if answer.sum == expected else None

    def _note_answer(self, answer: Answer, at: datetime) -> None:
        link = self._link
        clock_off = round((answer.at - at).total_seconds())
        limits = (answer.capacity, answer.most_cards)
        is_news = link.failed_at or limits != (link.capacity, link.most_cards)
        # a second or two is the way there, not the clock
        is_news = is_news or abs(clock_off - link.clock_off_seconds) > 2
        if is_news or link.answered_at is None or at - link.answered_at > LINK_IS_WRITTEN_EVERY:
            link.answered_at, link.failed_at, link.failure = at, None, ""
            link.clock_off_seconds = 0 if abs(clock_off) <= 2 else clock_off
            link.capacity, link.most_cards = limits
            self._save_link("answered_at", "failed_at", "failure", "clock_off_seconds", "capacity", "most_cards")

    def _note_silence(self, why: str, at: datetime) -> None:
        if self._link.failed_at is None or self._link.failure != why:
            self._link.failed_at, self._link.failure = self._link.failed_at or at, why
            self._save_link("failed_at", "failure")

    def _save_link(self, *fields: str) -> None:
        with transaction.atomic():
            self._link.save(update_fields=fields)


def _state_when_amiss(row: Record) -> DeliveryState:
    return DeliveryState.ADRIFT if row.state == DeliveryState.HELD else DeliveryState.WAITING


def utc_now() -> datetime:
    """Give the clock of a job; everything below takes the instant as an argument."""
    return datetime.now(UTC)
