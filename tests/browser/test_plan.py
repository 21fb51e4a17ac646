"""Doors are seen, acted on and put in their places on the plan of a site."""

import re

from playwright.sync_api import expect

from cadrin.sites.models import AreaPlace, Door, DoorPlace, Site, SitePlan
from tests.browser.base import BrowserTest


class Plan(BrowserTest):
    def test_a_door_is_acted_on_and_moved_by_keys_and_by_the_mouse(self) -> None:
        page = self.page
        gate = Door.objects.get(name="Main Gate")
        self.go("/access/plan")
        page.get_by_role("link", name="Skerrow Point").click()
        mark = page.locator(".sheet").get_by_role("button", name="Main Gate,")
        mark.click()
        expect(page.get_by_role("button", name="Unlock once")).to_be_visible()
        self.assert_accessible()

        page.get_by_role("button", name="Draw and place").click()
        before = DoorPlace.objects.get(door=gate)
        mark.focus()
        page.keyboard.press("ArrowRight")
        page.keyboard.press("ArrowDown")
        other = page.locator(".sheet").get_by_role("button", name="Cold Room,")
        box = page.locator(".sheet").bounding_box()
        assert box
        other.hover()
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 4, steps=4)
        page.mouse.up()
        page.locator(".sheet").get_by_role("button", name="Records Room,").focus()
        page.keyboard.press("Delete")
        expect(page.get_by_role("button", name="Put Records Room on the plan")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("button", name="Draw and place")).to_be_visible()
        after = DoorPlace.objects.get(door=gate)
        self.assertEqual((after.x - before.x, after.y - before.y), (5, 5))
        moved = DoorPlace.objects.get(door__name="Cold Room")
        self.assertAlmostEqual(moved.x, 500, delta=4)
        self.assertAlmostEqual(moved.y, 250, delta=4)
        self.assertFalse(DoorPlace.objects.filter(door__name="Records Room").exists())

    def test_areas_are_drawn_by_keys_and_by_the_mouse_and_a_silent_controller_is_seen(self) -> None:
        page = self.page
        site = Site.objects.exclude(name="Skerrow Point").get()
        AreaPlace.objects.all().delete()
        version = SitePlan.objects.get(site=site).version
        self.go(f"/access/plan/{site.pk}")
        page.get_by_role("button", name="Draw and place").click()
        page.get_by_role("button", name="Draw Slip Yard").click()
        area = page.get_by_role("button", name="Area Slip Yard")
        area.focus()
        for key in ("ArrowLeft", "ArrowUp", "Shift+ArrowRight", "Shift+ArrowDown"):
            page.keyboard.press(key)
        corner, sheet = (
            area.locator(".corner").bounding_box(),
            page.locator(".sheet").bounding_box(),
        )
        assert corner and sheet
        x, y = corner["x"] + 12, corner["y"] + 12
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + sheet["width"] / 10, y + sheet["height"] / 10, steps=4)
        page.mouse.up()
        self.assert_accessible()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("button", name="Draw and place")).to_be_visible()
        drawn = AreaPlace.objects.get()
        self.assertEqual((drawn.x, drawn.y), (370, 370))
        self.assertAlmostEqual(drawn.width, 355, delta=3)
        self.assertAlmostEqual(drawn.height, 355, delta=3)
        self.assertEqual(SitePlan.objects.get(site=site).version, version + 1)

        self.go("/access/plan")
        page.get_by_role("link", name="Skerrow Point").click()
        silent = page.locator(".sheet").get_by_role("button", name="Sea Intake,")
        expect(silent).to_have_attribute("aria-label", re.compile("does not answer"))
        silent.click()
        expect(page.get_by_text("its controller has not answered since")).to_be_visible()
