from dataclasses import replace
from datetime import datetime, timedelta
from random import Random

from django.db import transaction
from django.test import TransactionTestCase

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import Membership
from cadrin.credentials.models import Card
from cadrin.credentials.uses import note_uses
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.queries import last_place, touched_since
from cadrin.outbox.commands import move_plan_version
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.register.filters import ids_lacking
from cadrin.register.not_ready import LOOKED_AHEAD, KeptAnswer
from cadrin.register.tests.test_listing import some_people
from tests.house import NOON, House

MINUTE = timedelta(minutes=1)


def stored(id_: int) -> CardholderDraft:
    return stored_cardholder(Cardholder.objects.get(pk=id_), rules())


def do_something(house: House, random: Random, id_: int, at: datetime, turn: int) -> None:
    """Change what doors know of somebody, or when."""
    file, soon = stored(id_), at + random.randrange(1, 20) * MINUTE
    card = house.card(9_000 + turn)
    changed: CardholderDraft = random.choice(
        [
            replace(file, cards=()),
            replace(file, cards=(card,)),
            replace(file, cards=(replace(card, expiry_at=soon),)),
            replace(file, cards=(replace(card, activation_at=soon),)),
            replace(file, memberships=()),
            replace(file, memberships=(MembershipDraft(house.boats.pk, expiry_at=soon),)),
            replace(
                file,
                details=replace(file.details, activation_at=None, expiry_at=soon),
            ),
        ]
    )
    house.save(id_, changed)


class WhoIsNotReady(TransactionTestCase):
    def setUp(self) -> None:
        self.house = House()
        self.asked: list[frozenset[int] | None] = []
        self.kept = KeptAnswer(self.ask)

    def ask(self, at: datetime, among: frozenset[int] | None) -> set[int]:
        self.asked.append(among)
        return ids_lacking(at, among)

    def test_is_kept_as_it_would_be_found_anew_whatever_is_done_and_whenever(self) -> None:
        some_people(self.house, 20)
        random, at = Random(11), NOON
        people = list(Cardholder.objects.values_list("id", flat=True))
        found = set()

        for turn in range(40):
            at += random.choice([timedelta(0), timedelta(seconds=1), MINUTE, 9 * MINUTE])
            with self.subTest(turn=turn):
                self.assertEqual(self.kept.at(at), ids_lacking(at))
                found.add(len(self.kept.at(at)))
            do_something(self.house, random, random.choice(people), at, turn)

        self.assertGreater(len(found), 2)
        everybody = [among for among in self.asked if among is None]
        # once, and whenever an hour was over
        self.assertLessEqual(len(everybody), 1 + (at - NOON) // LOOKED_AHEAD + 1)

    def test_are_looked_for_again_by_another_plan_and_another_journal(self) -> None:
        id_ = self.house.enrol()
        self.assertEqual(self.kept.at(NOON), set())

        Membership.objects.update(expiry_at=NOON - MINUTE)  # as no command does it
        self.assertEqual(self.kept.at(NOON), set())
        with transaction.atomic():
            move_plan_version()
        self.assertEqual(self.kept.at(NOON), {id_})

        place = last_place()
        assert place is not None
        self.assertEqual(touched_since(place, "cardholder"), set())
        self.assertIsNone(touched_since(place._replace(digest="put back"), "cardholder"))

    def test_counts_a_card_that_was_used_up_at_a_door(self) -> None:
        card = replace(self.house.card(77), use_limit=1)
        id_ = self.house.enrol(replace(self.house.draft(), cards=(card,)))
        self.assertEqual(self.kept.at(NOON), set())

        note_uses(Card.objects.get(holder_id=id_).pk, "a memory", 1)

        self.assertEqual(self.kept.at(NOON), {id_})

    def test_is_not_kept_of_what_may_never_come_to_be(self) -> None:
        id_ = self.house.enrol()
        self.assertEqual(self.kept.at(NOON), set())

        with transaction.atomic():
            self.house.save(id_, replace(stored(id_), cards=()))
            self.assertEqual(self.kept.at(NOON), {id_})
            transaction.set_rollback(True)

        self.assertEqual(self.kept.at(NOON), set())

    def test_is_asked_anew_when_the_clock_was_set_back_and_not_for_a_few_seconds(self) -> None:
        id_ = self.house.enrol()
        self.house.save(
            id_, replace(stored(id_), details=replace(stored(id_).details, expiry_at=NOON + MINUTE))
        )
        Membership.objects.all().delete()  # as no command does it
        self.kept.at(NOON)
        count = len(self.asked)

        self.kept.at(NOON - timedelta(seconds=3))
        self.assertEqual(len(self.asked), count)
        self.assertEqual(self.kept.at(NOON - timedelta(days=1)), {id_})
        self.assertEqual(len(self.asked), count + 1)
