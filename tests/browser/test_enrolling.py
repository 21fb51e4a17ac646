"""Enrolling people one after the other: what they share is chosen once, and nothing typed goes astray."""

import re

from playwright.sync_api import Route, expect

from cadrin.credentials.models import Card
from cadrin.enrolment.models import KeptDraft
from cadrin.people.models import Cardholder
from tests.browser.base import BrowserTest
from tests.running import until

FIRST_CARD = 40_501


class Enrolling(BrowserTest):
    def type(self, *texts: str) -> None:
        """Type texts with a Tab between them, as fast as it goes."""
        for place, text in enumerate(texts):
            if place:
                self.page.keyboard.press("Tab")
            self.page.keyboard.type(text)

    def test_the_next_ones_take_two_acts_each_and_get_the_card_shown_for_them(self) -> None:
        page = self.page
        self.go("/")
        page.keyboard.press("n")
        expect(page.get_by_label("First name")).to_be_focused()
        self.type("Sanna", "Holmqvist")
        page.get_by_role("combobox", name="Department").click()
        page.keyboard.type("hyd")
        expect(page.get_by_role("option")).to_have_count(1)
        page.keyboard.press("Enter")
        expect(page.get_by_role("combobox", name="Department")).to_contain_text("Hydrography")
        self.show_at("Reception desk", FIRST_CARD)
        expect(self.strip()).to_contain_text(f"87-{FIRST_CARD}")
        page.keyboard.press("u")
        expect(page.get_by_label("Card number")).to_have_value(str(FIRST_CARD))
        self.choose("Add an access group", "Vessels")
        first_number = page.get_by_label("Number", exact=True).input_value()
        page.keyboard.press("Control+Enter")

        expect(
            page.get_by_text("Department, groups and dates as for Sanna Holmqvist")
        ).to_be_visible()
        expect(page.get_by_text("Show the next card at Reception desk")).to_be_visible()
        expect(page.get_by_label("First name")).to_be_focused()
        expect(page.get_by_label("Number", exact=True)).not_to_have_value(first_number)
        expect(page.get_by_text("may be the same")).to_have_count(0)
        page.keyboard.type("Ebba")
        page.keyboard.press("Tab")  # the one act
        page.keyboard.type("Norrgard")
        page.evaluate("document.activeElement.blur()")
        self.show_at("Reception desk", FIRST_CARD + 1)
        expect(page.get_by_label("Card number")).to_have_value(str(FIRST_CARD + 1))
        page.keyboard.press("Control+Enter")  # and the other
        expect(page.get_by_text("as for Ebba Norrgard")).to_be_visible()

        ebba = Cardholder.objects.get(last_name="Norrgard")
        sanna = Cardholder.objects.get(last_name="Holmqvist")
        self.assertEqual(ebba.department_id, sanna.department_id)
        self.assertEqual(
            list(ebba.memberships.values_list("group__name", flat=True)),
            list(sanna.memberships.values_list("group__name", flat=True)),
        )
        self.assertEqual(Card.objects.get(holder=ebba).card_number, FIRST_CARD + 1)
        self.assertFalse(KeptDraft.objects.exists())

    def test_a_key_leads_to_each_part_of_the_page(self) -> None:
        page = self.page
        self.go("/cardholders/new")
        expect(page.get_by_label("First name")).to_be_focused()
        page.keyboard.type("Barbara")
        page.keyboard.press("Alt+5")
        expect(page.get_by_role("combobox", name="Add an access group")).to_be_focused()
        page.keyboard.press("Alt+1")
        expect(page.get_by_label("First name")).to_be_focused()
        expect(page.get_by_label("First name")).to_have_value("Barbara")

    def test_letters_typed_before_the_page_is_there_are_its_name(self) -> None:
        page = self.page
        self.go("/activity")
        self.type("nBarbara", "Ness")

        expect(page.get_by_label("First name")).to_have_value("Barbara")
        expect(page.get_by_label("Last name")).to_have_value("Ness")
        expect(page.get_by_role("region", name="Test bench")).to_have_count(0)

    def test_letters_wait_for_a_page_however_long_it_takes_to_come(self) -> None:
        page = self.page
        page.clock.install()
        held: list[Route] = []
        page.route("**/CardholderPage-*.js", lambda route: held.append(route))
        self.go("/activity")
        self.type("nBarbara")
        page.clock.fast_forward(20_000)
        self.type("", "Ness")
        self.until_asked(held)
        for route in held:
            route.continue_()

        page.clock.resume()
        expect(page.get_by_label("First name")).to_have_value("Barbara")
        expect(page.get_by_label("Last name")).to_have_value("Ness")

    def test_whoever_goes_elsewhere_while_somebody_is_being_saved_stays_there(self) -> None:
        page = self.page
        held: list[Route] = []
        self.go("/cardholders/new")
        expect(page.get_by_label("First name")).to_be_focused()
        self.type("Barbara", "Ness")
        page.route(re.compile("/api/cardholders/new/"), lambda route: held.append(route))
        page.keyboard.press("Control+s")
        page.get_by_role("button", name="Save anyway").click()
        self.until_asked(held)
        page.get_by_role("link", name="Delivery").click()
        expect(page.get_by_role("heading", name="Delivery", level=1)).to_be_visible()
        for route in held:
            route.continue_()

        until(Cardholder.objects.filter(last_name="Ness").exists, "Barbara Ness is saved")
        page.wait_for_timeout(200)
        self.assertTrue(page.url.endswith("/delivery"), page.url)

    def test_somebody_begun_is_kept_beside_the_next_and_what_is_discarded_comes_back(self) -> None:
        page = self.page
        self.go("/")
        page.keyboard.press("n")
        expect(page.get_by_label("First name")).to_be_focused()
        self.type("Sanna", "Holmqvist")
        until(lambda: KeptDraft.objects.filter(name="Sanna Holmqvist").exists(), "it is kept")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("n")
        expect(page.get_by_text("Begun and not saved:")).to_be_visible()
        expect(page.get_by_label("First name")).to_have_value("")
        page.keyboard.type("Ebba")
        until(lambda: KeptDraft.objects.count() == 2, "both are kept")
        page.get_by_role("button", name="Discard").click()
        expect(page.get_by_label("First name")).to_have_value("")
        page.get_by_role("button", name="Bring it back").click()
        expect(page.get_by_label("First name")).to_have_value("Ebba")
        page.get_by_role("button", name="Discard").click()
        page.get_by_role("link", name="Sanna Holmqvist").click()
        expect(page.get_by_label("Last name")).to_have_value("Holmqvist")

        # nobody is saved with nothing that opens a door, unless one says so
        page.keyboard.press("Control+s")
        page.get_by_role("button", name="Save anyway").click()
        expect(page.get_by_text("No controller needs it yet")).to_be_visible()

    def test_a_read_of_before_is_asked_about_and_one_in_the_strip_is_for_whoever_is_open(
        self,
    ) -> None:
        page = self.page
        self.go("/")
        self.show_at("Reception desk", FIRST_CARD)
        expect(self.strip()).to_contain_text(f"87-{FIRST_CARD}")
        page.keyboard.press("n")
        expect(page.get_by_label("First name")).to_be_focused()
        page.keyboard.type("Sanna")
        page.evaluate("document.activeElement.blur()")

        page.keyboard.press("u")
        expect(page.get_by_role("button", name=f"Take 87-{FIRST_CARD}")).to_be_visible()
        expect(page.get_by_label("Card number")).to_have_count(0)
        self.strip().get_by_text(f"87-{FIRST_CARD}").click()
        page.get_by_role("menuitem", name="Give it to Sanna").click()
        expect(page.get_by_label("Card number")).to_have_value(str(FIRST_CARD))

    def test_a_day_that_ends_is_through_that_day(self) -> None:
        page = self.page
        self.go("/cardholders/12")
        expiry, time = page.get_by_label("Expiry", exact=True), page.get_by_label("Expiry, time")
        expiry.fill("4.12.2031")
        page.keyboard.press("Tab")
        expect(page.get_by_text("through Thu, 4 Dec 2031")).to_be_visible()
        page.keyboard.press("Control+s")
        expect(page.get_by_text("Saved. ")).to_be_visible()

        saved = Cardholder.objects.get(pk=12)
        self.assertEqual(
            saved.expiry_at and saved.expiry_at.isoformat(), "2031-12-05T00:00:00+00:00"
        )
        expect(page.get_by_text("until 4 Dec 2031, 24:00").first).to_be_visible()
        page.reload()
        expect(expiry).to_have_value("04.12.2031")
        expect(time).to_have_value("")
        time.fill("1800")
        page.keyboard.press("Tab")
        expect(page.get_by_text("Thu, 4 Dec 2031, 18:00").first).to_be_visible()
