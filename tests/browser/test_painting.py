"""Hours are painted on the week, with the mouse and with the keys, and copied from a day to others."""

from playwright.sync_api import expect

from cadrin.sites.models import Schedule
from tests.browser.base import BrowserTest
from tests.running import until


class Painting(BrowserTest):
    def test_by_mouse_by_keys_and_by_copying_a_day(self) -> None:
        page = self.page
        self.go("/access/schedules/new")
        page.get_by_label("Name", exact=True).fill("Regatta hours")
        monday = page.get_by_role("slider", name="Paint Monday")
        box = monday.bounding_box()
        assert box

        def at(hour: float) -> tuple[float, float]:
            return box["x"] + box["width"] * hour / 24, box["y"] + box["height"] / 2

        page.mouse.move(*at(8))
        page.mouse.down()
        page.mouse.move(*at(18), steps=4)
        page.mouse.up()
        typed = page.get_by_role("textbox", name="Monday")
        expect(typed).to_have_value("08:00-18:00")
        page.mouse.move(*at(12))
        page.mouse.down()
        page.mouse.move(*at(13), steps=4)
        page.mouse.up()
        expect(typed).to_have_value("08:00-12:00, 13:00-18:00")

        monday.press("ArrowDown")
        tuesday = page.get_by_role("slider", name="Paint Tuesday")
        expect(tuesday).to_be_focused()
        tuesday.press("End")
        for _ in range(8):
            tuesday.press("ArrowLeft")
        tuesday.press("Space")
        for _ in range(12):
            tuesday.press("ArrowRight")
        for _ in range(3):
            tuesday.press("Shift+ArrowRight")
        expect(tuesday).to_have_attribute("aria-valuetext", "opens 22:00-01:03")
        tuesday.press("Space")
        expect(page.get_by_role("textbox", name="Tuesday")).to_have_value("22:00-01:03")
        self.assert_accessible()

        page.get_by_role("combobox", name="Copy Tuesday to").click()
        page.get_by_role("option", name="Friday", exact=True).click()
        expect(page.get_by_role("textbox", name="Friday")).to_have_value("22:00-01:03")
        page.get_by_role("button", name="Save", exact=True).click()
        until(lambda: Schedule.objects.filter(name="Regatta hours").exists(), "it is saved")
        self.assertEqual(
            Schedule.objects.get(name="Regatta hours").hours,
            [[0, 480, 720], [0, 780, 1080], [1, 1320, 1503], [4, 1320, 1503]],
        )
