"""The jobs of a badging desk, done as a desk does them, with every act counted: a click, or a key
that is no part of what is typed. What is counted here stands in docs/desk-time.md.
"""

import re

from django.db.models import Count
from playwright.sync_api import Locator, expect

from cadrin.access.models import AccessGroup, Membership
from cadrin.core.credentials.card.life import CardStatus
from cadrin.credentials.models import Card
from cadrin.demo.portraits import portrait
from cadrin.operators.models import Operator
from cadrin.people.models import Cardholder, Company, CustomField, Department
from cadrin.photos.models import Image
from cadrin.sites.models import Reader
from tests.browser.base import BrowserTest, first_option, taken_by_enter
from tests.running import until

IN_VESSELS = 12
SOUTH = 2
"""The stand-in of a controller that holds them."""


class AtTheDesk(BrowserTest):
    """Counts what an operator does."""

    def setUp(self) -> None:
        super().setUp()
        self.acts = 0

    def click(self, what: Locator, **how: object) -> None:
        self.acts += 1
        what.click(**how)  # type: ignore[arg-type]

    def press(self, *keys: str) -> None:
        for key in keys:
            self.acts += 1
            self.page.keyboard.press(key)

    def button(self, name: str) -> None:
        self.click(self.page.get_by_role("button", name=name, exact=True).first)

    def pick(self, box: str, typed: str) -> None:
        """Go into a list, type, and take what begins with it: two acts."""
        self.click(self.page.get_by_role("combobox", name=box).first)
        self.take(typed)

    def take(self, typed: str) -> None:
        self.page.keyboard.type(typed, delay=40)  # as quick hands do
        expect(self.page.get_by_role("option", name=typed).first).to_be_visible()
        self.press("Enter")

    def find(self, name: str) -> None:
        """Come to somebody: a key, what they are called, and Enter."""
        self.press("/")
        self.page.keyboard.type(name)
        expect(taken_by_enter(self.page)).to_contain_text(name)  # not what was found before
        self.press("Enter")
        expect(self.page.get_by_role("heading", name=name)).to_be_visible()

    def saved(self, *, by: str = "Control+s") -> None:
        self.press(by)
        expect(self.page.get_by_text("Saved.").first).to_be_visible()

    def took(self, most: int) -> None:
        self.assertLessEqual(self.acts, most)


class Jobs(AtTheDesk):
    def test_somebody_who_comes_next_week_with_a_photo_and_a_card_of_the_stock(self) -> None:
        page = self.page
        self.go("/")
        self.press("n")
        page.keyboard.type("Sanna")
        self.press("Tab")
        page.keyboard.type("Holmqvist")
        photo = page.get_by_role("region", name="Photo")
        with page.expect_file_chooser() as chooser:
            self.click(photo.get_by_text("File", exact=True).first)
        chooser.value.set_files(
            {"name": "sanna.jpg", "mimeType": "image/jpeg", "buffer": portrait(7)}
        )
        self.acts += 1  # the picture is chosen in the browser's own window
        until(lambda: bool(page.locator("#photo img").count()), "the photo is there")
        self.pick("From stock", "05")
        self.pick("Add an access group", "Vessels")
        self.press("Alt+6")
        page.keyboard.type("7.12.2031")
        self.press("Tab")
        self.saved()

        sanna = Cardholder.objects.get(last_name="Holmqvist")
        self.assertEqual(sanna.activation_at and sanna.activation_at.year, 2031)
        self.assertTrue(Image.objects.filter(cardholder=sanna).exists())
        self.assertEqual((sanna.cards.count(), sanna.memberships.count()), (1, 1))
        self.took(11)

    def test_an_unknown_card_becomes_somebodys(self) -> None:
        page = self.page
        self.go("/")
        self.show_at("Reception desk", 40_611)
        card = page.locator("main").get_by_role("listitem").filter(has_text="87-40611")
        self.click(card.get_by_role("button", name=re.compile("^Give it to")))
        page.keyboard.type("Night watch")
        expect(first_option(page)).to_be_visible()
        self.press("Enter")
        expect(page.get_by_label("Card number")).to_have_value("40611")
        self.saved()

        self.assertTrue(Card.objects.filter(card_number=40_611, holder__last_name="Night watch"))
        self.took(3)

    def test_a_card_is_lost_left_at_home_and_found(self) -> None:
        page, holder = self.page, Cardholder.objects.get(cards__card_number=4751)
        self.go("/")
        with self.subTest("lost"):
            self.find(holder.display_name)
            self.button("Replace: 87-04751")
            self.click(page.get_by_role("button", name="Wait for the next").last)
            self.show_at("Reception desk", 40_621)
            expect(page.get_by_label("Card number").last).to_have_value("40621")
            self.saved()
            self.assertEqual(Card.objects.get(card_number=4751).status, CardStatus.LOST)
            self.took(5)
        with self.subTest("found"):
            self.acts = 0
            self.go("/")
            self.show_at("Reception desk", 4751)
            self.click(self.strip().get_by_role("button").filter(has_text="87-04751").first)
            self.button("Back in use: 87-04751")
            self.saved()
            found = Card.objects.filter(card_number=4751, status=CardStatus.ISSUED)
            until(found.exists, "the card is back")
            self.took(3)
        with self.subTest("left at home"):
            self.acts = 0
            self.go("/")
            self.find("Night watch")
            self.click(page.get_by_role("checkbox", name="Only for today"))
            self.show_at("Reception desk", 40_622)
            expect(self.strip()).to_contain_text("87-40622")
            self.press("u")
            self.saved()
            lent = Card.objects.filter(card_number=40_622, is_temporary=True)
            until(lent.exists, "a card is lent for the day")
            self.took(5)

    def test_thirty_cards_are_handed_out(self) -> None:
        page = self.page
        self.go("/cardholders")
        boxes = page.get_by_role("row").get_by_role("checkbox")
        expect(boxes.nth(31)).to_be_attached()
        self.click(boxes.nth(1))
        self.click(boxes.nth(30), modifiers=["Shift"])
        self.button("Hand out cards")
        self.click(page.get_by_role("combobox", name="Cards they have"))
        self.click(page.get_by_role("option", name="which comes back"))
        self.button("Line them up")
        expect(page.locator("li.person").first).to_be_visible()
        count = page.locator("li.person").count()  # whoever has a card that comes back
        self.assertGreater(count, 20)
        for number in range(40_641, 40_643):
            self.show_at("Reception desk", number)  # and so on: a card shown is no act
            expect(page.locator("main")).to_contain_text(f"87-{number}")
        page.get_by_label("Facility code").fill("87")
        page.get_by_label("Card number").fill("40643")
        page.get_by_role("button", name="Fill the row").click()
        expect(page.get_by_text("Everybody has a card.").first).to_be_visible()
        self.button(f"Issue all {count}")
        expect(page.get_by_text(f"{count} cards issued.")).to_be_visible()
        issued = Card.objects.filter(card_number__in=range(40_641, 40_641 + count))
        self.assertEqual(issued.count(), count)
        self.took(7)

    def test_a_box_is_entered(self) -> None:
        page = self.page
        self.go("/cards/stock")
        self.button("Enter a box")
        self.click(page.get_by_label("First number"))
        page.keyboard.type("52000")
        self.press("Tab")
        page.keyboard.type("52099")
        self.button("Make 100 cards")
        until(lambda: Card.objects.filter(card_number__gte=52_000).count() == 100, "they are there")
        self.took(4)

    def test_a_group_is_made(self) -> None:
        page = self.page
        self.go("/access/groups/new")
        expect(page.get_by_label("Name", exact=True)).to_be_focused()
        page.keyboard.type("Chart and quay")
        for place, door in enumerate(("Chart Room", "Quay Gate"), 1):
            self.button("Add a door")
            self.pick(f"Door {place}", door)
        self.button("Save")
        until(lambda: AccessGroup.objects.filter(name="Chart and quay").exists(), "it is saved")
        self.assertEqual(AccessGroup.objects.get(name="Chart and quay").grants.count(), 2)
        self.took(7)

    def test_a_company_leaves_on_friday_at_six(self) -> None:
        page = self.page
        company = Company.objects.alias(n=Count("cardholders")).filter(n__gt=1).earliest("n")
        people = Cardholder.objects.filter(company=company)
        self.go("/cardholders")
        self.button("and more…")
        self.pick("any company", company.name)
        expect(page.get_by_role("row")).to_have_count(people.count() + 1)
        self.click(page.get_by_role("checkbox", name="Select all that are shown"))
        self.click(page.get_by_role("combobox", name="Change…"))
        self.click(page.get_by_role("option", name="Set expiry"))
        dialog = page.get_by_role("dialog")
        self.click(dialog.get_by_label("To", exact=True))
        page.keyboard.type("5.12.2031")
        self.press("Tab")
        page.keyboard.type("18:00")
        self.press("Tab")
        self.click(dialog.get_by_role("button", name=re.compile("^Change [1-9]")))
        until(lambda: not people.exclude(expiry_at__year=2031).exists(), "everybody ends then")
        ends = {one.expiry_at and one.expiry_at.hour for one in people}
        self.assertEqual(ends, {18})
        self.took(10)

    def test_somebody_is_suspended_while_a_controller_is_away(self) -> None:
        page = self.page
        self.standins.switch(SOUTH, is_on=False)
        self.go("/")
        self.find(Cardholder.objects.get(pk=IN_VESSELS).display_name)
        self.button("Suspended")
        self.saved()
        expect(page.get_by_text("Headland South does not answer").first).to_be_visible()
        self.took(4)

    def test_a_department_a_field_an_operator_and_a_reader_are_set_up(self) -> None:
        page = self.page
        with self.subTest("department"):
            self.go("/setup/departments")
            self.button("New department")
            page.keyboard.type("43")
            self.press("Tab")
            page.keyboard.type("Night Crew")
            self.button("Save")
            until(lambda: Department.objects.filter(name="Night Crew").exists(), "it is there")
            self.took(3)
        with self.subTest("field"):
            self.acts = 0
            self.go("/setup/own-fields")
            self.button("New custom field")
            page.keyboard.type("Cabin")
            self.button("Save")
            until(lambda: CustomField.objects.filter(labels__en="Cabin").exists(), "it is there")
            self.took(3)
        with self.subTest("operator"):
            self.acts = 0
            self.go("/setup/operators")
            self.button("New operator")
            page.keyboard.type("Edda")
            self.press("Tab", "Tab")
            page.keyboard.type("edda")
            self.pick("Role", "Auditor")
            self.button("Save")
            until(lambda: Operator.objects.filter(username="edda").exists(), "it is there")
            self.took(6)
        with self.subTest("reader"):
            self.acts = 0
            self.go("/setup/readers")
            self.click(page.get_by_role("button", name=re.compile("^Boat Shed")))
            self.click(page.locator("form.editor .formats"))
            self.click(first_option(page))
            self.press("Escape")
            self.button("Save")
            reader = Reader.objects.get(name="Boat Shed")
            until(lambda: reader.formats.count() == 1, "it is saved")
            self.took(5)

    def test_what_was_done_is_looked_up_and_taken_back(self) -> None:
        page, person = self.page, Cardholder.objects.get(pk=IN_VESSELS)
        self.go(f"/cardholders/{IN_VESSELS}")
        page.get_by_label("Title").fill("Skipper")
        page.keyboard.press("Control+s")
        expect(page.get_by_text("Saved.").first).to_be_visible()
        self.press("g", "v")
        self.click(page.get_by_role("link", name="Journal"))
        line = page.get_by_role("row").filter(has_text="Skipper").first
        self.click(line.get_by_role("button", name=re.compile("^Undo")))
        self.click(page.get_by_role("alertdialog").get_by_role("button", name="Undo"))
        until(
            lambda: Cardholder.objects.get(pk=person.pk).title == person.title, "it is taken back"
        )
        self.took(5)


class ByKeyboardAlone(AtTheDesk):
    """Nothing here is clicked."""

    def click(self, what: Locator, **how: object) -> None:
        raise AssertionError(f"no mouse: {what}")

    def to(self, name: str, most: int = 30) -> None:
        """Go on by Tab until something of this name has the focus."""
        for _ in range(most):
            self.press("Tab")
            found = self.page.evaluate(
                "(({ ariaLabel, textContent }) => ariaLabel ?? textContent)"
                "(document.activeElement.closest('a, button, input') ?? {})"
            )
            if name in (found or ""):
                return
        self.fail(f"Tab does not come to {name}")

    def test_somebody_is_enrolled_with_a_card_and_a_group(self) -> None:
        page = self.page
        self.go("/")
        self.show_at("Reception desk", 40_631)
        expect(self.strip()).to_contain_text("87-40631")
        self.press("u")
        expect(page.get_by_label("Card number")).to_have_value("40631")
        page.keyboard.type("Sanna")
        self.press("Tab")
        page.keyboard.type("Holmqvist")
        self.press("Alt+5")
        self.take("Dive Team")
        self.saved()

        sanna = Cardholder.objects.get(last_name="Holmqvist")
        self.assertTrue(Membership.objects.filter(cardholder=sanna, group__name="Dive Team"))
        self.took(6)

    def test_an_unknown_card_becomes_somebodys(self) -> None:
        page = self.page
        self.go("/")
        self.show_at("Reception desk", 40_632)
        expect(page.locator("main")).to_contain_text("87-40632")
        page.evaluate("document.getElementById('work').focus()")
        self.to("Give it to")
        self.press("Enter")
        page.keyboard.type("Night watch")
        expect(first_option(page)).to_be_visible()
        self.press("Enter")
        expect(page.get_by_label("Card number")).to_have_value("40632")
        self.saved()

        self.assertTrue(Card.objects.filter(card_number=40_632, holder__last_name="Night watch"))

    def test_what_keeps_somebody_out_is_told_and_mended(self) -> None:
        page = self.page
        Card.objects.filter(card_number=4751).update(status="lost")
        self.go("/activity")
        self.show_at("Boat Shed", 4751)
        expect(page.get_by_role("row").nth(1)).to_contain_text("87-04751")
        page.evaluate("document.getElementById('work').focus()")
        self.to("The card is reported lost")
        self.press("Enter")
        expect(page.get_by_role("link", name="Set the card to issued").first).to_be_visible()
        self.to("Set the card to issued")
        self.press("Enter")
        expect(page.get_by_role("button", name="Back in use: 87-04751")).to_be_visible()
        self.to("Back in use")
        self.press("Enter")
        self.saved()

        self.assertEqual(Card.objects.get(card_number=4751).status, CardStatus.ISSUED)
