"""People are put into a group, and taken out of it, where the group is looked at."""

from playwright.sync_api import expect

from cadrin.access.models import AccessGroup, Membership
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
