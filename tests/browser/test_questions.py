"""Questions are asked and answered in the real interface, in a few clicks each."""

import re

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserTest, taken_by_enter


class Questions(BrowserTest):
    def find(self, page: Page, label: str, text: str) -> None:
        page.get_by_label(label, exact=True).fill(text)
        expect(taken_by_enter(page)).to_contain_text(text)  # not what was found before
        page.keyboard.press("Enter")

    def test_of_doors_people_and_ways_are_answered_where_they_are_asked(self) -> None:
        page = self.page
        self.go("/access/questions")
        page.get_by_role("link", name="Who may open a door?").click()
        self.choose("Door", "Cold Room")
        at = page.get_by_label("At", exact=True)
        at.fill("30.11.2026")
        page.get_by_label("At, time").fill("12:00")
        page.get_by_label("At, time").press("Tab")
        table = page.get_by_role("table")
        expect(table.get_by_role("row").nth(1)).to_contain_text("Cold Room")
        self.assert_accessible()
        with page.expect_download() as download:
            page.get_by_role("link", name="As CSV").click()
        self.assertIn("Access group", download.value.path().read_text("utf-8-sig"))

        page.get_by_role("link", name="How does somebody get there?").click()
        self.find(page, "Cardholder", "Tegan Trevanion")
        self.choose("Into the area", "Slip and Store")
        expect(table.get_by_role("row").nth(1)).to_contain_text("Slip Gate")
        expect(table.get_by_role("row").nth(2)).to_contain_text("Slip")

        page.get_by_role("link", name="How do two people differ?").click()
        self.find(page, "One of them", "Tegan Trevanion")
        self.find(page, "The other", "Ivo Whinfell")
        expect(page.get_by_role("status").filter(has_text="answers")).to_be_visible()
        self.assert_accessible()

        page.get_by_role("link", name="Who never uses their access?").click()
        self.choose("All doors of an area", "Slip Yard")
        expect(table.get_by_role("row").nth(1)).to_contain_text("never")

    def test_of_a_group_an_area_and_a_person_are_kept_and_the_past_is_told(self) -> None:
        page = self.page
        self.go("/access/questions")
        page.get_by_role("link", name="Who could come into an area?").click()
        self.choose("Into the area", "Slip Yard")
        expect(page.get_by_role("table")).to_contain_text("Slip Gate")
        page.get_by_role("button", name="Save this question").click()
        page.get_by_label("Name", exact=True).fill("Into the lab")
        page.get_by_label("Name", exact=True).press("Enter")
        kept = page.get_by_role("link", name="Into the lab")
        expect(kept).to_be_visible()

        page.get_by_role("link", name="What does somebody open?").click()
        self.find(page, "Cardholder", "Tegan Trevanion")
        expect(page.get_by_role("table")).to_contain_text("Granted")
        page.reload()  # the address holds what is asked
        expect(page.get_by_label("Cardholder", exact=True)).to_have_value(re.compile("Trevanion"))
        page.get_by_label("At", exact=True).fill("1.1.2026")
        page.get_by_label("At", exact=True).press("Tab")
        expect(page.get_by_text("As it was then, by the journal.")).to_be_visible()
        self.assert_accessible()

        kept.click()
        expect(page.get_by_role("table")).to_contain_text("Slip Gate")
        page.get_by_role("button", name="Remove Into the lab").click()
        expect(kept).to_be_hidden()

    def test_the_picture_of_groups_and_doors_is_narrowed_by_typing(self) -> None:
        page = self.page
        self.go("/access/questions/matrix")
        strip = page.get_by_role("img", name="Vessels opens Boat Shed: all day")
        expect(strip).to_be_visible()
        page.get_by_label("Doors", exact=True).fill("gate")
        expect(strip).to_be_hidden()
        expect(page.get_by_role("img", name="Vessels opens Slip Gate: all day")).to_be_visible()
        self.assert_accessible()
