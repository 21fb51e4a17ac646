"""What operators do at doors, in the real interface: rules, orders, alarms, emergencies, letting in."""

import re

from django.utils import timezone
from playwright.sync_api import expect

from cadrin.access.models import AccessGroup
from cadrin.access.plan import access_plan, holders
from cadrin.access.queries import member_ids
from cadrin.core.doors.rules import Ordered
from cadrin.credentials.queries import raw_of
from cadrin.outbox.commands import move_plan_version
from cadrin.people.models import Cardholder
from cadrin.sites.commands.doors import save_door, stored_door
from cadrin.sites.models import Area, Controller, Door, DoorAct
from tests.browser.base import BrowserTest
from tests.house import ANYBODY
from tests.running import until


class Doors(BrowserTest):
    def asks_in(self, door: str, group: str) -> bool:
        """Let people of a group show their cards at the door, until one of them awaits consent."""
        group_id = AccessGroup.objects.get(name=group).pk
        people = holders(member_ids(group_id)).values()
        reader = Door.objects.get(name=door).readers.filter(is_way_out=False).get()
        for holder in people:
            if not holder.cards:
                continue
            raw = str(raw_of(holder.cards[0].key))
            if self.standins.show(reader.pk, raw)["reason"] == "consent_awaited":
                return True
        return False

    def test_a_door_is_kept_shut_until_it_is_let_go(self) -> None:
        page = self.page
        self.go("/access/doors/1")
        page.get_by_role("button", name="Keep it shut").click()
        page.get_by_role("button", name="Keep it shut").last.click()
        expect(page.get_by_text("This is needed.")).to_be_visible()
        page.get_by_label("Reason").fill("Leak in the hall")
        page.get_by_role("button", name="Keep it shut").last.click()

        expect(page.get_by_text("Kept shut by Ines Carnmore")).to_contain_text("Leak in the hall")
        self.assert_accessible()
        self.assertIs(access_plan().doors[1].ordered, Ordered.SHUT)
        page.get_by_role("button", name="Let it go by its rules again").click()
        expect(page.get_by_text("Kept shut by Ines Carnmore")).to_have_count(0)

        page.get_by_role("button", name="Unlock once").click()
        expect(page.get_by_text("It was unlocked.")).to_be_visible()

    def test_a_forced_door_is_told_where_doors_and_reads_are_seen(self) -> None:
        page = self.page
        self.go("/access/doors")
        page.keyboard.press("b")
        page.get_by_role("button", name=re.compile("Records Room locked.*open it")).click()
        self.assert_accessible()
        row = page.get_by_role("link", name="Records Room")
        expect(row).to_contain_text("Opened while it was locked")
        page.get_by_role("button", name=re.compile("Records Room locked.*shut it")).click()
        expect(row).to_contain_text("locked, shut")
        page.keyboard.press("b")
        self.go("/activity")
        first = page.get_by_role("row").nth(1)
        expect(first).to_contain_text("Opened while it was locked")

        # and on every page, until an operator has seen it
        self.go("/setup/roles")
        told = page.get_by_role("alert", name="What needs somebody")
        forced = told.get_by_role("paragraph").filter(has_text="Records Room: opened while")
        expect(forced).to_be_visible()
        self.assert_accessible()
        forced.get_by_role("link", name="Look").click()
        why = page.get_by_role("complementary", name="Why")
        expect(why).to_contain_text("Opened while it was locked")
        expect(forced).to_have_count(0)
        page.reload()
        expect(why).to_be_visible()
        expect(forced).to_have_count(0)

    def test_an_emergency_is_begun_with_a_reason_reported_and_ended(self) -> None:
        page = self.page
        self.go("/access/emergencies")
        page.get_by_role("link", name="Slip, ways out").click()
        page.get_by_label("Reason").fill("Fire alarm")
        page.get_by_role("button", name="Unlock all these doors now").click()
        expect(page.get_by_role("alert").filter(has_text="Fire alarm")).to_be_visible()
        self.assert_accessible()
        slip = Door.objects.get(name="Slip Gate")
        self.assertIs(access_plan().doors[slip.pk].ordered, Ordered.OPEN)

        page.get_by_label("Reason").fill("False alarm")
        page.get_by_role("button", name="End the emergency").click()
        expect(page.get_by_text("ended by Ines Carnmore")).to_contain_text("False alarm")
        page.get_by_role("button", name="What happened").click()
        self.assertIsNone(access_plan().doors[slip.pk].ordered)

    def test_whoever_asks_to_come_in_is_let_in_from_any_page(self) -> None:
        page = self.page
        gate = Door.objects.get(name="Quay Gate").pk
        draft = stored_door(gate)._replace(consent_seconds=120)
        save_door(ANYBODY, gate, draft, timezone.now())
        until(lambda: self.asks_in("Quay Gate", "Vessels"), "somebody asks")
        self.go("/cardholders")

        call = page.get_by_role("alertdialog").filter(has_text="asks to come in")
        expect(call).to_contain_text("Quay Gate")
        at_the_door = call.get_by_role("figure").filter(has_text="at the door").locator("img")
        until(
            lambda: at_the_door.evaluate("image => image.naturalWidth") > 100,
            "the camera's picture stands beside the photo",
        )
        self.assert_accessible()
        call.get_by_role("button", name="Let in").click()

        until(lambda: DoorAct.objects.filter(outcome="done").exists(), "they are let in")
        expect(call).to_have_count(0)
        expect(self.strip().get_by_role("button").first).to_contain_text("Quay Gate")

    def test_where_there_are_many_those_that_open_stand_and_the_others_are_found(self) -> None:
        page = self.page
        area = Area.objects.get(name="Plant")
        controller = Controller.objects.get(name="Headland North")
        Door.objects.bulk_create(
            Door(name=f"Hatch {place:02}", area=area, controller=controller) for place in range(30)
        )
        move_plan_version()
        person = Cardholder.objects.get(display_name="Milan Strandquist")
        self.go(f"/cardholders/{person.pk}")
        reach = page.get_by_role("region", name="Reach")
        expect(reach.get_by_role("button", name="Boat Shed")).to_be_visible()
        expect(reach.get_by_role("button", name="Hatch 07")).to_have_count(0)
        self.assert_accessible()
        reach.get_by_label("Find an area or a door").fill("hatch 07")
        expect(reach.get_by_role("button", name="Hatch 07")).to_be_visible()
        expect(reach.get_by_role("button", name="Boat Shed")).to_have_count(0)
        reach.get_by_label("Find an area or a door").fill("")
        reach.get_by_role("button", name="doors that do not open this week").click()
        expect(reach.get_by_role("button", name="Hatch 29")).to_be_visible()

    def test_what_a_door_and_an_area_do_is_set_up_and_contradictions_are_told(self) -> None:
        page = self.page
        self.go("/setup/places")
        page.get_by_role("button", name="Compressor Room").click()
        page.get_by_label("A second person within (s)").fill("1")
        page.get_by_label("Open for too long after (s)").click()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("From 2 to 120")).to_be_visible()
        page.get_by_label("A second person within (s)").fill("30")
        page.get_by_label("Open for too long after (s)").fill("90")
        page.get_by_label("A button on the way out unlocks it").check()
        self.assert_accessible()
        page.get_by_role("button", name="Save", exact=True).click()
        until(lambda: Door.objects.get(name="Compressor Room").second_seconds == 30, "it is saved")
        door = Door.objects.get(name="Compressor Room")
        self.assertEqual((door.held_seconds, door.has_exit_button), (90, True))

        page.get_by_role("button", name="Dive Centre").click()
        page.get_by_role("combobox", name="Whoever comes in twice").click()
        page.get_by_role("option", name="is not let in").click()
        page.get_by_label("At most so many people inside").fill("12")
        page.get_by_role("button", name="Save", exact=True).click()
        until(lambda: Area.objects.get(name="Dive Centre").most == 12, "it is saved")
        self.assertEqual(Area.objects.get(name="Dive Centre").passback, "hard")
