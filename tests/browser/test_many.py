"""Many at once, as a desk does it: ranges, several acts in one go, and the way back beside them."""

import re

from playwright.sync_api import expect

from cadrin.access.models import Membership
from cadrin.people.models import Cardholder, Department
from tests.browser.base import BrowserTest
from tests.running import until

MOST_ACTS = 8


class Many(BrowserTest):
    def test_twelve_people_are_moved_with_their_groups_in_eight_acts_and_taken_back(self) -> None:
        page, acts = self.page, 0
        divers = Department.objects.get(name="Dive Team")
        there = list(Cardholder.objects.filter(department=divers).values_list("id", flat=True))
        self.go("/cardholders")
        boxes = page.get_by_role("row").get_by_role("checkbox")
        expect(boxes.nth(20)).to_be_visible()

        boxes.nth(1).click()
        boxes.nth(12).click(modifiers=["Shift"])
        acts += 2
        expect(page.get_by_text("12 selected")).to_be_visible()
        page.get_by_role("combobox", name="Change…").click()
        page.get_by_role("option", name="Change department").click()
        acts += 2
        dialog = page.get_by_role("dialog")
        # nothing is done before something is chosen
        expect(dialog.get_by_role("button", name="Change 0")).to_be_disabled()
        dialog.get_by_role("combobox", name="To").click()
        page.keyboard.type("dive")
        page.keyboard.press("Enter")
        acts += 2
        expect(dialog.get_by_label("and put them into the groups it proposes")).to_be_checked()
        dialog.get_by_role("button", name="Change 1").click()
        acts += 1
        self.assertLessEqual(acts, MOST_ACTS)

        bar = page.get_by_role("region", name="12 selected")
        undo = bar.get_by_role("button", name="Undo")
        expect(undo).to_be_visible()
        moved = Cardholder.objects.filter(department=divers)
        newcomers = set(moved.exclude(id__in=there).values_list("id", flat=True))
        self.assertGreater(len(newcomers), 8)
        members = Membership.objects.filter(cardholder__in=newcomers, group__name="Dive Team")
        self.assertEqual(set(members.values_list("cardholder_id", flat=True)), newcomers)
        undo.click()
        expect(page.get_by_text("Taken back.")).to_be_visible()
        until(lambda: moved.all().count() == len(there), "they are back")

    def test_several_acts_are_chosen_kept_through_a_reload_and_begun_together(self) -> None:
        page = self.page
        self.go("/cardholders")
        boxes = page.get_by_role("row").get_by_role("checkbox")
        boxes.nth(1).click()
        boxes.nth(4).click(modifiers=["Shift"])
        page.get_by_role("combobox", name="Change…").click()
        page.get_by_role("option", name="Change company").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("combobox", name="To").click()
        page.get_by_role("option", name="None").click()
        dialog.get_by_role("combobox", name="And another…").click()
        page.get_by_role("option", name="Change standing").click()
        begin = dialog.get_by_role("button", name=re.compile("Change [0-9]"))
        expect(begin).to_be_disabled()  # the second is not chosen yet

        page.reload()
        expect(dialog.get_by_text("what you typed before")).to_be_visible()
        standing = dialog.get_by_role("region", name="Change standing")
        standing.get_by_role("combobox", name="To").click()
        page.get_by_role("option", name="Suspended").click()
        standing.get_by_label("Reason").fill("Stocktaking")
        begin.click()

        expect(dialog).to_be_hidden()
        expect(
            page.get_by_role("region", name="4 selected").get_by_text("4 changed")
        ).to_be_visible()
        suspended = Cardholder.objects.filter(standing="suspended", standing_reason="Stocktaking")
        until(lambda: suspended.count() == 4, "four are suspended")
        self.assertFalse(suspended.exclude(company=None).exists())

    def test_filter_ticks_and_place_are_there_again_on_the_way_back(self) -> None:
        page = self.page
        self.go("/cardholders")
        page.get_by_role("combobox", name="Department").click()
        page.get_by_role("option", name="Dive Team and below").click()
        expect(page.get_by_text("15 cardholders")).to_be_visible()
        page.get_by_role("row").get_by_role("checkbox").nth(3).click()
        expect(page.get_by_text("1 selected")).to_be_visible()
        page.get_by_role("row").nth(2).get_by_role("link").click()
        expect(page.get_by_label("First name")).to_be_visible()
        page.go_back()

        for _ in range(2):
            expect(page.get_by_text("15 cardholders")).to_be_visible()
            expect(page.get_by_text("1 selected")).to_be_visible()
            page.reload()
