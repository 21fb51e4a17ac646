"""What was read and done, asked for and taken out; cards of nobody; days as in the operator's country."""

from pathlib import Path

from playwright.sync_api import expect

from cadrin.activity.models import Read
from cadrin.people.models import Cardholder
from tests.browser.base import BrowserTest

NOBODYS = 40_700


class LookingBack(BrowserTest):
    def test_an_unknown_card_is_put_aside_and_brought_back(self) -> None:
        page = self.page
        self.go("/")
        self.show_at("Reception desk", NOBODYS)
        card = page.locator("main").get_by_role("listitem").filter(has_text=f"87-{NOBODYS}")
        card.get_by_role("button", name="Put aside").click()
        expect(card).to_contain_text("Put aside, until it is shown again.")
        card.get_by_role("button", name="Bring it back").click()
        card.get_by_role("button", name="Put aside").click()
        expect(card.get_by_role("button", name="Bring it back")).to_be_visible()

        self.go("/activity/unknown-cards")
        expect(page.get_by_role("heading", name="Unknown cards")).to_be_visible()
        expect(card).to_have_count(0)
        page.get_by_role("button", name="Put aside", exact=True).click()
        expect(card).to_be_visible()
        self.show_at("Reception desk", NOBODYS)
        expect(card).to_have_count(0)

    def test_reads_are_asked_for_in_the_address_and_taken_out_as_they_stand(self) -> None:
        page = self.page
        expired = Read.objects.filter(reason="cardholder_expired").count()
        self.assertGreater(expired, 0)
        self.go("/activity")
        self.choose("Reason", "The cardholder has expired")
        rows = page.locator("tbody tr")
        expect(rows).to_have_count(expired)
        page.reload()
        expect(page.get_by_text("The cardholder has expired").first).to_be_visible()
        expect(rows).to_have_count(expired)
        page.get_by_role("button", name="Take this table out").click()
        with page.expect_download() as taken:
            page.get_by_role("menuitem", name="CSV").click()
        lines = Path(taken.value.path()).read_text("utf-8-sig").splitlines()

        self.assertEqual(lines[0], "Time,Door,Who,Card,Verdict")
        self.assertEqual(len(lines), expired + 1)
        self.assertTrue(all("The cardholder has expired" in line for line in lines[1:]))
        page.get_by_role("button", name="Clear the filters").click()
        expect(page).to_have_url(f"{self.live_server_url}/activity")

    def test_a_lost_card_says_so_wherever_it_is_shown(self) -> None:
        holder = Cardholder.objects.get(cards__card_number=4751)
        holder.cards.filter(card_number=4751).update(status="lost")
        self.go("/")
        self.show_at("Reception desk", 4751)
        shown = self.strip().get_by_role("button", name="87-04751").first
        expect(shown).to_contain_text(holder.display_name)
        expect(shown).to_contain_text("Lost")

    def test_days_are_typed_and_said_as_in_the_country_that_was_chosen(self) -> None:
        page, holder = self.page, Cardholder.objects.get(cards__card_number=4751)
        self.go("/account")
        self.choose("Days and times as in", "United States")
        expect(page.get_by_text("Such as 11/24/26, 5:30\u202fPM.")).to_be_visible()

        self.go(f"/cardholders/{holder.pk}")
        expect(page.get_by_label("Card number")).to_have_count(0)  # a card at rest is a line
        expiry = page.get_by_label("Expiry", exact=True).last
        expiry.fill("12/5/2027")
        page.keyboard.press("Tab")
        expect(page.get_by_text("through Sun, Dec 5, 2027")).to_be_visible()
        expiry.fill("13/5/2027")
        page.keyboard.press("Tab")
        expect(expiry).to_have_attribute("aria-invalid", "true")
        expiry.press("Alt+ArrowDown")
        page.locator(".p-datepicker-day:not(.p-disabled)").first.wait_for()
        self.assert_accessible()
        page.keyboard.press("Enter")
        expect(expiry).not_to_have_attribute("aria-invalid", "true")
        expect(expiry).to_be_focused()
