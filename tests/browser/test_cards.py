"""Cards: whatever number somebody has in hand is explained, and a format is described
bit by bit.
"""

from playwright.sync_api import expect

from cadrin.credentials.models import Card, CardFormat
from cadrin.people.models import Cardholder
from tests.browser.base import BrowserTest
from tests.running import until


class Cards(BrowserTest):
    def test_a_printed_number_leads_to_whose_card_it_is(self) -> None:
        page = self.page
        self.go("/")
        holder = Cardholder.objects.get(cards__card_number=4751)
        page.keyboard.press("g")
        page.keyboard.press("k")
        page.get_by_label("Printed on the card").fill("04751")
        first = page.get_by_role("list", name="Cards that explain it").get_by_role("listitem").first
        expect(first).to_contain_text("87-4751")
        expect(first).to_contain_text("a card that is known here")
        self.assert_accessible()
        first.get_by_role("link", name=holder.display_name).click()

        expect(page.get_by_role("heading", name=holder.display_name)).to_be_visible()

    def test_a_card_shown_at_the_desk_is_explained_and_enrolled_with_one_key(self) -> None:
        page = self.page
        self.go("/cards/number")
        expect(page.get_by_role("heading", name="Cards")).to_be_visible()
        self.show_at("Reception desk", 9001)
        expect(self.strip()).to_contain_text("87-09001")
        page.keyboard.press("u")
        first = page.get_by_role("list", name="Cards that explain it").get_by_role("listitem").first
        expect(first).to_contain_text("87-9001")
        expect(first).to_contain_text("the check of the read holds")
        page.get_by_label("Printed on the card").fill("no such number")
        expect(page.get_by_text("No card of a format in use here explains this.")).to_be_visible()
        page.get_by_label("Printed on the card").fill("9001")
        first.get_by_role("link", name="New cardholder with it").click()

        expect(page.get_by_label("Card number")).to_have_value("9001")

    def test_a_box_is_entered_around_what_is_there_and_a_card_issued_from_it(self) -> None:
        page = self.page
        self.go("/cards/stock")
        expect(page.get_by_text("Station Office, drawer 2")).to_be_visible()
        page.get_by_role("button", name="Enter a box").click()
        page.get_by_role("combobox", name="Format").click()
        page.get_by_role("option", name="26-bit").click()
        page.get_by_label("Facility code").fill("87")
        page.get_by_label("First number").fill("5590")
        page.get_by_label("Last number").fill("5689")
        expect(
            page.get_by_text("10 cards of this range are here already, and stay as they are:")
        ).to_be_visible()
        expect(
            page.get_by_text("10 cards of this range are here already. Make only the others")
        ).to_be_visible()
        self.assert_accessible()
        page.get_by_label("Make only the others").check()
        page.get_by_role("button", name="Make 90 cards").click()
        expect(page.get_by_text("87-05590")).to_be_visible()
        person = Cardholder.objects.get(cards__isnull=True, last_name="Night watch")
        self.go(f"/cardholders/{person.pk}")
        page.get_by_role("combobox", name="From stock").fill("5688")
        page.get_by_role("option", name="87-05688 26-bit").click()
        page.get_by_role("button", name="Save", exact=True).click()

        until(
            lambda: Card.objects.get(card_number=5688).holder_id == person.pk, "the card is issued"
        )

    def test_a_box_that_is_begun_is_there_again_until_it_is_cancelled(self) -> None:
        page = self.page
        first, taken_up = (
            page.get_by_label("First number"),
            page.get_by_text("what you typed before"),
        )
        self.go("/cards/stock")
        page.get_by_role("button", name="Enter a box").click()
        first.fill("52000")
        page.reload()
        expect(first).to_have_value("52000")
        expect(taken_up).to_be_visible()
        page.get_by_role("button", name="Cancel").click()
        page.get_by_role("button", name="Enter a box").click()
        expect(first).to_have_value("")
        expect(taken_up).to_have_count(0)
        first.fill("150")  # a single one, which is there already
        expect(page.get_by_role("button", name="Make 0 cards")).to_be_disabled()

    def test_a_format_is_described_tried_on_a_read_and_saved(self) -> None:
        page = self.page
        self.go("/cards/formats")
        page.get_by_role("combobox", name="New format").click()
        page.get_by_role("option", name="34-bit, no facility code").click()
        expect(
            page.get_by_role("list", name="The 34 bits of the format").get_by_role("listitem")
        ).to_have_count(34)
        page.get_by_label("Bits", exact=True).nth(1).fill("2-40")
        expect(page.get_by_text("These bits lie outside of the 34")).to_be_visible()
        page.get_by_label("Bits", exact=True).nth(1).fill("2-")
        expect(page.get_by_text("Write bits such as 2-9")).to_be_visible()
        page.get_by_label("Bits", exact=True).nth(1).fill("2-33")
        page.get_by_label("Try it on a read").fill("34:000000003")
        expect(page.get_by_text("A check does not hold.")).to_be_visible()
        page.get_by_label("Try it on a read").fill("34:000000002")
        expect(page.get_by_text("Card number 1")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Save", exact=True).click()

        expect(page.get_by_role("button", name="34-bit, no facility code")).to_be_visible()
        self.assertEqual(
            CardFormat.objects.get(name="34-bit, no facility code").layout["card_number"], [2, 33]
        )
