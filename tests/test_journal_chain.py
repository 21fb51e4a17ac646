"""The journal against hands that change it in the database."""

from importlib import import_module
from io import StringIO

from django.conf import settings
from django.core.management import CommandError, call_command
from django.db import DatabaseError, connection, transaction
from django.test import TestCase

from cadrin.enrolment.commands.erase import erase_cardholder
from cadrin.enrolment.commands.merge import merge_cardholders
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.checking import check_journal
from cadrin.journal.models import Entry, Topic
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from tests.house import NOON, House

MIGRATION = import_module("cadrin.journal.migrations.0003_never_removed_or_changed")


class TheChain(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.one, self.other, self.third = self.house.enrol_many(3)
        self.first = Entry.objects.order_by("id").first()
        assert self.first is not None

    def by_hand(self, statement: str) -> None:
        """Change the database past everything that guards the journal."""
        with connection.cursor() as cursor:
            on = " ON journal_entry" if settings.IS_SHARED else ""
            cursor.execute(f"DROP TRIGGER IF EXISTS journal_entry_is_never_changed{on}")
            cursor.execute(f"DROP TRIGGER IF EXISTS journal_entry_is_never_removed{on}")
            cursor.execute(statement)

    def broken(self) -> tuple[int, str] | None:
        found = check_journal().broken
        return (found.number, found.what) if found else None

    def test_is_whole_after_ordinary_work(self) -> None:
        self.assertIsNone(self.broken())

    def test_names_the_first_line_that_was_changed(self) -> None:
        second = Entry.objects.order_by("id")[1].pk
        for what, statement in {
            "body": f"""UPDATE journal_entry SET changes = '{{"title": ["", "Cook"]}}' WHERE id >= {second}""",
            "chain": f"UPDATE journal_entry SET operator_name = 'Somebody else' WHERE id >= {second}",
            "erased": f"UPDATE journal_entry SET salt = '', changes = '{{}}' WHERE id >= {second}",
            "topics": f"UPDATE journal_topic SET object_id = 99 WHERE entry_id >= {second}",
        }.items():
            with self.subTest(what), transaction.atomic():
                self.by_hand(statement)
                self.assertEqual(self.broken(), (second, what))
                transaction.set_rollback(True)
        self.assertIsNone(self.broken())

    def test_names_the_line_after_one_that_was_taken_out(self) -> None:
        second, third = Entry.objects.order_by("id").values_list("id", flat=True)[1:3]
        self.by_hand(f"DELETE FROM journal_topic WHERE entry_id = {second}")
        self.by_hand(f"DELETE FROM journal_entry WHERE id = {second}")

        self.assertEqual(self.broken(), (third, "chain"))

    def test_that_was_cut_off_is_found_by_what_was_noted(self) -> None:
        noted = check_journal()
        self.by_hand(f"DELETE FROM journal_topic WHERE entry_id = {noted.last_number}")
        self.by_hand(f"DELETE FROM journal_entry WHERE id = {noted.last_number}")

        self.assertIsNone(self.broken())
        found = check_journal((noted.last_number, noted.last_digest)).broken
        self.assertEqual(found and (found.number, found.what), (noted.last_number, "gone"))

    def test_allows_erasing_and_merging_and_finds_what_is_changed_after_them(self) -> None:
        file = stored_cardholder(Cardholder.objects.get(pk=self.one), rules())
        merge_cardholders(self.house.actor, self.one, file, self.other, 1, NOON)
        merged = Cardholder.objects.get(pk=self.one)
        erase_cardholder(self.house.actor, self.one, merged.version, "asked for by letter", NOON)
        self.assertIsNone(self.broken())

        enrolled = Entry.objects.filter(action="cardholder.enrolled").order_by("id").first()
        self.by_hand(
            f"UPDATE journal_entry SET changes = '{{}}' WHERE id = {enrolled.pk if enrolled else 0}"
        )

        self.assertEqual(self.broken(), (enrolled.pk if enrolled else 0, "erased"))

    def test_is_told_by_the_command(self) -> None:
        told = StringIO()
        call_command("check_journal", stdout=told)
        self.assertIn(f"{Entry.objects.count()} entries, none broken", told.getvalue())
        noted = told.getvalue().split()[-1]
        call_command("check_journal", noted=noted, stdout=StringIO())

        self.by_hand(
            f"UPDATE journal_entry SET changes = '{{}}' WHERE id = {self.first.pk if self.first else 0}"
        )

        with self.assertRaisesMessage(
            CommandError, f"Entry {self.first.pk if self.first else 0} is broken"
        ):
            call_command("check_journal")


class TheTable(TestCase):
    def test_lets_nothing_be_removed_and_nothing_but_what_is_said_be_changed(self) -> None:
        House().enrol()
        with connection.cursor() as cursor:
            cursor.execute(MIGRATION.never_removed(connection.vendor))
        for column, value in (
            ("action", "x"),
            ("operator_name", "x"),
            ("digest", "x"),
            ("at", NOON),
        ):
            with self.subTest(column), self.assertRaises(DatabaseError), transaction.atomic():
                Entry.objects.update(**{column: value})
        Topic.objects.all().delete()
        with self.assertRaises(DatabaseError), transaction.atomic():
            Entry.objects.all().delete()
