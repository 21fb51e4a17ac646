from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime
from unittest.mock import patch

from django.db import OperationalError

from cadrin.access.plan import holders
from cadrin.activity.models import Read
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.factors import Factors
from cadrin.core.records.cardholders import Cut, encode_cardholder
from cadrin.core.records.keys import RecordKind
from cadrin.core.records.states import RecordState
from cadrin.core.tests.builders import Asks
from cadrin.core.validity import Standing
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.queries import raw_of
from cadrin.delivery.controllers import controllers
from cadrin.delivery.models import Link, Record
from cadrin.delivery.preview import preview_cardholder
from cadrin.delivery.queries import delivery_of
from cadrin.delivery.wanted import plans_here, take_marks
from cadrin.desk.explaining import explanation
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.outbox.models import Mark
from cadrin.outbox.subjects import Subject
from cadrin.people.models import Cardholder
from cadrin.sites.commands.readers import ReaderDraft, save_reader
from cadrin.sites.models import Reader
from tests.house import ANYBODY, NOON
from tests.line_case import LineCase


class OneLine(LineCase):
    """A line and a stand-in, round by round, without the worker."""

    def test_brings_a_new_controller_everything_it_should_hold(self) -> None:
        self.house.enrol_many(3)
        self.house.mark_everything()

        self.assertTrue(self.rounds())

        self.assert_held_exactly()
        self.assertEqual(
            Record.objects.filter(controller=self.house.north, kind="cardholder").count(), 3
        )

    def test_a_right_pin_that_a_controller_does_not_know_is_told_as_its_owners(self) -> None:
        house = self.house
        self.start({"keypads": [house.gate_reader.pk]})
        save_reader(
            house.actor, house.gate_reader.pk, ReaderDraft(Asks.PIN, True, frozenset(), 1), NOON
        )
        house.enrol(
            replace(house.draft("S-1"), cards=(), pins=(PinDraft(entry="481509", again="481509"),))
        )
        alone = PinDraft(entry="857203", again="857203", opens_alone=True)
        owner = house.enrol(replace(house.draft("S-2"), cards=(), memberships=(), pins=(alone,)))
        house.mark_everything()
        self.rounds()

        for typed in ("857203", "111111"):
            body = {"reader": house.gate_reader.pk, "raw": "", "typed": typed}
            self.assertEqual(self.standins.ask("POST", "/bench/reads", body)["reason"], "pin_wrong")
        self.rounds()

        first, second = Read.objects.order_by("id")
        self.assertEqual(
            (first.reason, first.cardholder_id, first.cardholder_name),
            ("pin_wrong", owner, "Tomas Reve"),
        )
        self.assertEqual((second.reason, second.cardholder_id), ("pin_wrong", None))
        now = explanation(ANYBODY, first.pk, NOON)
        self.assertEqual(
            (now.now_reason, now.remedies[0][0].act), ("no_membership", "add_to_group")
        )
        self.assertEqual(explanation(ANYBODY, second.pk, NOON).remedies, ())

    def test_one_that_keeps_few_cards_keeps_those_that_work_and_believes_no_older_record(
        self,
    ) -> None:
        self.start({"most_cards": 3})
        house = self.house
        every = tuple(house.card(number) for number in (1, 2, 3))
        id_ = house.enrol(replace(house.draft(), cards=every))
        house.mark_everything()
        self.rounds()
        self.assertEqual([self.shown(number) for number in (1, 2, 3)], ["granted"] * 3)

        # the first is lost, and another comes in its place: four cards of one cardholder
        lost = replace(every[0], status=CardStatus.LOST)
        draft = replace(house.draft(), cards=(lost, *every[1:], house.card(4)), version=1)
        save_cardholder(house.actor, id_, draft, NOON)
        self.rounds()

        self.assertEqual(self.shown(1), "unknown_card")
        self.assertEqual([self.shown(number) for number in (2, 3, 4)], ["granted"] * 3)
        self.assert_held_exactly()

        # and who is barred is barred, however many cards they have
        barred = replace(house.draft(standing=Standing.BARRED), cards=draft.cards, version=2)
        save_cardholder(house.actor, id_, barred, NOON)
        self.rounds()
        self.assertEqual({self.shown(number) for number in (2, 3, 4)}, {"cardholder_barred"})

    def test_what_one_cannot_express_is_cut_and_told_before_saving(self) -> None:
        self.start({"longest_name": 8, "latest": 2**31 - 1})
        self.house.mark_everything()
        self.rounds()
        in_2040 = datetime(2040, 1, 1, tzinfo=UTC)
        draft = self.house.draft(expiry_at=in_2040)

        (promised,) = preview_cardholder(ANYBODY, None, draft, NOON, NOON).to_send
        self.house.enrol(draft)
        self.rounds()

        self.assertEqual(promised.cut, (Cut.NAME, Cut.DATES))
        self.assertEqual(str(promised.latest), "2038-01-19 03:14:07+00:00")
        self.assert_held_exactly()
        self.assertEqual(self.shown(4751), "granted")
        (plain,) = preview_cardholder(
            ANYBODY, None, self.house.draft("S-2", last_name="R"), NOON, NOON
        ).to_send
        self.assertEqual(plain.cut, ())

    def test_cards_that_one_has_no_room_for_are_told_before_saving_and_afterwards(self) -> None:
        self.start({"most_cards": 1})
        self.house.mark_everything()
        self.rounds()
        draft = replace(self.house.draft(), cards=(self.house.card(), self.house.card(4752)))

        (promised,) = preview_cardholder(ANYBODY, None, draft, NOON, NOON).to_send
        id_ = self.house.enrol(draft)
        self.rounds()

        left_out = CardKey(self.house.format.pk, 12, 4752)
        self.assertEqual((promised.most_cards, promised.left_out), (1, (left_out,)))
        (told,) = delivery_of(ANYBODY, id_, NOON)["records"]
        self.assertEqual((told["state"], told["left_out"]), (RecordState.HELD, [left_out]))
        north, south, _ = controllers(ANYBODY, NOON)
        self.assertEqual((north["left_out"], south["left_out"]), (1, 0))
        self.assertEqual((self.shown(4751), self.shown(4752)), ("granted", "unknown_card"))

    def test_one_that_turns_out_to_keep_few_cards_gets_those_it_keeps(self) -> None:
        self.start({"most_cards": 1})
        draft = replace(self.house.draft(), cards=(self.house.card(), self.house.card(4752)))
        self.house.enrol(draft)
        self.house.mark_everything()
        self.rounds()
        self.rounds()

        self.assert_held_exactly()
        self.assertEqual(self.shown(4751), "granted")

    def test_one_that_refuses_what_takes_something_away_keeps_nothing_older(self) -> None:
        house = self.house
        id_ = house.enrol()
        house.mark_everything()
        self.rounds()
        self.assertEqual(self.shown(4751), "granted")
        refusing = patch("cadrin.standins.controller.why_no_room", return_value="not_readable")

        with refusing:
            # what gives something leaves what is there
            save_cardholder(
                house.actor,
                id_,
                replace(house.draft(title="Diver", last_name="Wain"), version=1),
                NOON,
            )
            self.rounds()
            self.assertEqual(self.shown(4751), "granted")
            # what takes something away does not
            draft = replace(
                house.draft(title="Diver", last_name="Wain", standing=Standing.SUSPENDED), version=2
            )
            save_cardholder(house.actor, id_, draft, NOON)
            self.rounds()
            self.assertEqual(self.shown(4751), "unknown_card")

        record = Record.objects.get(controller=house.north, kind=RecordKind.CARDHOLDER)
        self.assertEqual(
            (record.state, record.refusal, record.confirmed), ("refused", "not_readable", "")
        )
        (told,) = delivery_of(ANYBODY, id_, NOON)["records"]
        self.assertFalse(told["still_works"], "nothing of theirs works there any more")
        # and when it takes it again, it has it again
        save_cardholder(house.actor, id_, replace(house.draft(), version=3), NOON)
        self.rounds()
        self.assertEqual(self.shown(4751), "granted")

    def set_mode(self, mode: tuple[Factors, ...]) -> None:
        reader = Reader.objects.get(pk=self.house.gate_reader.pk)
        save_reader(
            self.house.actor, reader.pk, ReaderDraft(mode, True, frozenset(), reader.version), NOON
        )

    def test_pins_come_to_one_whose_reader_begins_to_take_them_and_go_when_none_does(self) -> None:
        typed = PinDraft(entry="481509", again="481509")
        id_ = self.house.enrol(replace(self.house.draft(), pins=(typed,)))
        self.start({"keypads": [self.house.gate_reader.pk]})
        only_pin = replace(
            self.house.draft("S-2"), cards=(), pins=(PinDraft(entry="927304", again="927304"),)
        )
        self.house.enrol(only_pin)
        self.house.mark_everything()
        self.rounds()
        raw = str(raw_of(CardKey(self.house.format.pk, 12, 4751)))

        def show(typed: str) -> str:
            shown = {"reader": self.house.gate_reader.pk, "raw": raw, "typed": typed}
            return str(self.standins.ask("POST", "/bench/reads", shown)["reason"])

        for _ in range(2):
            self.set_mode(Asks.CARD_AND_PIN)
            self.rounds()
            self.assertEqual((show("481509"), show("481508")), ("granted", "pin_wrong"))
            self.assert_held_exactly()
            self.assertEqual(Record.objects.filter(kind=RecordKind.CARDHOLDER).count(), 2)

            self.set_mode(Asks.CARD)
            self.rounds()
            self.assert_held_exactly()
            body = encode_cardholder(holders([id_])[id_], plans_here()[self.house.north.pk]) or {}
            self.assertNotIn("pins", body)
            self.assertEqual(
                Record.objects.filter(kind=RecordKind.CARDHOLDER).count(),
                1,
                "a PIN alone is nothing here",
            )

    def test_what_is_written_otherwise_than_wanted_is_worked_out_anew_and_not_sent_for_ever(
        self,
    ) -> None:
        id_ = self.house.enrol()
        self.house.mark_everything()
        self.rounds()
        # something changed of which nobody said that it changes this
        Cardholder.objects.filter(pk=id_).update(display_name="Somebody Else")
        Record.objects.filter(kind=RecordKind.CARDHOLDER).update(
            wanted="0" * 32, state=RecordState.WAITING
        )

        self.line.turn(lambda: datetime.now(UTC))

        self.assertEqual(
            list(Mark.objects.values_list("subject", "subject_id")), [(Subject.CARDHOLDER, id_)]
        )
        self.rounds(2)
        self.assert_held_exactly()

    def test_uses_of_one_memory_are_told_to_it_when_it_was_emptied(self) -> None:
        draft = replace(self.house.draft(), cards=(self.house.card(use_limit=2),))
        self.house.enrol(draft)
        self.house.mark_everything()
        self.rounds()
        raw = str(raw_of(CardKey(*draft.cards[0].identity)))

        def show() -> str:
            return str(self.standins.show(self.house.gate_reader.pk, raw)["reason"])

        self.assertEqual([show(), show(), show()], ["granted", "granted", "card_used_up"])
        self.rounds()

        self.standins.empty(self.house.north.pk)
        self.rounds()
        self.rounds()

        self.assertEqual(show(), "card_used_up")

    def test_what_was_emptied_or_changed_by_hand_is_found_and_mended(self) -> None:
        self.house.enrol_many(2)
        self.house.mark_everything()
        self.rounds()
        north = self.house.north.pk

        acts: dict[str, Callable[[], object]] = {
            "emptied": lambda: self.standins.empty(north),
            "a record removed": lambda: self.standins.put(
                north, remove=[f"group:{self.house.day_group.pk}"]
            ),
            "a record added": lambda: self.standins.put(north, ("reader:99", {"door": 1})),
        }
        for name, meddle in acts.items():
            with self.subTest(name):
                meddle()
                self.rounds()
                self.assert_held_exactly()

    def test_what_is_found_amiss_is_called_adrift(self) -> None:
        self.house.mark_everything()
        self.rounds()
        self.standins.empty(self.house.north.pk)

        self.line.turn(lambda: datetime.now(UTC))  # notices
        self.line.compare(datetime.now(UTC))

        states = set(
            Record.objects.filter(controller=self.house.north).values_list("state", flat=True)
        )
        self.assertEqual(states, {RecordState.ADRIFT})

    def test_one_that_is_silent_is_told_so_and_gets_everything_when_it_answers_again(self) -> None:
        self.house.mark_everything()
        self.standins.switch(self.house.north.pk, is_on=False)

        self.assertFalse(self.rounds())
        told = controllers(ANYBODY, NOON)[0]
        self.assertIsNotNone(told["failed_at"])
        self.assertEqual(told["failure"], "status:503")
        self.assertGreater(told["counts"]["waiting"], 0)

        self.standins.switch(self.house.north.pk, is_on=True)
        self.assertTrue(self.rounds())
        self.assertIsNone(Link.objects.get(controller=self.house.north).failed_at)
        self.assert_held_exactly()

    def test_events_are_taken_once_in_order_with_the_name_they_had(self) -> None:
        self.house.enrol()
        self.house.mark_everything()
        self.rounds()
        raw = str(raw_of(CardKey(self.house.format.pk, 12, 4751)))

        for _ in range(2):
            self.standins.show(self.house.gate_reader.pk, raw)
        self.standins.show(
            self.house.gate_reader.pk, str(raw_of(CardKey(self.house.format.pk, 12, 9)))
        )
        self.rounds(2)
        # as if stopped before it was written
        Link.objects.filter(controller=self.house.north).update(last_event=0)
        self.line = self.a_line()
        self.rounds(2)

        reads = list(
            Read.objects.order_by("id").values_list(
                "event_number", "reason", "cardholder_name", "door_id"
            )
        )
        gate = self.house.gate.pk
        self.assertEqual(
            reads,
            [
                (1, "granted", "Tomas Reve", gate),
                (2, "granted", "Tomas Reve", gate),
                (3, "unknown_card", "", gate),
            ],
        )

    def test_news_that_came_in_a_round_that_failed_is_not_forgotten(self) -> None:
        self.house.mark_everything()
        self.rounds()
        id_ = self.house.enrol()
        take_marks(NOON)

        with patch.object(self.wire, "send", side_effect=OperationalError("database is locked")):
            self.assertRaises(
                OperationalError, self.line.turn, lambda: datetime.now(UTC), is_news=True
            )
        for _ in range(3):
            self.line.turn(lambda: datetime.now(UTC), is_news=False)

        self.assertEqual(
            Record.objects.get(kind="cardholder", subject_id=id_).state, RecordState.HELD
        )
