"""PINs and cards at the desk and at doors: set, replaced, lent, shown in a row, and found again."""

import re
from datetime import timedelta

from django.test import override_settings
from django.utils import timezone
from playwright.sync_api import expect

from cadrin.credentials.letters import send_letters
from cadrin.credentials.models import Card, Pin
from cadrin.delivery.models import Record
from cadrin.enrolment.models import KeptDraft
from cadrin.operators.sealing import unseal
from cadrin.people.models import Cardholder
from cadrin.sites.models import Reader
from cadrin.standins.mail import MailServer
from tests.browser.base import BrowserTest
from tests.running import free_port, until


class Pins(BrowserTest):
    def type_at(self, reader: str, digits: str, card_number: int | None = None) -> None:
        """Type at a keypad of the test bench, with a card or without."""
        page = self.page
        page.keyboard.press("b")
        bench = page.get_by_role("region", name="Test bench")
        bench.get_by_label("Card number").fill("" if card_number is None else str(card_number))
        bench.get_by_label("PIN to type").fill(digits)
        bench.get_by_role("button", name=reader).first.click()
        expect(bench.get_by_role("status")).to_contain_text(reader)
        self.bench_said = bench.get_by_role("status").inner_text()
        page.get_by_role("button", name="Test bench").click()
        expect(bench).to_be_hidden()
        page.evaluate("document.activeElement.blur()")

    def test_somebody_is_enrolled_with_card_pin_and_group_in_six_acts_on_one_page(self) -> None:
        page = self.page
        self.go("/")
        page.keyboard.press("n")
        expect(page.get_by_label("First name")).to_be_focused()
        page.keyboard.type("Sanna")
        page.keyboard.press("Tab")
        page.keyboard.type("Holmqvist")
        self.choose("Department", "Dive Team")
        self.show_at("Reception desk", 40_200)
        expect(self.strip()).to_contain_text("87-40200")
        page.keyboard.press("u")  # 1
        page.get_by_role("button", name="Generate").click()  # 2
        self.choose("Add an access group", "Dive Team")  # 3, 4
        page.keyboard.press("Control+s")  # 5
        dialog = page.get_by_role("dialog", name="The new PIN")
        digits = dialog.locator("b").inner_text()
        self.assertRegex(digits, r"^\d{6}$")
        self.assert_accessible()
        dialog.get_by_role("button", name="Close").last.click()  # 6
        expect(page.get_by_text("Saved. Held at Headland South.")).to_be_visible()
        expect(page.get_by_text("set; nobody can read it")).to_be_visible()
        self.assertNotIn(digits, page.content())

        self.show_at("Chamber", 40_200)
        self.assertEqual(self.bench_said, "Chamber: stays shut. A PIN is needed as well")
        self.type_at("Chamber", digits, 40_200)
        self.assertEqual(self.bench_said, "Chamber: opens for Sanna Holmqvist, for 5 seconds.")

    def test_under_threat_the_door_opens_and_the_desk_tells_of_it(self) -> None:
        page = self.page
        self.go("/setup/cards")
        page.get_by_role("combobox", name=re.compile("^Duress PIN")).click()
        page.get_by_role("option", name="its last digit one higher").click()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("Saved.").first).to_be_visible()
        self.assert_accessible()
        page.emulate_media(color_scheme="dark")
        self.assert_accessible(rules=["color-contrast"])
        page.emulate_media(color_scheme="light")
        pin = Pin.objects.filter(opens_alone=True).first()
        assert pin
        digits = unseal(pin.sealed)
        under_threat = f"{digits[:-1]}{(int(digits[-1]) + 1) % 10}"
        expect(page.get_by_role("link", name="Delivery")).to_be_visible()
        self.until_delivered()

        self.type_at("Control Watch", under_threat)

        name = pin.holder.display_name
        self.assertEqual(self.bench_said, f"Control Watch: opens for {name}, for 5 seconds.")
        self.go("/")
        expect(page.get_by_role("heading", name="Alarms at doors")).to_be_visible()
        page.get_by_role("link", name="Control Watch").click()
        expect(page.get_by_role("complementary", name="Why")).to_contain_text(
            "opened with a duress PIN"
        )
        self.assert_accessible()

    def test_a_cardholder_chooses_at_the_keypad_and_nobody_sees_it(self) -> None:
        page = self.page
        person = Cardholder.objects.filter(pins=None, standing="active", erased_at=None).first()
        assert person
        self.go(f"/cardholders/{person.pk}")
        page.get_by_role("button", name="Choose at the keypad").click()
        expect(page.get_by_text("The cardholder types a PIN at Reception desk.")).to_be_visible()
        self.standins.ask("POST", "/bench/reads", {"reader": self.desk_reader, "typed": "481509"})
        expect(page.get_by_text("Now the same once more.")).to_be_visible()
        self.standins.ask("POST", "/bench/reads", {"reader": self.desk_reader, "typed": "481508"})
        expect(page.get_by_text("The two are not the same.")).to_be_visible()
        page.get_by_role("button", name="Remove", exact=True).click()
        page.get_by_role("button", name="Choose at the keypad").click()
        expect(page.get_by_text("The cardholder types a PIN at Reception desk.")).to_be_visible()
        for words in ("Now the same once more.", "chosen at the keypad"):
            self.standins.ask(
                "POST", "/bench/reads", {"reader": self.desk_reader, "typed": "481509"}
            )
            expect(page.get_by_text(words)).to_be_visible()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("set; nobody can read it")).to_be_visible()

        self.assertEqual(unseal(Pin.objects.get(holder=person).sealed), "481509")

    def test_one_that_is_typed_is_judged_as_it_is_typed_and_never_kept(self) -> None:
        page = self.page
        self.go("/cardholders/1")
        pins = page.get_by_role("region", name="PIN")
        pins.get_by_role("button", name="Type it").click()
        pins.get_by_role("textbox", name="PIN").fill("123123")
        pins.get_by_label("Once more").fill("1231")
        for words in ("It repeats itself.", "The two are not the same."):
            expect(pins.get_by_text(words)).to_be_visible()
        self.assert_accessible()
        until(lambda: KeptDraft.objects.exists(), "the draft is kept")

        self.assertNotIn("123123", page.evaluate("JSON.stringify({...localStorage})"))
        self.assertNotIn("123123", str(KeptDraft.objects.get().draft))

    def test_one_that_cannot_be_mailed_is_told_at_once_and_cancelled_into_another(self) -> None:
        page, server = self.page, MailServer()
        server.is_on = False
        post = server.listening(free_port())
        post.start()
        self.addCleanup(post.stop)
        smtp = "django.core.mail.backends.smtp.EmailBackend"
        found = override_settings(EMAIL_BACKEND=smtp, EMAIL_HOST="127.0.0.1", EMAIL_PORT=post.port)
        found.enable()
        self.addCleanup(found.disable)
        person = Cardholder.objects.filter(pins=None, standing="active", erased_at=None).exclude(
            email=""
        )[0]
        self.go(f"/cardholders/{person.pk}")
        page.get_by_role("button", name="Generate").click()
        page.get_by_label("Send it by mail").check()
        page.keyboard.press("Control+s")

        letter = page.get_by_role("listitem").filter(has_text="tried")
        expect(letter).to_contain_text("the mail server refuses it")
        self.assert_accessible()
        letter.get_by_role("button", name="Cancel and generate another").click()
        shown = page.get_by_role("dialog", name="The new PIN").locator("b")
        expect(shown).to_have_text(re.compile(r"^\d{6}$"))

        self.assertEqual(unseal(Pin.objects.get(holder=person).sealed), shown.inner_text())
        server.is_on = True
        send_letters(timezone.now() + timedelta(days=1))
        self.assertFalse(server.letters, "nothing of it goes into the mail")

    @property
    def desk_reader(self) -> int:
        return Reader.objects.get(name="Reception desk").pk

    def until_delivered(self) -> None:
        page = self.page
        self.go("/delivery")
        expect(page.get_by_role("button", name="Headland South")).to_contain_text("of")
        until(
            lambda: not Record.objects.filter(controller_id=2).exclude(state="held").exists(),
            "everything is at Headland South",
        )


class CardsInHand(BrowserTest):
    def test_a_card_is_waited_for_and_a_lost_one_replaced_in_one_act(self) -> None:
        page, holder = self.page, Cardholder.objects.get(cards__card_number=4751)
        self.go(f"/cardholders/{holder.pk}")
        page.get_by_role("button", name="Replace: 87-04751").click()
        page.get_by_role("button", name="Wait for the next").last.click()
        expect(page.get_by_text("Show the card at Reception desk")).to_be_visible()
        self.assert_accessible()
        self.show_at("Reception desk", 40_300)
        expect(page.get_by_label("Card number").last).to_have_value("40300")
        page.keyboard.press("Control+s")
        expect(page.get_by_text("Saved.").first).to_be_visible()

        found = dict(Card.objects.filter(holder=holder).values_list("card_number", "status"))
        self.assertEqual(found, {4751: "lost", 40_300: "issued"})

    def test_a_found_card_tells_whose_it_is_and_was_and_can_be_given_to_somebody(self) -> None:
        page, holder = self.page, Cardholder.objects.get(cards__card_number=4751)
        self.go("/cards/life")
        expect(page.get_by_role("button", name="Look it up")).to_be_visible()
        self.show_at("Reception desk", 4751)
        expect(self.strip()).to_contain_text("87-04751")
        page.keyboard.press("u")
        expect(
            page.get_by_role("link", name=f"It belongs to {holder.display_name}")
        ).to_be_visible()
        expect(page.get_by_role("listitem").filter(has_text="Card issued")).to_contain_text(
            holder.display_name
        )
        self.assert_accessible()
        page.get_by_label("Card number").fill("4799")
        page.get_by_role("button", name="Look it up").click()
        expect(page.get_by_text("It belongs to nobody now.")).to_be_visible()
        page.get_by_role("combobox", name="Give it to").fill("Night watch")
        page.get_by_role("option", name="Night watch").click()
        expect(page.get_by_label("Card number")).to_have_value("4799")

    def test_a_row_of_people_gets_a_row_of_cards_and_one_confirmation(self) -> None:
        page = self.page
        Card.objects.filter(holder__department__name="Turbine Crew").update(
            holder=None, status="returned"
        )
        self.go("/cards/row")
        self.choose("Department and below", "Turbine Crew")
        page.get_by_role("button", name="Line them up").click()
        people = page.locator("li.person")
        expect(people).to_have_count(21)
        first, second = (people.nth(n).locator(".one-line").inner_text() for n in (0, 1))
        expect(page.get_by_text(f"Next: {first}").first).to_be_visible()
        self.show_at("Reception desk", 40_400)
        expect(page.get_by_text(f"Next: {second}").first).to_be_visible()
        self.show_at("Reception desk", 40_400)  # the same once more
        expect(page.get_by_text(f"This card is in the row already, for {first}.")).to_be_visible()
        self.show_at("Reception desk", 4620)  # somebody's
        expect(page.get_by_text("Not taken: Card 87-04620 is already issued")).to_be_visible()
        page.get_by_role("button", name="Skip", exact=True).click()
        expect(people.nth(1)).to_contain_text("skipped")
        self.assert_accessible()
        page.get_by_label("Facility code").fill("87")
        page.get_by_label("Card number").fill("4780")
        page.get_by_role("button", name="Fill the row").click()
        expect(page.get_by_text("Everybody has a card.").first).to_be_visible()
        before = Card.objects.filter(holder__department__name="Turbine Crew").count()
        page.get_by_role("button", name="Issue all 20").click()
        expect(page.get_by_text("20 cards issued.")).to_be_visible()

        self.assertEqual(before, 0, "nothing counts before all are issued")
        self.assertEqual(Card.objects.filter(holder__department__name="Turbine Crew").count(), 20)

    def test_a_department_gets_new_cards_and_its_old_ones_come_back(self) -> None:
        page = self.page
        held = Card.objects.filter(
            holder__department__name="Wet Lab", status__in=["issued", "suspended"]
        )
        before = held.count()
        self.go("/cards/row")
        self.choose("Department and below", "Wet Lab")
        self.choose("Cards they have", "one, which comes back here")
        page.get_by_role("button", name="Line them up").click()
        people = page.locator("li.person")
        expect(people.first).to_contain_text(re.compile(r"87-0\d{4}"))
        expect(page.get_by_text("Show a card, or fill the row from a box")).to_be_visible()
        self.show_at("Reception desk", 40_400, facility_code=5)
        expect(page.get_by_text("has facility code 5. It was taken")).to_be_visible()
        self.assert_accessible()
        page.reload()
        expect(people.first).to_contain_text("5-40400")
        page.get_by_role("button", name="Take the card away").click()
        self.show_at("Reception desk", 40_401)
        expect(people.first).to_contain_text("87-40401")
        expect(page.get_by_text("The old card is returned.")).to_be_visible()
        page.get_by_role("button", name="Issue one").click()
        expect(page.get_by_text("One card issued.")).to_be_visible()

        self.assertEqual(held.count(), before, "one went out and one came in")
        self.assertTrue(held.filter(card_number=40_401).exists())

    def test_a_list_of_pins_is_made_sealed_and_opened_once(self) -> None:
        page = self.page
        self.go("/cards/pins")
        self.choose("Make PINs for", "Wet Lab")
        page.get_by_role("button", name="Generate them").click()
        expect(page.get_by_text("sealed", exact=True)).to_be_visible()
        page.get_by_role("button", name="Open once").click()
        page.get_by_role("alertdialog").get_by_role("button", name="Open once").click()
        slips = page.locator("li.slip")
        expect(slips.first.locator("b")).to_have_text(re.compile(r"^\d{6}$"))
        self.assertGreater(slips.count(), 10)
        self.assert_accessible()

        expect(page.get_by_role("button", name="Open once")).to_have_count(0)

    def test_what_a_reader_takes_is_set_up_and_said_at_once(self) -> None:
        page = self.page
        self.go("/setup/readers")
        page.get_by_role("button", name="Office Wing Offices").click()
        page.get_by_label("Keypad", exact=True).check()
        page.get_by_role("combobox", name="Together with card").click()
        page.get_by_role("option", name="PIN").click()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("button", name="Office Wing Offices")).to_contain_text(
            "Card and PIN"
        )

        self.go("/cardholders/1")
        expect(page.get_by_role("button", name="Set a PIN")).to_be_visible()
