"""Groups are found by what they give, put in order, and looked through, in the real interface."""

import re

from playwright.sync_api import expect

from cadrin.access.models import AccessGroup, Membership
from cadrin.access.plan import access_plan, holders
from cadrin.people.models import Cardholder
from cadrin.reviews.models import Review
from cadrin.sites.models import Door
from tests.browser.base import BrowserTest


class FindingGroups(BrowserTest):
    def test_by_doors_for_somebody_who_is_put_in_and_a_new_one_only_at_the_end(self) -> None:
        page = self.page
        person = Cardholder.objects.get(number="S-00012")
        self.go(f"/cardholders/{person.pk}")
        page.get_by_role("link", name="Find a group by doors").click()
        expect(page.get_by_text(f"For {person.display_name}")).to_be_visible()
        page.get_by_role("button", name="Add a door").click()
        self.choose("Door 1", "Chart Room")
        self.choose("Schedule 1", "Laboratory day")
        expect(page.get_by_text("No group gives exactly that.")).to_be_visible()
        expect(page.get_by_text("More: Main Gate 96 h a week")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Put in: Hydrography").click()
        expect(page.get_by_text("is in Hydrography now")).to_be_visible()
        expect(page.get_by_text("is in it").first).to_be_visible()
        self.assertTrue(
            Membership.objects.filter(cardholder=person, group__name="Hydrography").exists()
        )
        page.get_by_role("link", name="Make a new group of it").click()
        expect(page.get_by_role("combobox", name="Door 1")).to_contain_text("Chart Room")

    def test_a_whole_area_is_granted_and_its_doors_are_named_before_saving(self) -> None:
        page = self.page
        self.go("/access/groups/new")
        page.get_by_label("Name", exact=True).fill("Offices, all doors")
        page.get_by_role("button", name="Add a door").click()
        self.choose("Door 1", "Offices")
        expect(page.locator(".effects")).to_contain_text("Office Wing")
        self.choose("Owner", "Tomas Reve")
        page.get_by_label("People looked through every (days)").fill("90")
        page.get_by_role("button", name="Save").click()
        expect(page).to_have_url(re.compile(r"/access/groups/\d+$"))
        made = AccessGroup.objects.get(name="Offices, all doors")
        self.assertEqual((made.review_days, str(made.owner)), (90, "Tomas Reve"))
        self.assertEqual(made.grants.get().area.name, "Offices")  # type: ignore[union-attr]
        self.assert_accessible()

    def test_two_that_give_the_same_are_made_one(self) -> None:
        page = self.page
        self.go("/access/groups/untidy")
        expect(page.get_by_text("give exactly the same")).to_be_visible()
        page.get_by_role("button", name="Make them one: Wet Lab, Wet Lab again").click()
        expect(page.get_by_text("One person goes into Wet Lab.")).to_be_visible()
        expect(page.get_by_text("No door opens to more or fewer people.")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Merge", exact=True).click()
        expect(page.get_by_text("give exactly the same")).to_have_count(0)
        self.assertFalse(AccessGroup.objects.filter(name="Wet Lab again").exists())

    def test_whoever_may_open_a_door_is_looked_through_with_what_else_they_would_lose(self) -> None:
        page = self.page
        self.go("/")
        page.get_by_role("link", name="Open : Chamber").click()
        expect(page.get_by_role("heading", name="Who may go through Chamber")).to_be_visible()
        first = page.get_by_role("row").nth(1)
        expect(first).to_contain_text("other door")
        name = first.get_by_role("link").inner_text()
        first.get_by_role("checkbox").check()
        page.get_by_label("Reason").fill("dives no more")
        page.get_by_role("button", name="Take out").click()
        expect(page.get_by_role("link", name=name)).to_have_count(0)
        chamber = Door.objects.get(name="Chamber").pk
        person = Cardholder.objects.get(display_name=name)
        opened = access_plan().doors_of(holders([person.pk])[person.pk].memberships)
        self.assertNotIn(chamber, opened)
        self.assert_accessible()

    def test_the_people_of_a_group_are_looked_through_from_the_desk(self) -> None:
        page = self.page
        self.go("/")
        page.get_by_role("link", name="Open : Cold Room").click()
        first = page.get_by_role("checkbox").first
        name = (first.get_attribute("aria-label") or "").removeprefix("Tick ")
        first.check()
        page.get_by_role("button", name="Take out").click()
        expect(page.get_by_text("This is needed.")).to_be_visible()
        page.get_by_label("Reason").fill("works elsewhere now")
        page.get_by_role("button", name="Take out").click()
        expect(page.get_by_role("link", name=name)).to_have_count(0)
        page.get_by_role("button", name="Tick all that are left").click()
        page.get_by_role("button", name="Keep").click()
        expect(page.get_by_text("Everybody is decided.")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="End the review").click()
        expect(page.get_by_text("The review is ended.")).to_be_visible()
        review = Review.objects.filter(name="Cold Room").exclude(ended_at=None).get()
        self.assertEqual(review.decisions.filter(is_kept=False).count(), 1)
        with page.expect_download() as download:
            page.get_by_role("link", name="Everything decided, as CSV").click()
        self.assertIn("works elsewhere now", download.value.path().read_text("utf-8-sig"))
