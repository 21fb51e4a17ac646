"""What is around every page: its title, its keys, the sign-in over it, and a server that went away."""

from playwright.sync_api import expect

from tests.browser.base import BrowserTest

SOMEBODY = 12


class Frame(BrowserTest):
    def test_each_page_has_a_title_and_an_address_that_leads_nowhere_says_so(self) -> None:
        page = self.page
        self.go("/")
        expect(page).to_have_title("Desk · Cadrin")
        self.go(f"/cardholders/{SOMEBODY}")
        name = page.get_by_role("heading", level=1).inner_text()
        expect(page).to_have_title(f"{name} · Cardholders · Cadrin")
        self.go("/no/such/page")
        expect(page).to_have_title("Cadrin")
        expect(page.get_by_text("Nothing is at /no/such/page.")).to_be_visible()
        self.assert_accessible()

    def test_the_work_is_the_first_stop_and_letters_can_be_switched_off(self) -> None:
        page = self.page
        self.go("/")
        expect(page.get_by_role("heading", name="Desk")).to_be_visible()
        page.keyboard.press("Tab")
        expect(page.get_by_role("link", name="Skip to the work")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.get_by_role("main")).to_be_focused()

        page.keyboard.press("?")
        page.get_by_label("Letters act as keys").uncheck()
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
        page.keyboard.press("b")
        expect(page.get_by_role("region", name="Test bench")).to_have_count(0)

    def test_signs_written_with_altgr_are_no_keys(self) -> None:
        page = self.page
        self.go("/cardholders/new")
        number = page.get_by_label("Number", exact=True)
        expect(page.get_by_label("First name")).to_be_focused()
        number.focus()
        # AltGr comes as Ctrl and Alt together: what it writes belongs to the field
        page.keyboard.press("Control+Alt+5")
        expect(number).to_be_focused()
        page.keyboard.press("Alt+5")
        expect(page.get_by_role("combobox", name="Add an access group")).to_be_focused()

    def test_nothing_beneath_the_sign_in_can_be_reached(self) -> None:
        page = self.page
        self.go(f"/cardholders/{SOMEBODY}")
        expect(page.get_by_label("First name")).to_be_visible()
        page.context.clear_cookies(name="sessionid")
        expect(page.get_by_role("heading", name="Sign in")).to_be_visible()

        for _ in range(30):
            page.keyboard.press("Tab")
            is_beneath = page.evaluate("!!document.activeElement.closest('.frame')")
            self.assertFalse(is_beneath)
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("b")
        page.keyboard.press("n")
        self.assertTrue(page.url.endswith(f"/cardholders/{SOMEBODY}"), page.url)

    def test_words_that_could_not_be_fetched_are_fetched_when_they_are_needed(self) -> None:
        page = self.a_page("ines")
        page.route("**/rest-*.js", lambda route: route.abort())
        self.go("/", page)
        page.get_by_role("link", name="Cardholders").click()
        expect(page.get_by_text("This part could not be loaded.")).to_be_visible()
        page.unroute("**/rest-*.js")
        page.get_by_role("link", name="Cardholders").click()
        expect(page.get_by_role("button", name="Bring in a list")).to_be_visible()
