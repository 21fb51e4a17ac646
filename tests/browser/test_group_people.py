"""People are put into a group, and taken out of it, where the group is looked at."""

from playwright.sync_api import expect

from cadrin.access.models import AccessGroup, Membership
from cadrin.people.models import Department
from tests.browser.base import BrowserTest


class GroupPeople(BrowserTest):
    def test_somebody_and_pasted_numbers_are_put_in_and_one_is_taken_out(self) -> None:
        page = self.page
        pumps = AccessGroup.objects.get(name="Pumps")
        self.go(f"/access/groups/{pumps.pk}")
        page.get_by_label("or numbers, pasted").fill("S-00002, S-00012; S-99999")
        page.get_by_role("button", name="Put in").click()
        told = page.get_by_role("status").filter(has_text="were put in")
        expect(told).to_contain_text("Nobody has these numbers: S-99999.")
        expect(page.get_by_label("or numbers, pasted")).to_have_value("S-99999")
        expect(page.get_by_role("link", name="Cato Zellwood")).to_be_visible()
        self.assert_accessible()

        page.get_by_role("button", name="Take Cato Zellwood out").click()
        expect(page.get_by_text("Cato Zellwood is no longer in it.")).to_be_visible()
        expect(page.get_by_role("link", name="Cato Zellwood")).to_have_count(0)
        left = Membership.objects.filter(group=pumps, cardholder__number="S-00012")
        self.assertTrue(left.exists())

    def test_whoever_fits_a_rule_is_in_it_and_the_rule_is_weighed_before_saving(self) -> None:
        page = self.page
        pumps = AccessGroup.objects.get(name="Pumps")
        crew = Department.objects.get(name="Turbine Crew")
        newcomers = crew.cardholders.filter(erased_at=None).exclude(memberships__group=pumps)
        count = newcomers.count()
        self.go(f"/access/groups/{pumps.pk}")
        page.get_by_role("button", name="Add a rule").click()
        self.choose("Department of rule 1", "Turbine Crew")
        expect(page.get_by_text(f"{count} people join it by its rules.")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Save", exact=True).click()
        by_rule = page.get_by_text("by rule", exact=True)
        expect(by_rule).to_have_count(count)
        self.assertEqual(Membership.objects.filter(group=pumps, is_by_rule=True).count(), count)
        name = Membership.objects.filter(group=pumps, is_by_rule=True)[0].cardholder.display_name
        page.get_by_role("button", name=f"Take {name} out").click()
        expect(page.get_by_text("Kept out, whatever the rules say")).to_be_visible()
        page.get_by_role("button", name=f"Let the rules count for {name} again").click()
        expect(by_rule).to_have_count(count)
