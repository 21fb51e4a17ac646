"""A site is set up from an empty database in the interface alone, and somebody comes in."""

from typing import Any

from playwright.sync_api import expect

from cadrin.accounts.commands.roles import ready_made_roles
from cadrin.credentials.models import CardFormat
from cadrin.demo.loading import PASSWORD
from cadrin.operators.models import Operator, Role
from cadrin.sites.models import Controller, Door
from tests.browser.base import BrowserTest, first_option
from tests.running import until


class FromNothing(BrowserTest):
    def make_house(self) -> list[dict[str, Any]]:
        ready_made_roles()
        Operator.objects.create_user(
            "ines", password=PASSWORD, role=Role.objects.get(name="Administrator")
        )
        return []

    def save(self) -> None:
        self.page.get_by_role("button", name="Save", exact=True).first.click()

    def named(self, kind: str, name: str) -> None:
        """Begin something new, and name it."""
        self.page.get_by_role("button", name=f"New {kind}").click()
        self.page.get_by_label("Name", exact=True).fill(name)

    def pick(self, box: str, option: str) -> None:
        self.page.get_by_role("combobox", name=box, exact=True).click()
        self.page.get_by_role("option", name=option, exact=True).click()

    def is_open(self, name: str) -> None:
        """Wait until what was saved stands open under its name."""
        expect(self.page.get_by_role("heading", name=name, exact=True)).to_be_visible()

    def take_in(self, number: int, name: str) -> None:
        self.page.get_by_role("button", name="Test bench").click()
        self.page.get_by_role("button", name="Take a controller out of its box").click()
        expect(self.page.get_by_text(f"Controller {number} is out of its box")).to_be_visible()
        self.page.get_by_role("button", name="Test bench").click()
        self.page.get_by_role("button", name="Look for controllers").click()
        self.page.get_by_role("button", name=f"Controller {number}").click()
        self.page.get_by_label("Name", exact=True).fill(name)
        self.page.get_by_role("button", name="Take it in").click()
        self.is_open(name)

    def test_two_controllers_six_doors_and_somebody_comes_in(self) -> None:
        page = self.page
        self.go("/setup/places")
        expect(page.get_by_text("No site yet")).to_be_visible()
        self.assert_accessible()
        self.named("site", "Lantern Rock")
        self.pick("Time zone", "Europe/Oslo")
        self.save()
        self.is_open("Lantern Rock")
        for area in ("Keeper House", "Tower"):
            self.named("area", area)
            self.save()
            self.is_open(area)
        for number, name in ((901, "North Wall"), (902, "South Wall")):
            self.take_in(number, name)
        for place, door in enumerate(("Gate", "Kitchen", "Stores", "Stairs", "Lamp", "Horn")):
            self.named("door", door)
            self.pick("Leads into", "Tower" if place > 2 else "Keeper House")
            self.pick("Controller", "South Wall" if place > 2 else "North Wall")
            self.save()
            self.is_open(door)
        self.assert_accessible()
        self.assertEqual(Door.objects.count(), 6)

        # a card format, hours, groups
        self.go("/cards/formats")
        page.get_by_role("combobox", name="New format").click()
        first_option(page).click()
        self.save()
        until(CardFormat.objects.exists, "the format is saved")
        self.go("/access/holidays/new")
        page.get_by_label("New kind").fill("Public holiday")
        page.keyboard.press("Enter")
        page.get_by_label("Name", exact=True).fill("Norway")
        self.choose("Country", "Norway")
        page.get_by_role("button", name="Add them").click()
        expect(page.get_by_label("Name of the holiday").first).to_have_value("New Year's Day")
        self.assert_accessible()
        self.save()
        expect(page.get_by_role("button", name="Remove the calendar")).to_be_visible()
        self.go("/access/schedules/new")
        page.get_by_label("Name", exact=True).fill("Always")
        self.pick("Calendar", "Norway")
        self.pick("Public holiday", "these hours")
        page.get_by_label("Hours on Public holiday").fill("0-24")
        for day in range(7):
            page.locator(f"#day-{day}").fill("0-24")
        self.save()
        expect(page.get_by_role("button", name="Remove the schedule")).to_be_visible()
        for group, doors in (
            ("Keepers", ("Gate", "Lamp")),
            ("Guests", ("Kitchen",)),
            ("Crew", ("Horn",)),
        ):
            self.go("/access/groups/new")
            page.get_by_label("Name", exact=True).fill(group)
            for place, door in enumerate(doors):
                page.get_by_role("button", name="Add a door").click()
                self.pick(f"Door {place + 1}", door)
            self.save()
            expect(page.get_by_text("Nobody is in this group yet.")).to_be_visible()

        # somebody
        self.go("/cardholders/new")
        page.get_by_label("First name").fill("Sunniva")
        page.get_by_label("Last name").fill("Holm")
        page.locator("#cards").get_by_role("button", name="Type it").click()
        page.get_by_label("Facility code").fill("12")
        page.get_by_label("Card number").fill("4711")
        self.choose("Add an access group", "Keepers")
        self.save()
        expect(page.get_by_text("Held at North Wall, South Wall")).to_be_visible()

        self.show_at("North Wall, reader 1", 4711, 12)
        self.assertIn("opens for", self.bench_said)
        self.show_at("South Wall, reader 1", 4711, 12)
        self.assertIn("stays shut", self.bench_said)
        self.assertEqual(
            set(Controller.objects.values_list("address", flat=True)),
            {"standin:901", "standin:902"},
        )
