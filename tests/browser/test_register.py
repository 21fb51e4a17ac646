"""The register in the real interface: enrol, find a double and merge, set up, act on many, export,
erase.
"""

import csv
from pathlib import Path

from django.db.models import F
from openpyxl import load_workbook
from playwright.sync_api import Page, Route, expect

from cadrin.bulk.models import BulkChange, BulkState
from cadrin.core.bulk import BulkAct
from cadrin.people.models import Cardholder, CustomField, Department
from cadrin.photos.models import Image
from cadrin.sites.models import Schedule
from tests.browser.base import BrowserTest
from tests.running import until


class Register(BrowserTest):
    def test_enrol_with_own_fields_and_a_picture_from_the_camera(self) -> None:
        page = self.page
        self.go("/")
        page.keyboard.press("n")
        expect(page.get_by_label("First name")).to_be_focused()
        page.keyboard.type("Sanna")
        page.keyboard.press("Tab")
        page.keyboard.type("Holmqvist")
        page.get_by_label("Telephone").fill("01632 960 777")
        page.get_by_label("Locker").fill("A001")
        page.get_by_label("Sea survival until").fill("30.2.2027")
        page.get_by_label("Boot size").fill("forty")
        expect(page.get_by_text("This is no number.")).to_be_visible()
        expect(page.get_by_text("Write a day such as 24.11.2026").first).to_be_visible()
        page.get_by_label("Sea survival until").fill("28.2.2027")
        page.get_by_label("Boot size").fill("40,5")
        self.choose("Department", "Dive Team")
        proposal = page.get_by_role("status").filter(has_text="usually has")
        expect(proposal).to_contain_text("Everybody by day, Dive Team")
        proposal.get_by_role("button", name="Take over").click()

        page.get_by_role("button", name="Portrait from the camera").click()
        page.get_by_role("button", name="Take the picture").click()
        expect(page.get_by_text("No face was found.")).to_be_visible()
        page.get_by_role("button", name="Crop: Portrait").click()
        expect(page.locator("cropper-selection")).to_be_visible()
        page.keyboard.press("ArrowLeft")
        page.get_by_role("button", name="Keep this part").click()
        until(
            lambda: Image.objects.count() >= 2 and page.locator("#photo img").count(),
            "the crop is kept",
        )
        page.get_by_label("Remarks").focus()
        page.keyboard.press("Control+s")
        page.get_by_role("button", name="Save anyway").click()

        expect(page.get_by_text("Saved.")).to_be_visible()
        saved = Cardholder.objects.get(last_name="Holmqvist")
        own = {
            CustomField.objects.get(pk=id_).labels["en"]: value for id_, value in saved.own.items()
        }
        self.assertEqual(
            own, {"Locker": "A001", "Sea survival until": "2027-02-28", "Boot size": "40.5"}
        )
        self.assertEqual(saved.phones, ["+44 1632 960777"])
        self.assertEqual(saved.memberships.count(), 2)
        self.assertEqual(Image.objects.get(cardholder=saved).slot, 0)
        self.assert_accessible()

    def test_a_double_is_found_and_merged_with_both_histories(self) -> None:
        page, one = self.page, Cardholder.objects.get(pk=40)
        self.go("/cardholders/new")
        page.get_by_label("First name").fill(one.last_name)
        page.get_by_label("Last name").fill(one.first_name)
        page.get_by_label("E-mail").fill(one.email.upper())
        note = page.get_by_role("status").filter(has_text="Possible duplicate")
        expect(note).to_contain_text("the same e-mail address")
        page.keyboard.press("Control+s")
        page.get_by_role("button", name="Save anyway").click()
        page.get_by_role("button", name="Save as another person").click()
        expect(page.get_by_text("Saved.")).to_be_visible()
        made = Cardholder.objects.get(email=one.email.upper())

        self.go(f"/cardholders/{one.pk}")
        page.get_by_role("button", name=f"Merge: {made.display_name}").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text(made.number)
        self.assert_accessible()
        dialog.get_by_role("button", name="Merge into one").click()

        expect(dialog).to_be_hidden()
        expect(page.get_by_text("merged another record into this one")).to_be_visible()
        self.assertFalse(Cardholder.objects.filter(pk=made.pk).exists())
        self.assertEqual(Cardholder.objects.get(pk=one.pk).number, one.number)

    def test_a_department_moves_and_an_own_field_comes_and_goes(self) -> None:
        page = self.page
        self.go("/setup/departments")
        page.get_by_role("button", name="42 Control Watch").click()
        self.choose("Below", "Estates")
        expect(page.get_by_text("It moves with 13 people")).to_be_visible()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("Saved.").first).to_be_visible()
        self.assertEqual(
            Department.objects.get(number="42").parent, Department.objects.get(number="70")
        )

        self.go("/setup/own-fields")
        page.get_by_role("button", name="Remove: Locker").click()
        expect(page.get_by_role("alertdialog")).to_contain_text("55 cardholders have a value in it")
        page.get_by_role("alertdialog").get_by_role("button", name="Remove", exact=True).click()
        page.get_by_role("button", name="Undo: Locker").click()
        expect(page.get_by_role("button", name="Remove: Locker")).to_be_visible()
        self.assertIsNone(CustomField.objects.get(labels__en="Locker").removed_at)

    def test_what_is_typed_in_an_editor_is_there_again_until_it_is_discarded(self) -> None:
        page = self.page
        name = page.get_by_label("Name", exact=True)
        taken_up = page.get_by_text("This is what you typed before and did not save.")
        self.go("/setup/departments")
        page.get_by_role("button", name="42 Control Watch").click()
        name.fill("Control Room")
        self.go("/setup/departments")  # a reload in between
        page.get_by_role("button", name="41 Turbine Crew").click()
        expect(name).to_have_value("Turbine Crew")
        page.get_by_role("button", name="42 Control Watch").click()
        expect(name).to_have_value("Control Room")
        expect(taken_up).to_be_visible()
        page.get_by_role("button", name="Discard").click()
        expect(name).to_have_value("Control Watch")
        page.reload()
        page.get_by_role("button", name="42 Control Watch").click()
        expect(name).to_have_value("Control Watch")
        expect(taken_up).to_have_count(0)

    def test_what_was_typed_before_somebody_else_saved_is_refused_and_stays(self) -> None:
        page = self.page
        name = page.get_by_label("Name", exact=True)
        self.go("/access/schedules/1")
        name.fill("Whenever")
        Schedule.objects.filter(pk=1).update(name="Day and night", version=F("version") + 1)
        page.reload()
        expect(name).to_have_value("Whenever")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("Somebody else saved in between").first).to_be_visible()
        expect(name).to_have_value("Whenever")
        self.assertEqual(Schedule.objects.get(pk=1).name, "Day and night")

    def test_what_is_typed_while_it_is_being_saved_is_saved_next(self) -> None:
        page = self.page
        somebody = Cardholder.objects.get(cards__card_number=4751)
        self.go(f"/cardholders/{somebody.pk}")
        remarks = page.get_by_label("Remarks")
        held: list[Route] = []
        remarks.fill("Has a dog")
        page.route(
            f"**/api/cardholders/{somebody.pk}/",
            lambda route: (
                held.append(route) if route.request.method == "PUT" else route.continue_()
            ),
        )
        page.keyboard.press("Control+s")
        while not held:
            page.wait_for_timeout(20)
        remarks.fill("Has two dogs")
        # the draft is kept by a PUT of its own
        with page.expect_response(f"**/api/cardholders/{somebody.pk}/"):
            held[0].continue_()
        page.unroute(f"**/api/cardholders/{somebody.pk}/")
        self.assertTrue(Cardholder.objects.filter(remarks="Has a dog").exists())
        expect(page.get_by_role("button", name="Save", exact=True)).to_be_enabled()
        expect(remarks).to_have_value("Has two dogs")
        page.keyboard.press("Control+s")
        until(Cardholder.objects.filter(remarks="Has two dogs").exists, "the rest is saved")

    def test_act_on_all_that_match_and_take_it_back(self) -> None:
        page = self.page
        more = range(1, 1235 - Cardholder.objects.count())
        Cardholder.objects.bulk_create(
            Cardholder(
                number=f"X-{n}",
                number_key=f"X-{n}",
                display_name=f"Extra {n}",
                sort_name=f"extra {n:04}",
            )
            for n in more
        )
        self.list_with(page, "1,234 cardholders")
        page.get_by_role("checkbox", name="Select all that are shown").click()
        page.get_by_role("button", name="Select all 1,234 that match").click()
        page.get_by_role("checkbox", name="Select Astrid Abernook").click()
        expect(page.get_by_text("1,233 selected")).to_be_visible()
        page.get_by_role("combobox", name="Change…").click()
        page.get_by_role("option", name="Change department").click()
        self.choose("To", "Estates")
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("and put them into the groups").uncheck()
        estates = Department.objects.get(number="70")
        there = Cardholder.objects.filter(department=estates).count()
        expect(dialog).to_contain_text(f"{1233 - there:,} will change of 1,233 selected.")
        self.assert_accessible()
        dialog.get_by_role("button", name=f"Change {1233 - there:,}").click()
        until(lambda: BulkChange.objects.filter(state=BulkState.DONE).exists(), "the batch is done")
        self.assertEqual(Cardholder.objects.filter(department=estates).count(), 1233)

        page.get_by_role("button", name="Bulk changes").click()
        bulk_changes = page.get_by_role("dialog", name="Bulk changes")
        bulk_changes.get_by_role("button", name="Undo").click()

        until(
            lambda: BulkChange.objects.filter(state=BulkState.DONE, act=BulkAct.UNDO).exists(),
            "it is taken back",
        )
        self.assertEqual(Cardholder.objects.filter(department=estates).count(), there)

    def test_columns_are_chosen_kept_and_exported_to_a_file_that_others_read(self) -> None:
        page = self.page
        self.list_with(page, "185 cardholders")
        page.get_by_role("button", name="Columns").click()
        page.get_by_role("checkbox", name="Locker").click()
        page.get_by_role("checkbox", name="Cards").click()
        head = page.get_by_role("columnheader", name="Number")
        width = head.evaluate("one => one.offsetWidth")
        page.get_by_role("button", name="Wider: Number").click()
        self.assertGreater(head.evaluate("one => one.offsetWidth"), width + 30)
        page.keyboard.press("Escape")
        expect(page.get_by_role("columnheader", name="Locker")).to_be_visible()
        expect(page.get_by_role("columnheader", name="Cards")).to_be_hidden()
        page.get_by_role("combobox", name="Department").click()
        page.get_by_role("option", name="Dive Team and below").click()
        expect(page.get_by_text("15 cardholders")).to_be_visible()
        page.get_by_role("button", name="Saved lists").click()
        page.get_by_label("Save this list as").fill("Divers")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("button", name="Divers", exact=True)).to_be_visible()
        page.keyboard.press("Escape")
        page.get_by_role("checkbox", name="Select all that are shown").click()

        as_csv = self.exported(page, "CSV")
        as_xlsx = self.exported(page, "XLSX")

        rows = list(csv.reader(as_csv.read_text(encoding="utf-8-sig").splitlines()))
        self.assertEqual(
            (rows[0][:3], rows[0][-1], len(rows)),
            (["Last name", "First name", "Number"], "Locker", 16),
        )
        sheet = load_workbook(as_xlsx.open("rb")).active
        assert sheet is not None
        self.assertEqual([str(cell.value or "") for cell in list(sheet.iter_rows())[1]], rows[1])
        page.reload()
        page.get_by_role("button", name="Saved lists").click()
        page.get_by_role("button", name="Divers", exact=True).click()
        expect(page.get_by_text("15 cardholders")).to_be_visible()

    def test_an_act_is_taken_back_and_somebody_erased(self) -> None:
        page = self.page
        self.go("/cardholders/12")
        page.get_by_label("Title").fill("Skipper")
        page.keyboard.press("Control+s")
        expect(page.get_by_text("Saved. Held at")).to_be_visible()
        page.get_by_role("button", name="Undo: Details changed").first.click()
        expect(page.get_by_label("Title")).to_have_value("")

        page.get_by_role("button", name="Erase for good").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Erase for good").click()
        expect(dialog).to_contain_text("Say why")
        dialog.get_by_label("Reason").fill("asked for by letter")
        dialog.get_by_role("button", name="Erase for good").click()
        expect(page.get_by_role("heading", name="Cardholders")).to_be_visible()
        self.go("/cardholders/12")

        expect(page.get_by_text("This cardholder was erased.")).to_be_visible()
        self.assertEqual(Cardholder.objects.get(pk=12).display_name, "S-00012")

    def list_with(self, page: Page, count: str) -> None:
        self.go("/cardholders", page)
        expect(page.get_by_text(count)).to_be_visible()

    def exported(self, page: Page, kind: str) -> Path:
        page.get_by_role("button", name="Export").last.click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name=kind).click()
        with page.expect_download() as download:
            dialog.get_by_role("button", name="Export").click()
        expect(dialog).to_be_hidden()
        return Path(download.value.path())
