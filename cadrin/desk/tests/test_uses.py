"""Uses of cards that work only so many times, PINs typed at desks, and a card's whole life."""

from dataclasses import replace
from datetime import datetime, timedelta

from django.test import TestCase

from cadrin.access.plan import holders
from cadrin.activity.commands.reads import take_events
from cadrin.activity.models import Read
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.decision.events import read_events
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import Invalid, NotFound, NotPermitted
from cadrin.credentials.keypad import KEPT, begin_wait, take_typed, typed_for
from cadrin.credentials.models import Card, TypedPin
from cadrin.desk.card_history import card_history
from cadrin.desk.queries import alarms
from cadrin.desk.tests.test_activity import WithEvents
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.outbox.models import Mark
from cadrin.sites.controller_keys import key_of_controller, seal_between
from tests.house import ANYBODY, DAY, NOON, House, an_operator

HOUR = timedelta(hours=1)


class Uses(WithEvents, TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.holder_id = self.house.enrol(
            replace(self.house.draft(), cards=(self.house.card(use_limit=5),))
        )

    def granted(self, number: int, hours: int = 1) -> dict[str, object]:
        return self.denied(number, Reason.GRANTED, at=(NOON + hours * HOUR).isoformat())

    def used(self) -> dict[str, int]:
        (card,) = holders([self.holder_id])[self.holder_id].cards
        assert card.limit
        self.assertEqual(Card.objects.get().used, card.limit.used_in_all)
        return dict(card.limit.used)

    def test_are_counted_by_memory_however_often_and_late_they_are_told(self) -> None:
        north, south = f"{self.house.north.pk}:a", f"{self.house.south.pk}:s"
        Mark.objects.all().delete()

        self.take(self.granted(1), self.granted(2))
        self.take(self.granted(2), self.granted(3))
        take_events(self.house.south.pk, "s", read_events([self.granted(1, hours=30)], 0), NOON)
        self.take(self.granted(4), self.denied(5, Reason.OUTSIDE_HOURS))

        self.assertEqual(self.used(), {north: 4, south: 1})
        self.assertTrue(
            Mark.objects.filter(subject_id=self.holder_id).exists(), "the controllers are told"
        )

    def test_those_from_before_the_limit_do_not_count_though_told_after(self) -> None:
        self.take(self.granted(1, hours=-1), self.granted(2))

        self.assertEqual(sum(self.used().values()), 1)

    def test_another_limit_begins_to_count_anew(self) -> None:
        self.take(self.granted(1))
        draft = replace(self.house.draft(), version=1, cards=(self.house.card(use_limit=7),))
        self.house.save(self.holder_id, draft)

        self.assertEqual(self.used(), {})


class TypedAtADesk(WithEvents, TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.reader_id = self.house.desk_reader.pk
        self.actor = self.house.actor

    def type(self, number: int, digits: str, *, at: datetime = NOON) -> None:
        sealed = (
            seal_between(key_of_controller(self.house.desk.pk)).encrypt(digits.encode()).decode()
        )
        event = {
            "number": number,
            "at": NOON.isoformat(),
            "reader": self.reader_id,
            "raw": "",
            "typed": sealed,
        }
        take_events(self.house.desk.pk, "d", read_events([event], number - 1), at)

    def test_is_told_by_its_length_and_used_by_the_one_who_waited_and_stands_in_no_record(
        self,
    ) -> None:
        token = begin_wait(self.actor, self.reader_id, NOON)
        self.assertEqual(typed_for(self.actor, token), (0, 0))

        self.type(1, "481509")
        self.type(2, "481509")

        self.assertEqual(typed_for(self.actor, token), (2, 6))
        self.assertEqual(take_typed(self.actor, token), ("481509", "481509"))
        self.assertFalse(Read.objects.exists())
        self.assertNotIn("481509", repr(list(TypedPin.objects.values())))

    def test_is_nobody_elses_whatever_they_guess(self) -> None:
        token = begin_wait(self.actor, self.reader_id, NOON)
        self.type(1, "481509")
        another = actor_of(an_operator("tove", *Permission))
        looking = actor_of(an_operator("nils", Permission.SEE))

        self.assertRaises(NotFound, typed_for, another, token)
        self.assertRaises(Invalid, take_typed, another, token)
        self.assertRaises(NotPermitted, take_typed, looking, token)
        self.assertRaises(Invalid, take_typed, self.actor, str(TypedPin.objects.get().pk))
        self.assertGreaterEqual(len(token), 32)

    def test_is_not_kept_while_nobody_waits_for_it(self) -> None:
        self.type(1, "481509")
        token = begin_wait(self.actor, self.reader_id, NOON)

        self.assertEqual(typed_for(self.actor, token), (0, 0))
        self.assertFalse(TypedPin.objects.exists())

    def test_what_another_sealed_is_not_taken(self) -> None:
        token = begin_wait(self.actor, self.reader_id, NOON)
        event = {
            "number": 1,
            "at": NOON.isoformat(),
            "reader": self.reader_id,
            "raw": "",
            "typed": "481509",
        }

        take_events(self.house.desk.pk, "d", read_events([event], 0), NOON)

        self.assertEqual(typed_for(self.actor, token), (0, 0))

    def test_what_is_too_old_is_gone(self) -> None:
        token = begin_wait(self.actor, self.reader_id, NOON)
        self.type(1, "481509")

        self.type(2, "857203", at=NOON + KEPT + timedelta(seconds=1))

        self.assertRaises(Invalid, take_typed, self.actor, token)


class Alarms(WithEvents, TestCase):
    def test_a_door_opened_under_duress_stands_at_the_desk_for_a_day(self) -> None:
        self.house = House()
        self.take(
            self.denied(1, Reason.GRANTED, duress=True),
            self.denied(2, Reason.GRANTED, watched=True),
        )

        self.assertEqual(alarms(ANYBODY, NOON + 23 * HOUR).total, 1)
        self.assertEqual(alarms(ANYBODY, NOON + DAY + HOUR).total, 0)


class ACardsWholeLife(WithEvents, TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.holder_id = self.house.enrol(self.house.draft("S-1"))
        self.house.save(self.holder_id, replace(self.house.draft("S-1"), version=1, cards=()))
        self.other = self.house.enrol(self.house.draft("S-2", first_name="Maren"))
        self.take(self.denied(1, Reason.OUTSIDE_HOURS, cardholder=self.other))
        self.key = CardKey(self.house.format.pk, 12, 4751)

    def test_tells_every_holder_and_every_read(self) -> None:
        life = card_history(ANYBODY, self.key)

        self.assertEqual((life.status, life.holder_name), ("issued", "Maren Reve"))
        self.assertEqual(
            [act["action"] for act in life.acts], ["card.issued", "card.returned", "card.issued"]
        )
        holders_told = [
            topic["name"]
            for act in life.acts
            for topic in act["topics"]
            if topic["kind"] == "cardholder"
        ]
        self.assertEqual(holders_told, ["Maren Reve", "Tomas Reve", "Tomas Reve"])
        self.assertEqual(len(life.reads), 1)

    def test_names_nobody_whom_the_operator_may_not_see(self) -> None:
        elsewhere = actor_of(
            an_operator(
                "kay", Permission.SEE, limited_to={"departments": [self.house.department.pk]}
            )
        )

        life = card_history(elsewhere, self.key)

        self.assertEqual(
            (life.holder_name, life.is_anothers, life.acts, life.reads), ("", True, [], [])
        )

    def test_of_a_card_that_is_in_no_list_is_empty(self) -> None:
        self.assertIsNone(card_history(ANYBODY, self.key._replace(card_number=9)).status)
