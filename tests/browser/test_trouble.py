"""What a person at the desk is told when something does not work, and what they keep and leave
behind.
"""

from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from cadrin.credentials.models import Card
from cadrin.delivery.models import Beat
from cadrin.enrolment.commands.cards import suspend_card
from cadrin.enrolment.models import KeptDraft
from cadrin.operators.actor import system_actor
from cadrin.people.models import Cardholder
from tests.browser.base import BrowserTest
from tests.running import until

IN_VESSELS = 12
SOUTH = 2


class Trouble(BrowserTest):
    def test_a_worker_that_has_ended_is_told_everywhere(self) -> None:
        page = self.page
        until(lambda: Beat.objects.exists(), "the worker has been at work")
        self.worker.stop()
        Beat.objects.update(at=timezone.now() - timedelta(minutes=5))

        self.go("/")

        expect(
            page.get_by_role("alert").filter(has_text="Nothing is sent to doors")
        ).to_be_visible()
        deliveries = page.get_by_role("region", name="Deliveries in trouble")
        expect(deliveries).to_contain_text("has not run since")
        expect(page.get_by_text("Every controller answers and takes its records.")).to_have_count(0)
        page.get_by_role("alert").filter(has_text="Nothing is sent to doors").click()
        expect(page.get_by_text("The worker has not run since")).to_be_visible()
        self.assert_accessible()

        self.go(f"/cardholders/{IN_VESSELS}")
        page.get_by_label("Title").fill("Skipper")
        page.get_by_label("First name").fill("Skipper")
        page.keyboard.press("Control+s")
        expect(page.get_by_text("Saved. It waits: the worker has not run since")).to_be_visible()

    def test_a_card_that_still_works_at_a_silent_controller_is_told_where_it_matters(self) -> None:
        page = self.page
        self.go(f"/cardholders/{IN_VESSELS}")
        expect(page.get_by_text("Ready: doors will open.")).to_be_visible()
        self.standins.switch(SOUTH, is_on=False)

        card = Card.objects.get(holder_id=IN_VESSELS)
        identity = (card.format_id, card.facility_code, card.card_number)
        suspend_card(system_actor("The reception"), IN_VESSELS, identity, timezone.now())

        warned = page.get_by_role("alert").filter(
            has_text="They may still get in at Headland South"
        )
        expect(warned).to_be_visible()
        expect(page.get_by_text("an older record still counts there").first).to_be_visible()
        self.assert_accessible()
        self.go(f"/delivery?controller={SOUTH}")
        expect(page.get_by_text("their card may still open its doors").first).to_be_visible()
        self.go("/")
        expect(page.get_by_text("cards of one person may still open its doors")).to_be_visible()

        self.standins.switch(SOUTH, is_on=True)
        self.go(f"/cardholders/{IN_VESSELS}")
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        expect(warned).to_have_count(0)

    def test_an_open_list_follows_its_field_when_the_page_moves(self) -> None:
        page = self.page
        self.go(f"/cardholders/{IN_VESSELS}")
        groups = page.get_by_role("combobox", name="Add an access group")
        groups.click()
        groups.fill("dive")
        option = page.get_by_role("option", name="Dive Team").first
        expect(option).to_be_visible()
        before = option.bounding_box()

        # something comes above it, and the page is scrolled
        page.evaluate(
            """() => {
                const above = document.createElement('div')
                above.style.height = '90px'
                document.querySelector('.parts').prepend(above)
                document.querySelector('.parts').scrollBy(0, 30)
            }"""
        )

        page.wait_for_function(
            "top => document.querySelector('[role=option]').getBoundingClientRect().top !== top",
            arg=before["y"] if before else 0,
        )
        expect(option).to_be_visible()
        field, now = groups.bounding_box(), option.bounding_box()
        assert field and now
        self.assertLess(abs(now["y"] - field["y"]), 120, "it is still at its field")
        option.click()
        expect(page.get_by_text("Changes not saved")).to_be_visible()

    def test_nothing_of_a_draft_is_left_at_the_machine_after_signing_out(self) -> None:
        page = self.page
        self.go("/cardholders/new")
        page.get_by_label("First name").fill("Sanna")
        page.get_by_label("Last name").fill("Holmqvist")
        until(
            lambda: KeptDraft.objects.filter(name="Sanna Holmqvist").exists(), "the draft is kept"
        )

        page.get_by_role("button", name="Sign out").click()
        expect(page.get_by_role("heading", name="Sign in")).to_be_visible()

        kept = page.evaluate("JSON.stringify([{...localStorage}, {...sessionStorage}])")
        self.assertNotIn("Holmqvist", kept)
        self.assertNotIn("draft", kept)
        self.sign_in(page, "ines")
        self.go("/cardholders/new")
        expect(page.get_by_label("Last name")).to_have_value("")
        page.get_by_role("link", name="Sanna Holmqvist").click()
        expect(page.get_by_label("Last name")).to_have_value("Holmqvist")
        self.assertFalse(Cardholder.objects.filter(last_name="Holmqvist").exists())
