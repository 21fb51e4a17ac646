"""Who is in the groups of a door is kept, and is who would be found anew."""

from dataclasses import replace
from datetime import timedelta
from random import Random

from django.db import connection, transaction
from django.test import TransactionTestCase
from django.test.utils import CaptureQueriesContext

from cadrin.access.plan import access_plan, holders
from cadrin.access.queries import members_of_any
from cadrin.core.access.finder import Roster
from cadrin.credentials.models import Card
from cadrin.credentials.uses import note_uses
from cadrin.people.models import Cardholder
from cadrin.questions import kept_members
from cadrin.questions.kept_members import KeptMembers
from cadrin.register.tests.test_listing import some_people
from cadrin.register.tests.test_not_ready import do_something
from tests.house import NOON, House


class WhoIsInTheGroupsOfADoor(TransactionTestCase):
    def setUp(self) -> None:
        self.house = House()
        self.kept = KeptMembers()
        some_people(self.house, 20)
        self.groups = [{self.house.day_group.pk}, {self.house.boats.pk}]

    def test_is_kept_as_it_would_be_found_anew_whatever_is_done(self) -> None:
        random, at = Random(5), NOON
        people = list(Cardholder.objects.values_list("id", flat=True))
        once = replace(self.house.card(77), use_limit=1)
        self.house.enrol(replace(self.house.draft("U-1"), cards=(once,)))
        found = set()
        for turn in range(40):
            at += timedelta(minutes=random.randrange(3))
            do_something(self.house, random, random.choice(people), at, turn)
            if turn == 20:
                note_uses(Card.objects.get(use_limit=1).pk, "a memory", 1)  # no act of anybody
            for groups, door in zip(self.groups, (self.house.gate, self.house.slip), strict=True):
                anew = holders(members_of_any(groups))
                kept = self.kept(groups)
                with self.subTest(turn=turn, groups=groups):
                    self.assertEqual(dict(kept.people), anew)
                    who = kept.roster.who_may_open(door.pk, access_plan(), at)
                    self.assertEqual(
                        who, Roster(list(anew.values())).who_may_open(door.pk, access_plan(), at)
                    )
                    found.add(who)
        self.assertGreater(len(found), 2)

    def test_asks_for_nobody_anew_where_nothing_was_done_to_them(self) -> None:
        (groups, _), kept = self.groups, self.kept(self.groups[0])
        with CaptureQueriesContext(connection) as asked:
            self.assertIs(self.kept(groups), kept)
        self.assertLessEqual(len(asked), 6)

    def test_is_not_kept_of_what_may_never_come_to_be_nor_of_too_many(self) -> None:
        groups = self.groups[0]
        kept = self.kept(groups)
        with transaction.atomic():
            Cardholder.objects.filter(pk__in=list(kept.people)).update(standing="suspended")
            self.assertNotEqual(self.kept(groups).people, kept.people)
            transaction.set_rollback(True)
        self.assertIs(self.kept(groups), kept)

        most, kept_members.MOST_KEPT = kept_members.MOST_KEPT, len(kept.people) - 1
        self.addCleanup(setattr, kept_members, "MOST_KEPT", most)
        self.kept(self.groups[1])
        self.assertIsNot(self.kept(groups), kept)
