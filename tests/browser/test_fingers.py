"""Fingers in the real interface: consent, taking them, opening doors with them, and letting go."""

import re
from typing import Any

from playwright.sync_api import Locator, expect

from cadrin.biometrics.models import Consent, Template
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.made_up.laying import seed_of
from cadrin.delivery.models import Record
from cadrin.sites.models import Reader
from tests.browser.base import BrowserTest
from tests.running import until

RIGHT, LEFT, FACE = 900, 901, 903
"""Seeds of fingers and a face that nobody in the demo has."""


class Fingers(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.readers = dict(Reader.objects.values_list("name", "id"))
        self.fingers = self.page.get_by_role("region", name="Fingers and face")

    def lay(self, reader: str, seed: int, how: str = "well") -> dict[str, Any]:
        """Lay a made-up finger, as the test bench does."""
        body = {
            "reader": self.readers[reader],
            "raw": "",
            "finger": {"seed": seed, "how": how},
        }
        return self.standins.ask("POST", "/bench/reads", body)

    def finger(self, name: str) -> Locator:
        return self.fingers.get_by_role("radio", name=re.compile(name))

    def consent_by_tick(self) -> None:
        self.fingers.get_by_role("button", name="Take consent").click()
        dialog = self.page.get_by_role("dialog", name="Take consent")
        dialog.get_by_role("combobox", name="How").click()
        self.page.get_by_role("option", name="ticked on the screen").click()
        dialog.get_by_role("checkbox", name="The person in front of me").check()
        self.assert_accessible()
        dialog.get_by_role("button", name="Take consent").click()
        expect(self.fingers).to_contain_text("To be saved: ticked on the screen")

    def take(self, name: str, seed: int) -> None:
        self.finger(name).click()
        self.fingers.get_by_role("button", name="Take this finger").click()
        for taken in range(3):
            expect(self.fingers).to_contain_text(f"Press {taken} of 3")
            self.lay("Reception desk", seed)
        expect(self.fingers).to_contain_text("taken, not saved yet")

    def test_somebody_is_enrolled_with_card_pin_two_fingers_and_a_face_in_one_save_and_comes_in(
        self,
    ) -> None:
        page = self.page
        self.go("/")
        self.show_at("Reception desk", 40_300)
        page.keyboard.press("n")
        expect(page.get_by_label("First name")).to_be_focused()
        page.keyboard.type("Sanna")
        page.keyboard.press("Tab")
        page.keyboard.type("Holmqvist")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("u")
        page.get_by_role("button", name="Generate").click()
        expect(self.fingers.get_by_text("No consent is in force")).to_be_visible()
        self.consent_by_tick()
        self.take("right index finger", RIGHT)
        self.take("left index finger", LEFT)
        self.fingers.get_by_label("Under threat").check()
        self.show_face(FACE)
        self.assert_accessible()
        self.choose("Add an access group", "Vessels")
        page.keyboard.press("Control+s")
        page.get_by_role("dialog", name="The new PIN").get_by_role(
            "button", name="Close"
        ).last.click()
        expect(page.get_by_text("Saved. Held at")).to_be_visible()

        self.assertEqual(Template.objects.filter(holder__last_name="Holmqvist").count(), 3)
        opened = self.lay("Boat Shed", RIGHT)
        self.assertEqual((opened["reason"], opened["name"]), ("granted", "Sanna Holmqvist"))
        threatened = self.lay("Boat Shed", LEFT)
        self.assertEqual((threatened["reason"], threatened["duress"]), ("granted", True))
        self.assertEqual(self.lay("Boat Shed", 902)["reason"], "unknown_finger")
        self.go("/")
        expect(page.get_by_role("heading", name="Alarms at doors")).to_be_visible()

    def show_face(self, seed: int) -> None:
        """Take a face at the desk's reader."""
        self.fingers.get_by_role("button", name="Take a face").click()
        expect(self.fingers).to_contain_text("Look into Reception desk.")
        body = {
            "reader": self.readers["Reception desk"],
            "raw": "",
            "face": {"seed": seed, "how": "as_it_is"},
        }
        self.standins.ask("POST", "/bench/reads", body)
        expect(self.fingers).to_contain_text("Best picture so far")
        self.fingers.get_by_role("button", name="Use it").click()
        expect(self.fingers).to_contain_text("Face 1")

    def test_a_poor_press_is_refused_with_advice_and_less_may_be_asked_with_a_reason(self) -> None:
        template = Template.objects.order_by("id")[0]
        self.go(f"/cardholders/{template.holder_id}")
        self.finger("left thumb").click()
        self.fingers.get_by_role("button", name="Take this finger").click()
        expect(self.fingers).to_contain_text("Press 0 of 3")

        self.lay("Reception desk", RIGHT, "dry")

        expect(self.fingers.get_by_role("status")).to_contain_text("The finger is dry.")
        expect(self.fingers.get_by_role("status")).to_contain_text("at least 60 is needed")
        expect(self.fingers.get_by_role("img", name="Picture of the latest press")).to_be_visible()
        expect(self.fingers).to_contain_text("Press 0 of 3")
        self.assert_accessible()
        self.fingers.get_by_role("button", name="Ask for less of this finger").click()
        self.fingers.get_by_label("Least quality").click()
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type("20")
        self.fingers.get_by_label("Why less is enough").fill("worn by ropes")
        self.fingers.get_by_role("button", name="Ask for less of this finger").click()
        expect(self.fingers).to_contain_text("Less is asked of this finger: 20.")
        self.lay("Reception desk", RIGHT, "dry")
        expect(self.fingers).to_contain_text("Press 1 of 3")

    def test_a_reader_that_goes_away_between_presses_is_said_and_nothing_is_lost(self) -> None:
        template = Template.objects.order_by("id")[0]
        desks = Reader.objects.get(name="Reception desk").controller_id
        self.go(f"/cardholders/{template.holder_id}")
        self.finger("left thumb").click()
        self.fingers.get_by_role("button", name="Take this finger").click()
        expect(self.fingers).to_contain_text("Press 0 of 3")
        self.lay("Reception desk", RIGHT)
        expect(self.fingers).to_contain_text("Press 1 of 3")

        self.standins.switch(desks, is_on=False)

        expect(self.fingers.get_by_role("alert")).to_contain_text("has not answered since")
        self.standins.switch(desks, is_on=True)
        expect(self.fingers.get_by_role("alert")).to_have_count(0)
        self.lay("Reception desk", RIGHT)
        expect(self.fingers).to_contain_text("Press 2 of 3")

    def test_the_same_finger_under_a_second_name_is_found(self) -> None:
        known = Template.objects.order_by("id")[0]
        other = Template.objects.exclude(holder_id=known.holder_id).first()
        assert other
        self.go(f"/cardholders/{other.holder_id}")

        self.take("left little finger", seed_of(known.holder_id, Finger(known.position)))

        name = known.holder.display_name
        expect(self.fingers.get_by_text(re.compile(f"^This is {name}\u2019s"))).to_be_visible()
        expect(self.fingers.get_by_role("link", name=name)).to_be_visible()
        self.page.keyboard.press("Control+s")
        expect(self.page.get_by_text("Saved.")).to_have_count(0)
        self.assertFalse(
            Template.objects.filter(holder_id=other.holder_id, position=Finger.LEFT_LITTLE).exists()
        )

    def test_consent_is_withdrawn_and_every_reader_is_empty_of_it(self) -> None:
        template = Template.objects.order_by("id")[0]
        seed = seed_of(template.holder_id, Finger(template.position))
        until(
            lambda: not Record.objects.exclude(state="held").exclude(controller_id=3).exists(),
            "everything is at its controllers",
        )
        self.go(f"/cardholders/{template.holder_id}")
        expect(self.finger("right index finger: enrolled")).to_be_visible()
        self.fingers.get_by_role("button", name="Withdraw").click()
        ask = self.page.get_by_role("alertdialog", name="Withdraw")
        self.assert_accessible()
        ask.get_by_role("button", name="Withdraw").click()

        expect(self.fingers).to_contain_text("No consent is in force")
        expect(self.finger("right index finger: not enrolled")).to_be_visible()
        expect(self.fingers).to_contain_text(re.compile("every controller confirmed"))
        self.assertFalse(Template.objects.filter(holder_id=template.holder_id).exists())
        self.assertIsNotNone(Consent.objects.get(holder_id=template.holder_id).gone_at)
        self.assertEqual(self.lay("Boat Shed", seed)["reason"], "unknown_finger")

    def test_a_finger_is_suspended_and_the_list_of_credentials_says_where_it_is_held(self) -> None:
        page = self.page
        template = Template.objects.filter(position=Finger.RIGHT_INDEX).order_by("id")[0]
        seed = seed_of(template.holder_id, Finger.RIGHT_INDEX)
        self.go(f"/cardholders/{template.holder_id}")
        listed = page.get_by_role("region", name="Credentials")
        line = listed.get_by_role("row", name="right index finger")
        expect(line).to_contain_text("held by its controller")

        line.get_by_role("button", name="right index finger").click()
        self.fingers.get_by_label("Suspended").check()
        expect(line).to_contain_text("suspended")
        page.keyboard.press("Control+s")
        expect(page.get_by_text("Saved. Held at")).to_be_visible()

        expect(line).to_contain_text("held by 0 of")
        self.assertEqual(self.lay("Boat Shed", seed)["reason"], "unknown_finger")
        self.assert_accessible()

    def test_a_reader_asks_for_a_finger_and_says_first_who_lacks_one(self) -> None:
        page = self.page
        self.go("/setup/readers")
        page.get_by_role("button", name=re.compile("^Boat Shed")).click()
        form = page.locator("form.editor")
        form.get_by_role("button", name="Without the card (card)").click()
        asked = form.get_by_role("group", name="Asks for")
        asked.get_by_role("combobox", name="Together with finger").click()
        page.get_by_role("option", name="PIN").click()
        expect(asked).to_contain_text(re.compile("finger.*and.*PIN"))
        asked.get_by_role("button", name="Without the PIN (finger and PIN)").click()
        expect(form.get_by_text(re.compile("Once saved, .* lack a finger."))).to_be_visible()
        form.get_by_role("button", name="Something else at other hours").click()
        expect(form.get_by_role("combobox", name="during")).to_be_visible()
        self.assert_accessible()
        form.get_by_role("button", name="Save").click()
        expect(page.get_by_role("button", name=re.compile("^Boat Shed"))).to_contain_text("Finger")
        reader = Reader.objects.get(name="Boat Shed")
        self.assertEqual((reader.policy, len(reader.policy_by_hours)), ([["finger"]], 1))
