"""Two operators with unlike roles and scopes at work, in English and in German; the journal tells
the story of it.
"""

import pyotp
from django.core.cache import cache
from playwright.sync_api import Page, expect

from cadrin.access.models import Membership
from cadrin.core.credentials.card.life import CardStatus
from cadrin.credentials.models import Card
from cadrin.demo.loading import PASSWORD
from cadrin.journal.checking import check_journal
from cadrin.operators.models import Operator
from cadrin.people.models import Cardholder
from tests.browser.base import BrowserTest
from tests.running import until


class OperatorsAtWork(BrowserTest):
    def test_a_badging_desk_in_german_and_a_reception_in_english_each_do_theirs(self) -> None:
        desk, reception, auditor = (
            self.a_page(username) for username in ("jorun", "kester", "maren")
        )
        enrolled = self.enrol_in_german(desk)
        suspended = self.suspend_at_the_reception(reception)

        # the auditor reads what both did, and may take nothing back
        self.go("/activity/journal", auditor)
        story = auditor.get_by_role("row")
        line = story.filter(has_text="Jorun Falk").filter(has_text="Enrolled")
        expect(line).to_contain_text(enrolled.display_name)
        expect(line).to_contain_text("127.0.0.1")
        suspending = story.filter(has_text="Kester Norquay").filter(has_text="Card changed")
        expect(suspending).to_contain_text("status: Issued → Suspended")
        expect(suspending).to_contain_text(suspended.display_name)
        expect(auditor.get_by_role("button", name="Undo")).to_have_count(0)

        # an administrator takes one of them back, in one act
        self.go("/activity/journal")
        self.page.get_by_role("row").filter(has_text="Card changed").get_by_role(
            "button", name="Undo"
        ).click()
        self.page.get_by_role("alertdialog").get_by_role("button", name="Undo").click()
        expect(
            self.page.get_by_role("row")
            .filter(has_text="Ines Carnmore")
            .filter(has_text="Card changed")
        ).to_have_count(1)
        self.assertEqual(
            Card.objects.filter(holder=suspended, status=CardStatus.SUSPENDED).count(), 0
        )
        self.assertIsNone(check_journal().broken)

    def enrol_in_german(self, page: Page) -> Cardholder:
        """Enrol somebody as the badging desk of the Tidal Array does, who sees nobody else."""
        self.go("/cardholders", page)
        expect(page.get_by_text("40 Karteninhaber", exact=True)).to_be_visible()
        page.get_by_role("button", name="Neuer Karteninhaber").click()
        page.get_by_label("Vorname").fill("Kjell")
        page.get_by_label("Nachname").fill("Åsgard")
        self.choose_in(page, "Abteilung", "Turbine Crew")
        # what the department proposes comes above, and moves what is below
        expect(page.get_by_role("button", name="Übernehmen")).to_be_visible()
        groups = page.get_by_role("combobox", name="Zutrittsgruppe hinzufügen")
        groups.click()  # brings it into view first: a list closes when what is around it scrolls
        groups.fill("turb")
        page.get_by_role("option", name="Turbine Crew").first.click()
        page.get_by_role("button", name="Speichern", exact=True).click()
        page.get_by_role("button", name="Trotzdem speichern").click()
        expect(page.get_by_text("Gespeichert.").first).to_be_visible()
        person = Cardholder.objects.get(last_name="Åsgard")
        self.assertEqual(Membership.objects.filter(cardholder=person).count(), 1)
        # somebody of the office is not there, not even by their address
        outside = Cardholder.objects.filter(department__name="Station Office").first()
        self.go(f"/cardholders/{outside.pk if outside else 0}", page)
        expect(page.get_by_text("Diesen Karteninhaber gibt es nicht mehr.")).to_be_visible()
        return person

    def suspend_at_the_reception(self, page: Page) -> Cardholder:
        """Suspend a card as the reception of Ardle Slip does, who may look up and no more."""
        self.go("/cardholders", page)
        expect(page.get_by_role("link", name="Gerda Barrowmere")).to_be_visible()
        expect(page.get_by_role("button", name="New cardholder")).to_have_count(0)
        page.get_by_role("link", name="Gerda Barrowmere").click()
        expect(page.get_by_label("First name")).to_be_disabled()
        page.get_by_role("button", name="Suspend card").click()
        page.get_by_role("alertdialog").get_by_role("button", name="Suspend").click()
        expect(page.get_by_text("Suspended").first).to_be_visible()
        person = Cardholder.objects.get(first_name="Gerda", last_name="Barrowmere")
        until(
            lambda: Card.objects.filter(holder=person, status=CardStatus.SUSPENDED).exists(),
            "it is suspended",
        )
        return person

    def choose_in(self, page: Page, label: str, option: str) -> None:
        page.get_by_role("combobox", name=label).first.click()
        page.get_by_role("option", name=option).first.click()

    def test_a_role_that_loses_a_permission_loses_it_while_its_operator_is_at_work(self) -> None:
        page = self.a_page("kester")
        self.go("/cardholders", page)
        page.get_by_role("link", name="Gerda Barrowmere").click()
        expect(page.get_by_role("button", name="Suspend card")).to_be_visible()

        self.go("/setup/roles")
        self.page.get_by_role("button", name="Reception").click()
        self.page.get_by_label("Suspend a card").uncheck()
        self.page.get_by_role("button", name="Save", exact=True).click()
        expect(self.page.get_by_text("Saved.")).to_be_visible()
        page.get_by_role("button", name="Suspend card").click()
        page.get_by_role("alertdialog").get_by_role("button", name="Suspend").click()

        expect(page.get_by_role("button", name="Suspend card")).to_have_count(0)
        self.assertFalse(
            Card.objects.filter(
                holder__last_name="Barrowmere", status=CardStatus.SUSPENDED
            ).exists()
        )


class ComingIn(BrowserTest):
    def setUp(self) -> None:
        cache.clear()  # of the limit of tries by address
        super().setUp()

    def test_a_new_operator_sets_a_password_by_a_link_and_turns_one_time_codes_on(self) -> None:
        admin, new = self.page, self.a_page()
        self.go("/setup/operators?id=new")
        admin.get_by_label("First name").fill("Edda")
        admin.get_by_label("Signs in as").fill("edda")
        admin.get_by_role("combobox", name="Role").click()
        admin.get_by_role("option", name="Auditor").click()
        admin.get_by_role("button", name="Save", exact=True).click()
        admin.get_by_role("button", name="Link to set a password").click()
        link = admin.locator(".once .mono").inner_text()

        new.goto(link.replace(self.live_server_url, ""))
        new.get_by_label("New password").fill("short")
        new.get_by_role("button", name="Set the password").click()
        expect(new.get_by_text("At least 12 characters.")).to_be_visible()
        self.assert_accessible(new)
        new.get_by_label("New password").fill("harbour-and-quay-7")
        new.get_by_role("button", name="Set the password").click()
        expect(new.get_by_text("The password is set.")).to_be_visible()
        self.sign_in(new, "edda", password="harbour-and-quay-7")

        self.go("/account", new)
        new.get_by_role("button", name="Turn on").click()
        secret = new.locator(".secret").inner_text()
        self.assert_accessible(new)
        new.get_by_label("Code", exact=True).fill(pyotp.TOTP(secret).now())
        new.get_by_role("button", name="Confirm").click()
        recovery = new.locator(".codes li").first.inner_text()
        new.get_by_role("button", name="I have kept them").click()
        new.get_by_role("button", name="Sign out").click()
        new.get_by_label("Operator").fill("edda")
        new.get_by_label("Password").fill("harbour-and-quay-7")
        new.keyboard.press("Enter")
        new.get_by_label("One-time code").fill(recovery)
        new.keyboard.press("Enter")

        expect(new.get_by_role("navigation", name="Sections")).to_be_visible()
        self.assertEqual(str(Operator.objects.get(username="edda").role), "Auditor")

    def test_wrong_passwords_lead_to_a_wait_that_is_told(self) -> None:
        page = self.a_page()
        self.go("/", page)
        page.get_by_label("Operator").fill("tomas")
        for _ in range(6):
            page.get_by_label("Password").fill("guess")
            with page.expect_response(
                lambda answer: "/api/session/" in answer.url and answer.request.method == "POST"
            ):
                page.keyboard.press("Enter")

        expect(page.get_by_text("Too many wrong passwords.")).to_be_visible()

    def test_the_language_is_chosen_before_and_after_signing_in(self) -> None:
        page = self.a_page()
        self.go("/", page)
        page.get_by_role("button", name="Deutsch").click()
        expect(page.get_by_role("heading", name="Bei Cadrin anmelden")).to_be_visible()
        self.assert_accessible(page)
        page.get_by_label("Bediener").fill("tomas")
        page.get_by_label("Passwort").fill(PASSWORD)
        page.keyboard.press("Enter")
        # the operator's own language is the one that counts from here on
        expect(page.get_by_role("navigation", name="Sections")).to_be_visible()
        page.get_by_role("link", name="Tomas Reve").click()
        page.get_by_role("button", name="Deutsch").click()

        expect(page.get_by_role("navigation", name="Bereiche")).to_be_visible()
        self.assertEqual(Operator.objects.get(username="tomas").language, "de")

    def test_a_script_gets_a_key_that_is_shown_once(self) -> None:
        page = self.page
        self.go("/setup/tokens")
        page.get_by_role("button", name="New token").click()
        page.get_by_label("What it is for").fill("Payroll")
        page.get_by_role("combobox", name="Role").click()
        page.get_by_role("option", name="Auditor").click()
        page.get_by_role("button", name="Make the token").click()
        key = page.locator(".once .mono").inner_text()
        self.assertTrue(key.startswith("cadrin_"))
        page.locator("main").get_by_role("button", name="Close", exact=True).click()

        expect(page.get_by_text("not used yet")).to_be_visible()
        page.get_by_role("button", name="Withdraw: Payroll").click()
        page.get_by_role("alertdialog").get_by_role("button", name="Withdraw").click()
        expect(page.get_by_text("withdrawn")).to_be_visible()
