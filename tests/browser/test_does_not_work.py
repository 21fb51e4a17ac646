"""Somebody stands at the desk and says that it does not work: ten causes, each with its reason and
its remedy in no more than three clicks.
"""

import re
from datetime import timedelta
from typing import NamedTuple

from django.utils import timezone
from playwright.sync_api import expect

from cadrin.access.models import Grant, Membership
from cadrin.activity.models import Read
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.decision.reasons import Reason
from cadrin.credentials.models import Card
from cadrin.credentials.queries import raw_of
from cadrin.delivery.models import Link
from cadrin.outbox.commands import move_plan_version
from cadrin.people.models import Cardholder
from cadrin.sites.models import Door, Reader
from tests.browser.base import BrowserTest


class Cause(NamedTuple):
    """What a controller told, what stands in the explanation, and where its remedy leads."""

    reason: Reason
    told: str
    remedy: str
    leads_to: str


class DoesNotWork(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.card = Card.objects.filter(
            status="issued", holder__standing="active", holder__department__name="Turbine Crew"
        ).earliest("id")
        self.holder = Cardholder.objects.get(cards=self.card)
        self.number = 10**9
        # a door that opens at every hour, but not for them: what mends it mends it whenever it is
        mine = Membership.objects.filter(cardholder=self.holder).values("group")
        self.always = Grant.objects.filter(schedule__name="Round the clock", area=None)
        theirs = Door.objects.exclude(grants__group__in=mine)
        self.stand_at(theirs.filter(grants__in=self.always).earliest("id"))

    def stand_at(self, door: Door) -> None:
        self.door = door
        self.reader = Reader.objects.filter(door=door, is_way_out=False).earliest("id")

    def read(self, reason: Reason, **others: object) -> None:
        """Have a controller tell of a read."""
        self.number += 1
        identity = self.card.format_id, self.card.facility_code, self.card.card_number
        told = {
            "at": timezone.now(), "controller": self.door.controller, "store": "told",
            "event_number": self.number, "reader": self.reader, "reader_name": self.reader.name,
            "door": self.door, "reason": reason, "format": self.card.format,
            "raw": str(raw_of(CardKey(*identity))), "card_number": self.card.card_number,
            "facility_code": self.card.facility_code,
            "cardholder": self.holder, "cardholder_name": self.holder.display_name,
        } | others  # fmt: skip
        Read.objects.create(**told)

    def look(self, cause: Cause) -> None:
        """Go from the strip to the reason, and from there to what mends it: two clicks."""
        page = self.page
        self.strip().locator(f'button[title="{cause.told}"]').first.click()
        why = page.get_by_role("complementary", name="Why")
        expect(why).to_contain_text(cause.told)
        why.get_by_role("link", name=re.compile(cause.remedy)).first.click()
        expect(page).to_have_url(re.compile(cause.leads_to))

    def test_tells_the_reason_and_leads_to_the_remedy_in_two_clicks(self) -> None:
        name = re.escape(self.holder.display_name)
        person = rf"/cardholders/{self.holder.pk}"
        long_ago = timezone.now() - timedelta(days=3)
        causes: list[tuple[Cause, dict[str, object], dict[str, object]]] = [
            (
                Cause(Reason.CARDHOLDER_EXPIRED, "The cardholder has expired", f"dates of {name}$",
                      rf"{person}.*#validity"),
                {}, {"expiry_at": long_ago},
            ),
            (
                Cause(Reason.NO_MEMBERSHIP, "No access group of theirs has this door",
                      f"Add {name} to", rf"{person}.*#access"),
                {}, {},
            ),
            (
                Cause(Reason.CARD_SUSPENDED, "The card is suspended", "Set the card to issued",
                      rf"{person}.*#cards"),
                {"status": "suspended"}, {},
            ),
            (
                Cause(Reason.CARD_LOST, "The card is reported lost", "Set the card to issued",
                      rf"{person}.*#cards"),
                {"status": "lost"}, {},
            ),
        ]  # fmt: skip
        for cause, card, holder in causes:
            with self.subTest(cause.reason):
                Card.objects.filter(pk=self.card.pk).update(**{"status": "issued"} | card)
                Cardholder.objects.filter(pk=self.holder.pk).update(**{"expiry_at": None} | holder)
                self.read(cause.reason)
                self.go("/")
                self.look(cause)

    def test_a_card_of_no_format_leads_to_the_number_detective_with_its_bits(self) -> None:
        nothing = {"format": None, "facility_code": None, "card_number": None,
                   "cardholder": None, "cardholder_name": ""}  # fmt: skip
        self.read(Reason.WRONG_LENGTH, raw="29:2F764DD", **nothing)
        self.go("/")
        self.look(Cause(Reason.WRONG_LENGTH, "No card format of this length", "Number detective",
                        "/cards/number"))  # fmt: skip

        expect(self.page.get_by_label("Raw read")).to_have_value("29:2F764DD")

    def test_a_record_that_is_not_delivered_leads_to_the_controller(self) -> None:
        self.worker.stop()  # nothing is sent any more
        groups = Membership.objects.filter(cardholder=self.holder).values("group")
        reached = Door.objects.filter(grants__group__in=groups).values("controller")
        beyond = Door.objects.exclude(controller__in=reached)
        self.stand_at(beyond.filter(grants__in=self.always).earliest("id"))
        group = self.always.filter(door=self.door).earliest("id").group
        Membership.objects.create(cardholder=self.holder, group=group)
        controller = self.door.controller_id
        self.read(Reason.UNKNOWN_CARD, cardholder=None, cardholder_name="")
        self.go("/")
        self.strip().locator('button[title^="The controller knows no such card"]').first.click()
        why = self.page.get_by_role("complementary", name="Why")

        expect(why).to_contain_text("but this controller does not hold it")
        why.get_by_role("link", name="See why the controller does not hold it").click()
        expect(self.page).to_have_url(re.compile(f"/delivery.controller={controller}"))

    def test_a_wrong_clock_and_hours_are_told_together(self) -> None:
        Link.objects.filter(controller=self.door.controller).update(clock_off_seconds=420)
        self.read(Reason.OUTSIDE_HOURS, clock_off_seconds=420)
        self.go("/")
        self.look(Cause(Reason.OUTSIDE_HOURS, "Outside of the hours", "See it in Delivery",
                        rf"/delivery\?controller={self.door.controller_id}"))  # fmt: skip

    def test_a_wrong_pin_is_told_with_what_to_do(self) -> None:
        # whatever the demo's reader asks for at this hour
        of_reader = Reader.objects.filter(pk=self.reader.pk)
        of_reader.update(policy=[["card", "pin"]], policy_by_hours=[], has_keypad=True)
        move_plan_version()
        self.read(Reason.PIN_WRONG, factors="card,pin")
        self.go("/")
        self.strip().locator('button[title="No such PIN"]').first.click()
        why = self.page.get_by_role("complementary", name="Why")

        expect(why).to_contain_text("No such PIN")
        why.get_by_role("link", name=re.compile("^Set a PIN for ")).first.click()
        expect(self.page).to_have_url(re.compile(rf"/cardholders/{self.holder.pk}.*#pins"))

    def test_a_silent_controller_is_told_on_the_persons_page(self) -> None:
        self.standins.switch(self.door.controller_id, is_on=False)
        self.go(f"/cardholders/{self.holder.pk}")

        silent = self.page.get_by_text(f"{self.door.controller.name} does not answer").first
        expect(silent).to_be_visible()
