"""Bad input gets its error beside its field, and nothing that was typed is lost."""

import re
from contextlib import suppress

from playwright.sync_api import APIResponse, Page, Route, expect
from playwright.sync_api import Error as PlaywrightError

from cadrin.access.models import AccessGroup
from cadrin.people.models import Cardholder
from cadrin.sites.models import Schedule
from tests.browser.base import BrowserTest
from tests.running import until

SAVING_SOMEBODY_NEW = re.compile(r"/api/cardholders/new/")


class BadInput(BrowserTest):
    def test_every_problem_is_beside_its_field_and_nothing_is_saved(self) -> None:
        page = self.page
        self.go("/")
        people = Cardholder.objects.count()
        page.keyboard.press("n")
        expect(page.get_by_label("First name")).to_be_focused()

        page.keyboard.press("Control+s")
        page.get_by_label("E-mail").fill("nowhere")
        page.get_by_label("Number", exact=True).fill("s-00001")
        page.get_by_label("Activation").first.fill("2.12.2026")
        page.get_by_label("Expiry", exact=True).fill("1.12.2026")
        page.keyboard.press("Tab")
        page.get_by_role("region", name="Cards").get_by_role("button", name="Type it").click()
        page.get_by_label("Facility code").fill("87")
        page.get_by_label("Card number").fill("99999")

        for label, told in (
            ("Last name", "A cardholder needs a first or a last name."),
            ("E-mail", "This is no e-mail address."),
            ("Number", "Number S-00001 is"),
            ("Expiry", "The expiry must be after the activation."),
            ("Card number", "From 0 to 65535 in this format."),
        ):
            field = page.get_by_label(label, exact=True)
            told_at = field.get_attribute("aria-describedby")
            with self.subTest(label):
                expect(page.get_by_text(told)).to_be_visible()
                told_at = field.get_attribute("aria-describedby")
                self.assertIn(told, page.locator(f"[id='{told_at}']").inner_text())
        page.get_by_label("Card number").fill("4601")
        expect(page.get_by_text("Card 87-04601 is already issued to")).to_be_visible()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("status").filter(has_text="Not saved")).to_be_visible()
        self.assertEqual(Cardholder.objects.count(), people)
        self.assert_accessible()

    def test_a_refusal_that_comes_late_takes_nothing_from_whoever_types_on(self) -> None:
        page, held = self.page, []
        self.go("/cardholders/new")
        expect(page.get_by_label("First name")).to_be_focused()
        expect(page.get_by_role("region", name="Reach")).to_be_visible()
        page.route(SAVING_SOMEBODY_NEW, lambda route: held.append(route))
        with page.expect_request(SAVING_SOMEBODY_NEW):
            page.keyboard.press("Control+s")
        page.get_by_label("E-mail").click()
        page.keyboard.type("now")
        with page.expect_response(SAVING_SOMEBODY_NEW):
            held[0].continue_()
        expect(page.get_by_role("status").filter(has_text="Not saved")).to_be_visible()
        page.keyboard.type("here")

        expect(page.get_by_label("E-mail")).to_have_value("nowhere")
        expect(page.get_by_label("First name")).to_have_value("")

    def test_what_is_typed_survives_a_reload_and_is_offered_at_the_desk(self) -> None:
        page = self.page
        self.go("/cardholders/12")
        page.get_by_label("Remarks").fill("Left-handed")
        page.evaluate("document.activeElement.blur()")
        expect(page.get_by_text("Changes not saved")).to_be_visible()
        page.keyboard.press("g")
        page.keyboard.press("d")
        expect(page.get_by_role("heading", name="Drafts not saved")).to_be_visible()

        page.goto("/cardholders/12")

        expect(page.get_by_label("Remarks")).to_have_value("Left-handed")
        expect(page.get_by_text("was kept and is shown here, not saved yet")).to_be_visible()
        page.get_by_role("button", name="Discard").click()
        expect(page.get_by_label("Remarks")).to_have_value("")

    def test_a_draft_is_offered_though_the_desk_was_asked_for_before_it_was_kept(self) -> None:
        page = self.page
        self.go("/cardholders/12")
        expect(page.get_by_label("Remarks")).to_be_visible()
        asked: list[tuple[Route, APIResponse]] = []
        kept: list[Route] = []

        def hold(route: Route) -> None:
            if asked:
                route.continue_()
            else:
                # told before the draft is kept, and heard of after it
                asked.append((route, route.fetch()))

        page.route("**/api/drafts/", hold)
        page.route("**/api/drafts/12/", lambda route: kept.append(route))
        page.get_by_label("Remarks").fill("Left-handed")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("g")
        page.keyboard.press("d")
        self.until_asked(asked, kept)
        with page.expect_response("**/api/drafts/12/"):
            kept[0].continue_()
        page.wait_for_timeout(100)
        route, told_before = asked[0]
        with suppress(PlaywrightError):  # whoever asked may not wait for it any more
            route.fulfill(response=told_before)

        expect(page.get_by_role("heading", name="Drafts not saved")).to_be_visible()

    def two_at(self, path: str) -> tuple[Page, Page]:
        mine, theirs = self.page, self.a_page("tomas")
        for page in (mine, theirs):
            self.go(path, page)
            expect(page.get_by_label("Title")).to_be_visible()
        return mine, theirs

    def test_two_operators_see_each_other_and_what_does_not_clash_is_merged(self) -> None:
        mine, theirs = self.two_at("/cardholders/12")
        expect(theirs.get_by_text("Ines Carnmore has this cardholder open too.")).to_be_visible()
        theirs.get_by_label("Title").fill("Skipper")
        theirs.keyboard.press("Control+s")
        expect(theirs.get_by_text("Saved. Held at")).to_be_visible()

        mine.get_by_label("Remarks").fill("Left-handed")
        mine.keyboard.press("Control+s")

        expect(
            mine.get_by_text("Merged with what Tomas Reve saved: title: Skipper")
        ).to_be_visible()
        expect(mine.get_by_label("Title")).to_have_value("Skipper")
        saved = Cardholder.objects.get(pk=12)
        self.assertEqual((saved.title, saved.remarks), ("Skipper", "Left-handed"))

    def test_the_second_of_two_operators_is_asked_about_what_clashes_and_keeps_what_they_typed(
        self,
    ) -> None:
        mine, theirs = self.two_at("/cardholders/12")
        theirs.get_by_label("Title").fill("Skipper")
        theirs.keyboard.press("Control+s")
        expect(theirs.get_by_text("Saved. Held at")).to_be_visible()

        mine.get_by_label("Title").fill("Bosun")
        mine.keyboard.press("Control+s")

        dialog = mine.get_by_role("dialog")
        expect(dialog).to_contain_text("Tomas Reve")
        expect(dialog).to_contain_text("title: you wrote “Bosun”, they saved “Skipper”")
        self.assertEqual(Cardholder.objects.get(pk=12).title, "Skipper")
        dialog.get_by_role("button", name="Keep mine on top of theirs").click()
        expect(mine.get_by_label("Title")).to_have_value("Bosun")
        mine.keyboard.press("Control+s")
        expect(mine.get_by_text("Saved. Held at")).to_be_visible()
        self.assertEqual(Cardholder.objects.get(pk=12).title, "Bosun")

    def test_a_session_that_ended_asks_to_sign_in_again_and_loses_nothing(self) -> None:
        page = self.page
        self.go("/cardholders/12")
        page.get_by_label("Remarks").fill("Left-handed")
        expect(page.get_by_text("Changes not saved")).to_be_visible()
        page.get_by_label("Title").fill("Skipper")

        # whatever the page asks next is refused, and nothing beneath the sign-in can be typed into
        page.context.clear_cookies()

        expect(page.get_by_text("Your session has ended")).to_be_visible()
        page.get_by_label("Operator").fill("ines")
        page.get_by_label("Password").fill("skerrow-point")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Your session has ended")).to_be_hidden()
        expect(page.get_by_label("Remarks")).to_have_value("Left-handed")
        expect(page.get_by_label("Title")).to_have_value("Skipper")
        page.keyboard.press("Control+s")
        expect(page.get_by_text("Saved. Held at")).to_be_visible()

    def test_groups_and_schedules_show_what_is_wrong_and_what_would_change(self) -> None:
        page = self.page
        self.go("/access/schedules/new")
        page.get_by_label("Name").fill("Night")
        page.get_by_label("Time zone").fill("Moon/Crater")
        page.get_by_label("Monday", exact=True).fill("08:00-12:00, 11:00-13:00")
        page.get_by_label("Tuesday", exact=True).fill("whenever")
        expect(page.get_by_text("Not readable.")).to_be_visible()
        page.get_by_label("Tuesday", exact=True).fill("22:00-06:00")
        page.keyboard.press("Control+s")
        expect(page.get_by_text("These hours overlap others.")).to_be_visible()
        expect(page.get_by_text("There is no time zone called “Moon/Crater”.")).to_be_visible()
        self.assert_accessible()
        page.get_by_label("Monday", exact=True).fill("22:00-06:00")
        page.get_by_label("Time zone").fill("Europe/London")
        page.keyboard.press("Control+s")
        expect(page.get_by_role("link", name="Night")).to_be_visible()
        self.assertEqual(
            Schedule.objects.get(name="Night").hours, [[0, 1320, 1800], [1, 1320, 1800]]
        )

        self.go("/access/groups")
        page.get_by_role("link", name="Pumps").click()
        page.get_by_role("button", name="Add a door").click()
        expect(page.get_by_text("Opens 1 door")).to_be_visible()
        expect(page.get_by_text("for 5 people")).to_be_visible()
        expect(page.get_by_text("Headland North (6 records)")).to_be_visible()
        page.get_by_role("button", name="Save", exact=True).click()
        until(
            lambda: AccessGroup.objects.get(name="Pumps").grants.count() == 3, "the door is added"
        )
        page.get_by_role("button", name="Remove the group").click()
        expect(page.get_by_text("There are 5 people in the group.")).to_be_visible()
