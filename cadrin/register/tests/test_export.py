import csv
import io
import json

from django.test import TestCase
from openpyxl import load_workbook

from cadrin.core.errors import Invalid, NotFound, NotPermitted
from cadrin.core.people.custom_fields import FieldType
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.people.commands.custom_fields import ChoiceDraft, OwnFieldDraft, save_custom_field
from cadrin.register.export import COLUMNS, Wanted, export, export_table
from cadrin.register.filters import Filters
from cadrin.register.saved_lists import SavedListDraft, remove_list, save_list, saved_lists_for
from cadrin.register.selection import Selection
from tests.house import ANYBODY, NOON, House, an_operator


class Exports(TestCase):
    def setUp(self) -> None:
        self.house = House()
        choice = OwnFieldDraft(
            {"en": "Size"}, {}, FieldType.CHOICE, (ChoiceDraft("l", {"en": "Large"}),)
        )
        self.size = save_custom_field(self.house.actor, None, choice, NOON)
        self.ids = self.house.enrol_many(3)
        self.house.enrol(
            self.house.draft(
                "S-9",
                last_name="=Formula",
                phones=("01632 960001",),
                expiry_at=NOON,
                own={self.size: "l"},
            )
        )
        self.everybody = Selection(filters=Filters())

    def read(self, kind: str, columns: list[str], selection: Selection | None = None) -> str:
        made = export(
            ANYBODY, Wanted(kind, tuple(columns), selection or self.everybody, "number"), NOON
        )
        return b"".join(made.chunks).decode("utf-8-sig")

    def test_has_everybody_in_the_order_of_the_list_and_the_words_of_the_screen(self) -> None:
        columns = ["number", "last_name", "phones", "expiry", f"own.{self.size}"]

        rows = list(csv.reader(io.StringIO(self.read("csv", columns))))

        self.assertEqual(rows[0], ["Number", "Last name", "Telephone", "Expiry", "Size"])
        self.assertEqual([row[0] for row in rows[1:]], ["M-0", "M-1", "M-2", "S-9"])
        self.assertEqual(
            rows[4][1:], ["'=Formula", "'+44 1632 960001", "2026-06-01 13:00", "Large"]
        )

    def test_a_table_goes_out_as_it_stands_on_the_screen_and_stands_in_the_journal(self) -> None:
        rows = [["=1+1", "S-1"], ["Reve", "S-2"]]

        made = export_table(ANYBODY, "csv", "Activity", ["Name", "Number"], rows, NOON)
        book = export_table(ANYBODY, "xlsx", "What: this/that?" * 3, ["Name", "Number"], rows, NOON)

        found = list(csv.reader(io.StringIO(b"".join(made.chunks).decode("utf-8-sig"))))
        self.assertEqual(found, [["Name", "Number"], ["'=1+1", "S-1"], ["Reve", "S-2"]])
        (sheet,) = load_workbook(io.BytesIO(b"".join(book.chunks))).worksheets
        self.assertEqual([[cell.value for cell in row] for row in sheet.rows][1:], rows)
        told = Entry.objects.filter(action="register.table_exported").order_by("id")
        self.assertEqual([one.changes["rows"] for one in told], [[None, 2], [None, 2]])
        with self.assertRaises(Invalid):
            export_table(ANYBODY, "csv", "Activity", ["Name"], rows, NOON)
        guard = actor_of(an_operator("guard", Permission.SEE))
        with self.assertRaises(NotPermitted):
            export_table(guard, "csv", "Activity", ["Name", "Number"], rows, NOON)

    def test_only_who_was_selected(self) -> None:
        found = json.loads(self.read("json", ["number"], Selection(ids=(self.ids[1],))))

        self.assertEqual(found, [{"number": "M-1"}])
        self.assertEqual(self.read("vcard", ["number"]).count("BEGIN:VCARD"), 4)

    def test_every_column_can_be_written_and_no_other(self) -> None:
        for kind in ("csv", "json"):
            self.assertIn("Tomas", self.read(kind, [*COLUMNS, f"own.{self.size}"]))
        for unknown in ("password", "own.999", "own.x"):
            with self.subTest(unknown), self.assertRaises(Invalid):
                self.read("csv", [unknown])


class Views(TestCase):
    def test_own_ones_are_ones_own_and_shared_ones_everybodys(self) -> None:
        house, clerk = House(), actor_of(an_operator("clerk", Permission.SEE))
        draft = SavedListDraft("Divers", False, {"text": "dive"}, ("number", "name"), "-name")
        save_list(house.actor, draft)
        save_list(house.actor, draft._replace(name="Everybody", is_shared=True))
        save_list(house.actor, draft._replace(name="divers", sort="name"))

        self.assertEqual(
            [view["name"] for view in saved_lists_for(clerk.operator_id)], ["Everybody"]
        )
        mine = {view["name"]: view for view in saved_lists_for(house.actor.operator_id)}
        self.assertEqual((set(mine), mine["divers"]["sort"]), ({"Everybody", "divers"}, "name"))
        with self.assertRaises(NotPermitted):
            save_list(clerk, draft._replace(is_shared=True))
        with self.assertRaises(NotPermitted):
            remove_list(clerk, mine["Everybody"]["id"])
        with self.assertRaises(NotFound):
            remove_list(clerk, mine["divers"]["id"])
