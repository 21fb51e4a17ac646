"""Doors, controllers and holidays of a house that runs: what goes with an act is said before it."""

from playwright.sync_api import FilePayload, Route, expect

from cadrin.access.models import Grant
from cadrin.core.icalendar_days import NamedDay, write_days
from cadrin.delivery.models import Link, Record
from cadrin.sites.models import Controller, Door, HolidayDay, Schedule
from tests.browser.base import BrowserTest
from tests.house import NOON
from tests.running import until


class Places(BrowserTest):
    def dialogue(self, text: str, press: str) -> None:
        dialogue = self.page.get_by_role("alertdialog")
        expect(dialogue).to_contain_text(text)
        self.assert_accessible()
        dialogue.get_by_role("button", name=press, exact=True).click()

    def test_a_door_goes_with_what_grants_it_once_it_was_said(self) -> None:
        page = self.page
        self.go("/setup/places")
        page.get_by_label("Find an area or a door").fill("boat")
        expect(page.get_by_role("button", name="Main Gate Headland North")).to_have_count(0)
        page.get_by_role("button", name="Boat Shed Headland South").click()
        page.get_by_role("button", name="Remove this door").click()
        self.dialogue("Boat Shed is granted by Quay, all doors, Vessels", "Cancel")
        self.assertTrue(Door.objects.filter(name="Boat Shed").exists())

        page.get_by_role("button", name="Remove this door").click()
        self.dialogue("can no longer open it", "Remove")

        until(lambda: not Door.objects.filter(name="Boat Shed").exists(), "the door is removed")
        self.assertFalse(Grant.objects.filter(door__name="Boat Shed").exists())
        self.go("/delivery")
        row = page.get_by_role("main").get_by_role("button", name="Headland South")
        expect(row).to_contain_text("7 doors")

    def test_another_device_takes_a_controllers_place_and_a_clock_is_set_right(self) -> None:
        page = self.page
        slip = Controller.objects.get(name="Slip")
        number = self.standins.ask("POST", "/bench/controllers")["number"]
        self.go("/delivery")
        page.get_by_role("main").get_by_role("button", name="Slip").click()
        expect(page.get_by_text("clock 7 min off")).to_be_visible()
        page.get_by_role("button", name="Set its clock right").click()
        expect(page.get_by_text("clock 7 min off")).to_have_count(0)
        self.assertEqual(Link.objects.get(controller=slip).clock_off_seconds, 0)

        self.go("/setup/places")
        page.get_by_role("button", name="Slip 3 doors").click()
        page.get_by_role("button", name=f"Controller {number}").click()
        page.get_by_role("button", name="Replace it").click()
        expect(page.get_by_text("It has too few plugs")).to_have_count(0)
        until(
            lambda: Controller.objects.get(pk=slip.pk).address == f"standin:{number}",
            "it is another one",
        )
        self.assertEqual(
            list(slip.readers.order_by("plug").values_list("plug", flat=True)), [1, 2, 3, 4]
        )

    def test_what_a_controller_can_hold_is_entered_and_who_has_no_place_is_named(self) -> None:
        page = self.page
        north = Controller.objects.get(name="Headland North")
        self.go("/setup/places")
        page.get_by_role("button", name="Headland North 11 doors").click()
        room = page.get_by_label("Cardholders", exact=True)
        room.fill("0")
        page.get_by_label("Last day it knows").fill("31.12.2037")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("From 1 to")).to_be_visible()
        self.assert_accessible()
        room.fill("3")
        page.get_by_role("button", name="Save", exact=True).click()
        until(
            lambda: (
                Controller.objects.get(pk=north.pk).limits
                == {"capacity": 3, "latest": 2_145_916_799}
            ),
            "it is saved",
        )
        until(
            lambda: Record.objects.filter(controller=north, refusal="no_place").exists(),
            "the others have no place",
        )
        self.go("/delivery")
        page.get_by_role("main").get_by_role("button", name="Headland North").click()
        expect(page.get_by_text("it has no room, and others come first").first).to_be_visible()
        self.assert_accessible()

    def test_an_area_and_a_zone_say_what_follows_before_they_are_saved(self) -> None:
        page = self.page
        self.go("/setup/places")
        page.get_by_role("button", name="Dive Centre", exact=True).click()
        self.choose("Site", "Ardle Slip")
        expect(page.get_by_text("Chamber, Compressor Room, Dive Locker")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Ardle Slip Europe/London").click()
        self.choose("Time zone", "Europe/Oslo")
        expect(page.get_by_text("Schedules have a zone of their own")).to_contain_text(
            "Round the clock"
        )
        self.assertTrue(
            Door.objects.filter(area__site__name="Skerrow Point", name="Chamber").exists()
        )

    def test_what_was_saved_keeps_nobody_from_the_page_they_asked_for(self) -> None:
        page = self.page
        answers: list[Route] = []
        pages: list[Route] = []
        self.go("/access/schedules/new")
        page.get_by_label("Name", exact=True).fill("Late")
        page.locator("#day-0").fill("8-12")
        page.route("**/api/schedules/", lambda route: answers.append(route))
        page.route("**/DeliveryPage-*.js", lambda route: pages.append(route))
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_role("link", name="Delivery").click()
        self.until_asked(answers, pages)
        for route in answers:
            route.continue_()
        until(Schedule.objects.filter(name="Late").exists, "it is saved")
        page.wait_for_timeout(200)
        for route in pages:
            route.continue_()

        expect(page.get_by_role("heading", name="Delivery", level=1)).to_be_visible()

    def test_a_file_of_holidays_becomes_a_calendar_and_what_is_discarded_is_gone(self) -> None:
        page = self.page
        days = [NamedDay("Regatta", NOON.date(), NOON.date(), True, 720)]
        self.go("/access/holidays/new")
        page.get_by_label("New kind").fill("Half day")
        page.keyboard.press("Enter")
        page.get_by_label("Name", exact=True).fill("Skerrow")
        file = FilePayload(
            name="x.ics", mimeType="text/calendar", buffer=write_days("x", days, NOON)
        )
        page.set_input_files("input[type=file][accept*='.ics']", files=[file])
        expect(page.get_by_label("Name of the holiday")).to_have_value("Regatta")
        expect(page.get_by_label("Part of the day")).to_have_value("12:00-24:00")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("button", name="Remove the calendar")).to_be_visible()
        self.assertTrue(HolidayDay.objects.get(name="Regatta").is_yearly)

        part = page.get_by_label("Part of the day")
        part.fill("9-17")
        part.press("Tab")
        page.get_by_role("button", name="Discard").click()
        expect(part).to_have_value("12:00-24:00")

        self.go("/access/schedules/4")
        page.get_by_role("combobox", name="Calendar").click()
        page.get_by_role("option", name="Skerrow", exact=True).click()
        page.get_by_role("combobox", name="Half day").click()
        page.get_by_role("option", name="these hours").click()
        page.get_by_label("Hours on Half day").fill("nonsense")
        expect(page.get_by_role("button", name="Save", exact=True)).to_be_disabled()
        page.get_by_role("button", name="Discard").click()
        expect(page.get_by_label("Hours on Half day")).to_have_count(0)
        page.get_by_label("Name", exact=True).fill("Other hours")
        expect(page.get_by_role("button", name="Save", exact=True)).to_be_enabled()
