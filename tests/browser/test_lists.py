"""Lists become cardholders: dropped, understood, mended in place, applied, and taken back whole."""

import re
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory

from playwright.sync_api import Locator, expect

from cadrin.core.validity import Standing
from cadrin.demo.samples import leavers, messy_csv, photos, workbook
from cadrin.intake.models import Intake
from cadrin.people.models import Cardholder
from cadrin.photos.models import Image
from tests.browser.base import BrowserTest
from tests.running import until

TODAY = date(2026, 6, 1)


class Lists(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.folder = TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)

    def drop(self, name: str, data: bytes) -> None:
        """Choose a file on the page for lists, and wait until it is open."""
        file = Path(self.folder.name) / name
        file.write_bytes(data)
        self.go("/cardholders/lists")
        self.page.set_input_files("input[type=file]", file)
        expect(self.page.get_by_role("heading", name=name)).to_be_visible()

    def effects(self) -> Locator:
        return self.page.get_by_role("complementary", name="What it will do")

    def settled(self, text: str) -> None:
        expect(self.effects()).to_contain_text(text)

    def fault(self, text: str) -> Locator:
        return self.page.get_by_role("listitem").filter(has_text=text).last

    def pick(self, box: str, option: str) -> None:
        """Choose from a list with the mouse."""
        self.page.get_by_role("combobox", name=box, exact=True).click()
        self.page.get_by_role("option", name=option, exact=True).click()

    def apply(self) -> None:
        self.page.get_by_role("button", name="Apply to").click()
        expect(self.page.get_by_role("button", name="Undo all of it")).to_be_visible()

    def test_a_messy_list_is_mended_in_place_applied_and_taken_back(self) -> None:
        page, before = self.page, Cardholder.objects.count()
        self.drop("volunteers.csv", messy_csv(TODAY))
        expect(page.get_by_text("10 rows to fix").first).to_be_visible()
        self.assert_accessible()

        # five kinds of fault, each settled where it stands
        self.fault("could be day/month").get_by_role("button", name="Day first").click()
        self.fault("zeros were lost").get_by_role("button", name="Fill up to 5 digits").click()
        self.choose("What “Tank hall team” means", "Wet Lab")
        page.get_by_label("What “30.02.1991” means").fill("28.02.1991")
        page.keyboard.press("Enter")
        self.fault("may be the same person").get_by_role(
            "button", name="Leave this row out"
        ).click()
        self.settled("9 new cardholders")
        expect(page.get_by_text("Nothing: every row can be read.")).to_be_visible()

        # what the list does not say: a card from the box, a group; they begin at once
        self.pick("Starts", "Left out")
        self.pick("Card format", "26-bit")
        page.get_by_label("Facility code").fill("87")
        page.get_by_label("Cards from").fill("4780")
        page.keyboard.press("Tab")
        self.settled("26-bit, 87: 4780\N{EN DASH}4788")
        page.get_by_role("combobox", name="Access groups").focus()
        page.keyboard.press("ArrowDown")
        page.get_by_role("option", name="Control Watch").click()
        page.keyboard.press("Escape")
        self.settled("Control Watch+9")
        self.assertEqual(Cardholder.objects.count(), before)
        self.apply()
        self.assertEqual(Cardholder.objects.count(), before + 9)
        self.assertEqual(Cardholder.objects.get(number="00473").born_on, date(1991, 2, 28))

        # at the door
        self.show_at("Control Watch", 4780)
        self.assertEqual(self.bench_said, "Control Watch: opens for Zoë Ångström, for 5 seconds.")

        # and back
        page.get_by_role("button", name="Undo all of it").click()
        page.get_by_role("alertdialog").get_by_role("button", name="Undo all of it").click()
        expect(page.get_by_role("status").filter(has_text=re.compile("^undone$"))).to_be_visible()
        self.assertEqual(Cardholder.objects.count(), before)

        def denied() -> bool:
            self.show_at("Control Watch", 4780)
            return "stays shut" in self.bench_said

        until(denied, lambda: self.bench_said)

    def test_a_row_is_mended_by_itself_and_a_reload_loses_nothing(self) -> None:
        page = self.page
        self.drop(
            "two.csv",
            b"Number;Last name;E-mail\nX-1;Falk;falk at station\nX-2;Brae;b@station.example\n",
        )
        expect(page.get_by_text("One row is to be fixed")).to_be_visible()
        page.get_by_role("button", name="Edit row 2").click()
        row = page.locator("form").filter(has=page.get_by_role("button", name="Save the row"))
        row.get_by_label("E-mail").fill("falk@station.example")
        page.get_by_role("button", name="Save the row").click()
        self.settled("2 new cardholders")

        page.reload()

        self.settled("2 new cardholders")
        expect(page.get_by_text("falk@station.example")).to_be_visible()

    def test_a_workbook_with_photos(self) -> None:
        page = self.page
        self.drop("volunteers.xlsx", workbook(TODAY))
        self.pick("Team", "Left out")
        self.fault("no such day").get_by_role("button", name="Leave empty").click()
        self.fault("may be the same person").get_by_role(
            "button", name="Leave this row out"
        ).click()
        self.fault("there is no photo").wait_for()
        archive = Path(self.folder.name) / "portraits.zip"
        archive.write_bytes(photos(TODAY))
        page.set_input_files("input[accept='.zip']", archive)
        self.settled("9 new cardholders")
        self.apply()

        pictured = Image.objects.filter(slot=0, cardholder__email__endswith="volunteers.example")
        self.assertEqual(pictured.count(), 5)

    def test_leavers_depart_and_whoever_is_unknown_is_left_out(self) -> None:
        page = self.page
        self.drop("leavers.csv", leavers(TODAY) + b"S-99999,2026-06-01\n")
        self.pick("Whoever is not in the register", "is left out")
        self.pick("Everybody in the list becomes", "Departed")
        self.settled("4 changed")
        self.settled("one row left out")
        self.apply()
        page.get_by_role("link", name="What became of whom").click()
        expect(page.get_by_role("row").filter(has_text="applied a list")).to_be_visible()

        departed = Cardholder.objects.filter(
            number__in=["S-00021", "S-00022", "S-00023", "S-00024"]
        )
        self.assertEqual({c.standing for c in departed}, {Standing.DEPARTED})

    def test_people_whom_only_a_controller_knew_are_brought_in(self) -> None:
        page = self.page
        self.go("/delivery")
        page.keyboard.press("b")
        page.get_by_role("button", name="Put in strangers: Headland South").click()
        page.get_by_role("button", name="Test bench").click()
        expect(page.get_by_text("It knew 3 people whom Cadrin does not know")).to_be_visible()
        page.get_by_role("button", name="Bring them in").click()
        expect(page.get_by_role("heading", name="Headland South")).to_be_visible()
        self.settled("3 new cardholders")
        self.apply()
        self.assertEqual(Cardholder.objects.filter(number__startswith="X-00").count(), 3)

    def test_a_list_is_dropped_on_any_page_and_a_picture_is_not_one(self) -> None:
        page = self.page
        self.go("/cards/number")
        page.evaluate(
            """() => {
                const files = new DataTransfer()
                files.items.add(new File(['Number;Last name\\nX-1;Falk\\n'], 'dropped.csv'))
                for (const kind of ['dragenter', 'dragover', 'drop'])
                    document.body.dispatchEvent(
                        new DragEvent(kind, { dataTransfer: files, bubbles: true, cancelable: true }))
            }"""
        )
        expect(page.get_by_role("heading", name="dropped.csv")).to_be_visible()
        self.assertEqual(Intake.objects.count(), 1)
        self.go("/cardholders/lists")
        page.get_by_role("link", name="dropped.csv").wait_for()
        self.assert_accessible()
        page.set_input_files(
            "input[type=file]",
            {"name": "me.csv", "mimeType": "text/csv", "buffer": b"\x89PNG\r\n\x1a\n123"},
        )
        expect(page.get_by_text("This is no list: a picture, a PDF or a program.")).to_be_visible()
