import threading
from dataclasses import replace
from datetime import timedelta
from typing import Any

from django.db import connection
from django.test import TestCase, TransactionTestCase

from cadrin.activity.commands.asides import bring_back, put_aside
from cadrin.activity.commands.reads import take_events
from cadrin.activity.models import Read
from cadrin.activity.queries import ReadFilters, news, reads
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.raw_reads import CardNumbers
from cadrin.core.decision.events import read_events
from cadrin.core.decision.reasons import Reason
from cadrin.core.records.states import RecordState
from cadrin.credentials.models import Card
from cadrin.delivery.models import Link, Record
from cadrin.desk.queries import deliveries_in_trouble, desk, unknown_cards
from cadrin.operators.scope import Scope
from tests.house import ANYBODY, DAY, NOON, House


def raw(number: int, facility_code: int = 12) -> str:
    return str(STANDARD_26_BIT.encode(CardNumbers(facility_code, number)))


class WithEvents:
    house: House

    def event(self, number: int, **more: Any) -> dict[str, Any]:
        told = {
            "number": number,
            "at": NOON.isoformat(),
            "reader": self.house.gate_reader.pk,
            "raw": raw(4751),
        }
        return {**told, **more}

    def denied(self, number: int, reason: Reason, **more: Any) -> dict[str, Any]:
        card = [self.house.format.pk, 12, 4751]
        return self.event(number, **{"reason": reason.value, "card": card, **more})

    def take(self, *events: dict[str, Any], store: str = "a") -> None:
        take_events(self.house.north.pk, store, read_events(events, 0), NOON)


class TakingEvents(WithEvents, TestCase):
    def setUp(self) -> None:
        self.house = House()

    def test_the_same_events_twice_are_taken_once_and_another_memory_s_as_well(self) -> None:
        for store in ("a", "a", "b"):
            self.take(
                self.denied(1, Reason.UNKNOWN_CARD),
                self.denied(2, Reason.OUTSIDE_HOURS),
                store=store,
            )

        self.assertEqual(Read.objects.count(), 4)

    def test_what_a_desk_saw_is_decoded_and_nothing_is_decided(self) -> None:
        self.take(self.event(1, reader=self.house.desk_reader.pk), self.event(2, raw="37:5"))

        first, second = Read.objects.order_by("id")
        self.assertEqual((first.facility_code, first.card_number, first.reason), (12, 4751, ""))
        self.assertEqual((second.card_number, second.raw), (None, "37:5"))

    def test_a_reader_a_person_or_a_group_that_is_gone_leaves_a_read_all_the_same(self) -> None:
        told = self.denied(
            1,
            Reason.OUTSIDE_HOURS,
            reader=999,
            reader_name="Old gate",
            cardholder=999,
            name="Tomas Reve",
            group=999,
        )

        self.take(told)

        read = Read.objects.get()
        self.assertEqual(
            (read.reader_id, read.reader_name, read.cardholder_id), (None, "Old gate", None)
        )
        self.assertEqual((read.cardholder_name, read.group_name), ("Tomas Reve", ""))

    def test_an_event_that_cannot_be_read_is_put_aside_and_stops_no_other(self) -> None:
        self.take(
            self.denied(1, Reason.GRANTED),
            self.event(2, reason="because"),
            self.denied(3, Reason.GRANTED),
        )

        first, second, third = Read.objects.order_by("event_number")
        self.assertEqual((first.reason, third.reason), ("granted", "granted"))
        self.assertIn("because", second.unreadable)
        self.assertEqual(
            [row["id"] for row in reads(ANYBODY, ReadFilters(is_flagged=True))], [second.pk]
        )


class ReadingActivity(WithEvents, TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.tomas = self.house.enrol()
        self.take(
            self.denied(1, Reason.GRANTED, cardholder=self.tomas, name="Tomas Reve"),
            self.denied(
                2, Reason.NO_MEMBERSHIP, reader=self.house.lab_reader.pk, cardholder=self.tomas
            ),
            self.denied(3, Reason.UNKNOWN_CARD, card=[self.house.format.pk, 12, 5], raw=raw(5)),
            self.event(4, reader=self.house.desk_reader.pk, raw=raw(6)),
        )

    def numbers(self, filters: ReadFilters, **more: Any) -> list[int]:
        events = dict(Read.objects.values_list("id", "event_number"))
        return [events[row["id"]] for row in reads(ANYBODY, filters, **more)]

    def test_newest_first_by_each_filter_and_on_from_where_one_was(self) -> None:
        cases = {
            (4, 3, 2, 1): ReadFilters(),
            (3, 2): ReadFilters(is_denied=True),
            (2, 1): ReadFilters(cardholder_id=self.tomas),
            (2,): ReadFilters(door_id=self.house.lab.pk),
            (3,): ReadFilters(reason=Reason.UNKNOWN_CARD),
        }
        for expected, filters in cases.items():
            with self.subTest(filters):
                self.assertEqual(self.numbers(filters), list(expected))
        second = Read.objects.get(event_number=2).pk
        self.assertEqual(self.numbers(ReadFilters(), before=second, most=1), [1])

    def test_an_unknown_card_is_listed_until_somebody_has_it(self) -> None:
        self.take(
            self.denied(5, Reason.UNKNOWN_CARD, card=[self.house.format.pk, 12, 5], raw=raw(5))
        )
        found = unknown_cards(ANYBODY, NOON + DAY)
        self.assertEqual(
            [(one["card_number"], one["times"]) for one in found.rows], [(5, 2), (6, 1)]
        )

        self.house.enrol(replace(self.house.draft("S-2"), cards=(self.house.card(5),)))

        self.assertEqual(
            [one["card_number"] for one in unknown_cards(ANYBODY, NOON + DAY).rows], [6]
        )
        self.assertEqual(unknown_cards(ANYBODY, NOON + timedelta(days=15)).total, 0)
        row = next(one for one in reads(ANYBODY) if one["card_number"] == 5)
        self.assertEqual((row["holder_name"], row["cardholder_name"]), ("Tomas Reve", ""))

    def test_a_card_put_aside_waits_no_longer_until_it_is_shown_again_or_brought_back(self) -> None:
        def waiting() -> list[int]:
            return [row["card_number"] for row in unknown_cards(ANYBODY, NOON + DAY).rows]

        shown = Read.objects.get(card_number=5).pk
        put_aside(ANYBODY, shown, NOON)
        self.assertEqual(waiting(), [6])
        aside = unknown_cards(ANYBODY, NOON + DAY, aside=True)
        self.assertEqual([row["card_number"] for row in aside.rows], [5])

        bring_back(ANYBODY, shown, NOON)
        self.assertEqual(waiting(), [6, 5])

        put_aside(ANYBODY, shown, NOON)
        self.take(
            self.denied(5, Reason.UNKNOWN_CARD, card=[self.house.format.pk, 12, 5], raw=raw(5))
        )
        self.assertEqual(waiting(), [5, 6])
        self.assertEqual(unknown_cards(ANYBODY, NOON + DAY, aside=True).rows, [])

    def test_another_department_s_card_is_said_to_be_somebody_s_and_a_lost_one_to_be_lost(
        self,
    ) -> None:
        self.house.enrol(replace(self.house.draft("S-3"), cards=(self.house.card(6),)))
        Card.objects.filter(card_number=6).update(status=CardStatus.LOST)
        scoped = replace(ANYBODY, scope=Scope(departments=frozenset({999})))

        (mine,) = [row for row in reads(ANYBODY) if row["card_number"] == 6]
        (theirs,) = [row for row in reads(scoped) if row["card_number"] == 6]

        self.assertEqual((mine["holder_name"], mine["card_status"]), ("Tomas Reve", "lost"))
        self.assertEqual(
            (theirs["holder_name"], theirs["card_status"], theirs["is_anothers"]), ("", None, True)
        )

    def test_the_desk_names_controllers_in_trouble_and_why(self) -> None:
        north, south = self.house.north.pk, self.house.south.pk
        for one in (north, south, self.house.desk.pk):
            Link.objects.create(controller_id=one, answered_at=NOON, turned_at=NOON)
        self.assertEqual(deliveries_in_trouble(ANYBODY, NOON).total, 0)

        Link.objects.filter(controller_id=north).update(failed_at=NOON, failure="no_connection")
        Link.objects.filter(controller_id=south).update(clock_off_seconds=90)
        refused = {"wanted": "a", "state": RecordState.REFUSED, "changed_at": NOON}
        Record.objects.create(controller_id=south, kind="cardholder", subject_id=1, **refused)

        found = {one["name"]: one for one in desk(ANYBODY, NOON).deliveries.rows}
        self.assertEqual(set(found), {"North", "South"})
        self.assertEqual(found["South"]["counts"][RecordState.REFUSED], 1)

    def test_people_who_start_or_end_soon_are_at_the_desk(self) -> None:
        for number, details in enumerate(
            [
                {"activation_at": NOON + DAY},
                {"expiry_at": NOON + 3 * DAY},
                {"expiry_at": NOON + 40 * DAY},
            ],
            start=10,
        ):
            self.house.enrol(
                replace(
                    self.house.draft(f"S-{number}", **details), cards=(self.house.card(number),)
                )
            )

        found = desk(ANYBODY, NOON)

        self.assertEqual([row["number"] for row in found.starting_soon.rows], ["S-10"])
        self.assertEqual([row["number"] for row in found.ending_soon.rows], ["S-11"])


class News(WithEvents, TransactionTestCase):
    """With a database of its own, as another connection must see what was written."""

    def setUp(self) -> None:
        self.house = House()

    def test_waits_until_there_is_some_and_no_longer(self) -> None:
        self.take(self.event(1))
        first = news(ANYBODY, None, 0)[0]["id"]
        found: list[Any] = []

        def wait() -> None:
            found.extend(news(ANYBODY, first, 20))
            connection.close()

        waiting = threading.Thread(target=wait)
        waiting.start()
        self.take(self.event(2), self.event(3))
        waiting.join(timeout=180)

        later = list(Read.objects.order_by("id").values_list("id", flat=True))[1:]
        self.assertEqual([one["id"] for one in found], later)

    def test_without_any_gives_nothing_after_the_time_asked_for(self) -> None:
        self.take(self.event(1))

        self.assertEqual(news(ANYBODY, Read.objects.get().pk, 0.1), [])
