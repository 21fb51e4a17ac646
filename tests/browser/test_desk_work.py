"""What else happens at a desk all day: cards come back, people go on leave, controllers lose their
memory.
"""

import re

from playwright.sync_api import expect

from cadrin.core.credentials.card.life import CardStatus
from cadrin.credentials.models import Card
from cadrin.people.models import Cardholder
from tests.browser.base import BrowserTest
from tests.running import until

IN_VESSELS = 12
"""A cardholder in force, with one card, in the groups Vessels and Slip Store."""


SLIP = 4

ALL_HELD = re.compile(r"Held (\d+) of \1\D")


class DeskWork(BrowserTest):
    def open(self, id_: int) -> None:
        self.go(f"/cardholders/{id_}")
        expect(self.page.get_by_role("button", name="Return to stock")).to_be_visible()

    def save(self) -> None:
        self.page.keyboard.press("Control+s")
        expect(self.page.get_by_text("Saved. ")).to_be_visible()

    def effects(self, text: str) -> None:
        expect(self.page.get_by_role("region", name="When saved")).to_contain_text(text)

    def test_a_card_is_returned_and_given_to_the_next_with_one_key(self) -> None:
        page = self.page
        card = Card.objects.get(holder_id=IN_VESSELS)
        self.open(IN_VESSELS)

        page.get_by_role("button", name="Return to stock").click()
        self.effects("Closes 5 doors")
        self.effects("Takes away from Headland South, Slip")
        expect(page.get_by_role("button", name="Give a card")).to_be_visible()
        self.save()
        card.refresh_from_db()
        self.assertEqual((card.status, card.holder_id), (CardStatus.RETURNED, None))

        page.keyboard.press("n")
        expect(page.get_by_label("First name")).to_be_focused()
        page.keyboard.type("Sanna")
        page.evaluate("document.activeElement.blur()")
        self.show_at("Reception desk", card.card_number)
        expect(self.strip()).to_contain_text(f"87-{card.card_number:05}")
        page.keyboard.press("u")
        expect(page.get_by_label("Card number")).to_have_value(str(card.card_number))
        page.keyboard.press("Control+Enter")
        expect(page.get_by_label("First name")).to_have_value("")
        card.refresh_from_db()
        self.assertEqual(card.holder and card.holder.display_name, "Sanna")

    def test_a_card_that_somebody_has_is_not_taken_and_leads_to_them(self) -> None:
        page = self.page
        self.go("/")
        holder = Cardholder.objects.get(pk=IN_VESSELS)
        self.show_at("Reception desk", Card.objects.get(holder=holder).card_number)
        expect(self.strip()).to_contain_text(holder.display_name)

        page.keyboard.press("u")
        expect(page.get_by_role("heading", name=holder.display_name)).to_be_visible()
        page.keyboard.press("n")
        expect(page.get_by_label("First name")).to_be_focused()
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("u")

        expect(page.get_by_text(f"{holder.display_name} has this card.")).to_be_visible()
        expect(page.get_by_label("Card number")).to_have_count(0)

    def test_leave_withdraws_access_and_its_end_gives_it_back(self) -> None:
        page = self.page
        self.open(IN_VESSELS)

        page.get_by_role("button", name="Suspended").click()
        page.get_by_label("Reason").fill("On leave")
        self.effects("Closes 5 doors")
        page.get_by_label("Suspended until", exact=True).fill("1.1.2031")
        page.keyboard.press("Tab")
        self.effects("Other hours at 5 doors")
        expect(page.get_by_text("0 of 24 doors open")).to_be_visible()
        self.save()

        person = Cardholder.objects.get(pk=IN_VESSELS)
        self.assertEqual((person.standing, person.standing_reason), ("suspended", "On leave"))
        self.assertEqual(
            person.suspended_until and person.suspended_until.isoformat(),
            "2031-01-01T00:00:00+00:00",
        )
        page.get_by_role("button", name="Active").click()
        self.save()
        self.assertEqual(Cardholder.objects.get(pk=IN_VESSELS).suspended_until, None)

    def test_a_day_is_read_as_people_write_it_and_nothing_else_is_taken(self) -> None:
        page = self.page
        self.open(IN_VESSELS)
        expiry, time = page.get_by_label("Expiry", exact=True), page.get_by_label("Expiry, time")

        for typed, shown in (
            ("2.3.31", "02.03.2031"),
            ("2031-07-04", "04.07.2031"),
            ("5/12/2031", "05.12.2031"),
        ):
            with self.subTest(typed):
                expiry.fill(typed)
                page.keyboard.press("Tab")
                expect(expiry).to_have_value(shown)
        page.keyboard.type("17:30")
        page.keyboard.press("Tab")
        self.effects("Sends to")
        self.save()
        page.reload()
        expect(expiry).to_have_value("05.12.2031")
        expect(time).to_have_value("17:30")
        for typed in ("soon", "31.2.2031", "1.2"):
            with self.subTest(typed):
                expiry.fill(typed)
                page.keyboard.press("Tab")
                expect(page.get_by_text("Write a day such as")).to_be_visible()
        # half past five in summer is one hour earlier in UTC
        expiry.fill("4.7.2031")
        page.keyboard.press("Tab")
        self.save()
        person = Cardholder.objects.get(pk=IN_VESSELS)
        self.assertEqual(
            person.expiry_at and person.expiry_at.isoformat(), "2031-07-04T16:30:00+00:00"
        )

    def test_the_reach_is_asked_for_another_time(self) -> None:
        page = self.page
        self.open(IN_VESSELS)
        expect(page.get_by_text("of 24 doors open")).to_be_visible()
        store = page.locator(".door").filter(has_text="Slip Store")
        store.click()

        slider = page.get_by_role("slider")
        slider.focus()
        page.keyboard.press("Home")  # midnight of the day: the store is shut
        expect(page.get_by_text("as of 00:00")).to_be_visible()
        expect(store).to_contain_text("at other times")
        expect(page.get_by_text("3 of 24 doors open")).to_be_visible()
        expect(page.get_by_text("Outside of the hours (by Slip Store), opens")).to_be_visible()
        page.get_by_role("button", name="Now", exact=True).click()
        expect(page.get_by_text("as of 00:00")).to_be_hidden()

    def test_a_controller_that_lost_its_memory_gets_everything_again(self) -> None:
        page = self.page
        self.go("/delivery")
        slip = page.locator(".controller .line").filter(has_text="Slip")
        expect(slip).to_contain_text(ALL_HELD)
        before = self.standins.digests(SLIP)

        page.keyboard.press("b")
        page.get_by_role("button", name="Empty it: Slip").click()
        expect(page.get_by_text("Slip was emptied. Cadrin will notice.")).to_be_visible()

        until(lambda: self.standins.digests(SLIP) == before, "Slip holds everything again")
        expect(slip).to_contain_text(ALL_HELD)
        expect(slip).not_to_contain_text("Not held")

    def test_a_read_comes_to_every_page_that_is_open(self) -> None:
        self.go("/")
        other = self.a_page("tomas")
        self.go("/activity", other)
        expect(other.get_by_role("row").nth(1)).to_be_visible()

        self.show_at("Main Gate", 33_333)

        for page in (self.page, other):
            expect(page.get_by_role("list", name="Reads")).to_contain_text("87-33333")
        expect(other.get_by_role("row").nth(1)).to_contain_text("Nobody")
