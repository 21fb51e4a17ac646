"""What the API shows: files, weighed drafts, explanations, the Desk and lists."""

from django.conf import settings

from cadrin.access.models import AccessGroup
from cadrin.activity.models import Read
from cadrin.core.credentials.card.card import CardKey
from cadrin.credentials.queries import raw_of
from cadrin.journal.models import Entry
from cadrin.outbox.models import Mark
from cadrin.people.models import Cardholder
from tests.house import NOON
from tests.test_api import Api


class WhatIsShown(Api):
    def test_a_file_comes_back_as_it_was_saved_and_saving_it_unchanged_is_no_act(self) -> None:
        body = self.file(
            remarks="Left-handed",
            department=self.house.department.pk,
            expiry_at="2027-01-01T00:00:00Z",
        )
        _, saved = self.ask("POST", "/api/cardholders/new/", body)

        _, read = self.ask("GET", f"/api/cardholders/{saved['id']}/")
        code, again = self.ask("PUT", f"/api/cardholders/{saved['id']}/", read)

        self.assertEqual(read, saved)
        self.assertEqual((code, again["version"]), (200, 1))

    def test_weighing_a_draft_saves_nothing(self) -> None:
        code, found = self.ask("POST", "/api/preview/", self.file(as_of=NOON.isoformat()))

        self.assertEqual(code, 200)
        self.assertEqual(found["gained"], [self.house.gate.pk, self.house.lab.pk])
        self.assertEqual([door["is_open"] for door in found["reach"]], [True, True, False])
        self.assertEqual(
            [(one["controller"], one["act"]) for one in found["to_send"]],
            [(self.house.north.pk, "put")],
        )
        self.assertEqual((Cardholder.objects.count(), Mark.objects.count()), (0, 0))

    def test_a_denial_is_explained_with_what_would_open_the_door(self) -> None:
        id_ = self.house.enrol()
        raw = str(raw_of(CardKey(self.house.format.pk, 12, 4751)))
        read = Read.objects.create(
            at=NOON, controller=self.house.south, store="s", event_number=1, reader=self.house.slip_reader,
            reader_name="Slip", door=self.house.slip, raw=raw, format=self.house.format, facility_code=12,
            card_number=4751, reason="unknown_card",
        )  # fmt: skip

        _, found = self.ask("GET", f"/api/reads/{read.pk}/")

        self.assertEqual(found["read"]["holder_id"], id_)
        self.assertEqual(
            (found["now_reason"], found["against"]), ("no_membership", ["no_membership"])
        )
        boats = {
            "act": "add_to_group",
            "group_id": self.house.boats.pk,
            "group_name": "Boats",
            "card": None,
            "without": None,
        }
        self.assertEqual(found["remedies"], [[boats]])

        lost = self.ask("GET", f"/api/cardholders/{id_}/")[1]
        lost["cards"][0]["status"] = "lost"
        self.ask("PUT", f"/api/cardholders/{id_}/", lost)
        # the card is judged, and not the person
        _, found = self.ask("GET", f"/api/reads/{read.pk}/")
        self.assertEqual(
            (found["now_reason"], found["against"]), ("card_lost", ["card_lost", "no_membership"])
        )
        self.assertEqual(
            [one["act"] for one in found["remedies"][0]], ["card_status", "add_to_group"]
        )
        self.assertEqual(
            [step["passed"] for step in found["steps"]],
            [True, True, True, False, None, None, None, None],
        )

    def test_the_desk_lists_what_waits(self) -> None:
        self.ask("POST", "/api/cardholders/new/", self.file(cards=[]))
        Read.objects.create(
            at=NOON, controller=self.house.desk, store="s", event_number=1, reader=self.house.desk_reader,
            reader_name="Front desk", raw="26:0", format=self.house.format, facility_code=1, card_number=2,
        )  # fmt: skip
        Read.objects.update(at=Entry.objects.latest("id").at)

        _, found = self.ask("GET", "/api/desk/")

        self.assertEqual(found["not_ready"]["rows"][0]["gaps"], ["no_card"])
        self.assertEqual(
            [(c["facility_code"], c["card_number"]) for c in found["unknown_cards"]["rows"]],
            [(1, 2)],
        )

    def test_the_list_and_the_finder_ask_the_database_a_few_times_only(self) -> None:
        self.house.enrol_many(30)
        self.ask("GET", "/api/cardholders/")  # the plan and the permissions are known from here on

        of_the_session = int(settings.IS_SHARED)  # otherwise it is in memory
        with self.assertNumQueries(16 + of_the_session):  # the operator's own among them
            self.ask("GET", "/api/cardholders/")
        with self.assertNumQueries(15 + of_the_session):
            self.ask("GET", "/api/cardholders/find/?text=rev")

    def test_groups_are_listed_with_doors_and_people(self) -> None:
        self.house.enrol()

        _, found = self.ask("GET", "/api/groups/")

        self.assertEqual(
            [(one["name"], len(one["grants"]), one["member_count"]) for one in found],
            [("Boats", 1, 0), ("Day", 2, 1)],
        )
        self.assertEqual(AccessGroup.objects.count(), 2)
