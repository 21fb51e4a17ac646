"""Operators who are kept to a part of the house: whoever and whatever is outside of it is not there
for them.
"""

import json
from dataclasses import replace
from datetime import timedelta
from typing import Any

from django.test import Client, TestCase
from django.utils import timezone

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import AccessGroup, Grant, Membership
from cadrin.accounts.commands.tokens import TokenDraft, make_token
from cadrin.activity.models import Read
from cadrin.bulk.commands import begin_bulk_change
from cadrin.bulk.drafts import BulkDraft
from cadrin.bulk.steps import work_on_bulk_changes
from cadrin.core.bulk import BulkAct
from cadrin.core.credentials.face.portrait import Box
from cadrin.journal.models import Entry
from cadrin.operators.models import Role
from cadrin.operators.permissions import HOUSE_WIDE, Permission
from cadrin.outbox.commands import move_plan_version
from cadrin.people.models import Cardholder, Company, Department
from cadrin.photos.models import Image
from cadrin.register.selection import Selection
from cadrin.sites.models import Area, Door, Reader, Site
from tests.house import ANYBODY, NOON, ZONE, House, an_operator
from tests.test_who_may import METHODS, every_route

EVERYTHING = tuple(Permission)
OUTSIDER, THEIR_CARD = "Outsider", 31337


class Kept(TestCase):
    """One person inside of three scopes at once, and one outside of all of them."""

    def setUp(self) -> None:
        self.house = House()
        self.dive = Department.objects.create(number="20", name="Dive Team")
        self.divers = Department.objects.create(number="21", name="Deep Divers", parent=self.dive)
        self.company = Company.objects.create(name="Tidewright")
        self.slip_site = Site.objects.create(name="Ardle Slip", zone=ZONE)
        area = Area.objects.create(site=self.slip_site, name="Boat Shed")
        self.shed = Door.objects.create(name="Shed", area=area, controller=self.house.south)
        self.shed_reader = Reader.objects.create(
            name="Shed", door=self.shed, controller=self.house.south
        )
        self.shed_group = AccessGroup.objects.create(name="Shed people")
        Grant.objects.create(group=self.shed_group, door=self.shed, schedule=self.house.always)
        move_plan_version()
        self.insider = self.house.enrol(
            replace(
                self.house.draft("S-1", department_id=self.divers.pk, company_id=self.company.pk),
                memberships=(
                    MembershipDraft(self.shed_group.pk),
                    MembershipDraft(self.house.day_group.pk),
                ),
            )
        )
        draft = self.house.draft("X-1", last_name=OUTSIDER, department_id=self.house.department.pk)
        self.outsider = self.house.enrol(replace(draft, cards=(self.house.card(THEIR_CARD),)))
        self.portrait = Image.objects.create(
            token="f" * 32, cardholder_id=self.outsider, slot=0, width=600, height=800,
            crop=list(Box(0, 0, 600, 800)), taken_at=NOON,
        )  # fmt: skip
        self.read = self.read_of(self.outsider, self.house.gate, 1)
        self.bulk_change = begin_bulk_change(
            self.house.actor,
            BulkDraft(BulkAct.STANDING, "active"),
            Selection(ids=(self.outsider,)),
            NOON,
        )
        self.scopes: dict[str, dict[str, list[int]]] = {
            "departments": {"departments": [self.dive.pk]},
            "companies": {"companies": [self.company.pk]},
            "sites": {"sites": [self.slip_site.pk]},
        }

    def read_of(self, cardholder_id: int, door: Door, number: int) -> Read:
        holder = Cardholder.objects.get(pk=cardholder_id)
        return Read.objects.create(
            at=NOON, controller=door.controller, store="s", event_number=number, reader=door.readers.get(),
            reader_name=door.name, door=door, raw="26:0", format=self.house.format, facility_code=12,
            card_number=THEIR_CARD, reason="granted", cardholder=holder, cardholder_name=holder.display_name,
        )  # fmt: skip

    def client_kept(self, kind: str) -> Client:
        client = Client()
        client.force_login(an_operator(f"kept-{kind}", *EVERYTHING, limited_to=self.scopes[kind]))
        return client

    def ask(self, client: Client, method: str, path: str, body: Any = None) -> tuple[int, str]:
        answer = client.generic(
            method, path, json.dumps(body or {}), content_type="application/json"
        )
        content = b"".join(answer) if answer.streaming else answer.content
        return answer.status_code, content.decode()

    def file(self, **more: Any) -> dict[str, Any]:
        inside = {"department": self.dive.pk, "company": self.company.pk}
        return {"number": "S-9", "first_name": "Ines", "last_name": "New"} | inside | more


class OutOfReach(Kept):
    def test_a_guessed_id_answers_as_if_it_did_not_exist(self) -> None:
        nothing = "999999"
        for kind in self.scopes:
            client = self.client_kept(kind)
            by_start = {
                "/api/cardholders/": self.outsider,
                "/api/reads/": self.read.pk,
                "/api/bulk-changes/": self.bulk_change,
                "/api/images/": self.portrait.token,
            }
            if kind == "sites":
                by_start |= {
                    "/api/groups/": self.house.day_group.pk,
                    "/api/doors/": self.house.lab.pk,
                    "/api/controllers/": self.house.north.pk,
                    "/api/bench/controllers/": self.house.north.pk,
                }
            for route in every_route():
                id_ = next(
                    (str(id_) for start, id_ in by_start.items() if route.path.startswith(start)),
                    None,
                )
                if id_ is None or (nothing not in route.path and "nothing" not in route.path):
                    continue
                path = route.path.replace(nothing, id_, 1).replace("nothing", id_)
                for method in METHODS:
                    if route.has(method):
                        body = {
                            "version": 1,
                            "reason": "asked for",
                            "other": self.insider,
                            "other_version": 1,
                            "act": "release",
                            "ordered": "open",
                            "cardholders": [self.insider],
                            "into": self.shed_group.pk,
                            "groups": [self.shed_group.pk],
                            "is_kept": True,
                            "cardholder": self.insider,
                        }
                        body |= {
                            "format": self.house.format.pk,
                            "facility_code": 12,
                            "card_number": THEIR_CARD,
                        }
                        body |= self.file() | {
                            "page": "p",
                            "x": 0,
                            "y": 0,
                            "width": 300,
                            "height": 300,
                        }
                        with self.subTest(f"{kind}: {method} {path}"):
                            guessed = self.ask(client, method, path, body)
                            self.assertEqual(guessed, self.ask(client, method, route.path, body))
                            self.assertIn(guessed[0], (403, 404))

    def test_nobody_outside_is_named_or_counted_anywhere(self) -> None:
        for kind in self.scopes:
            client = self.client_kept(kind)
            texts = {
                route.path: self.ask(
                    client, "GET", route.path.replace("999999", str(self.insider))
                )[1]
                for route in every_route()
                if route.has("GET") and "wait_seconds" not in route.path
            }
            texts["find"] = self.ask(
                client, "GET", f"/api/cardholders/find/?text={OUTSIDER.lower()}"
            )[1]
            texts["export"] = self.ask(
                client,
                "POST",
                "/api/export/",
                {"kind": "csv", "columns": ["number", "last_name"], "filters": {}},
            )[1]
            texts["detective"] = self.ask(
                client, "POST", "/api/preview/number/", {"printed": str(THEIR_CARD)}
            )[1]
            for where, text in texts.items():
                with self.subTest(f"{kind}: {where}"):
                    self.assertNotIn(OUTSIDER, text)
                    self.assertNotIn("X-1", text)
            listed = json.loads(texts["/api/cardholders/"])
            self.assertEqual(
                ([row["id"] for row in listed["rows"]], listed["total"]), ([self.insider], 1)
            )
            self.assertIn("S-1", texts["export"])

    def test_nobody_outside_is_changed_by_an_act_on_many(self) -> None:
        client = self.client_kept("departments")
        act = {"act": "standing", "standing": "suspended", "reason": "leave"}

        selections: tuple[dict[str, Any], ...] = ({"ids": [self.outsider]}, {"filters": {}})
        for selection in selections:
            with self.subTest(selection):
                _, weighed = self.ask(client, "POST", "/api/preview/bulk-change/", act | selection)
                self.assertEqual(json.loads(weighed)["total"], 0 if "ids" in selection else 1)
                begun, _ = self.ask(client, "POST", "/api/bulk-changes/", act | selection)
                self.assertEqual(begun, 422 if "ids" in selection else 202)
        while work_on_bulk_changes(NOON):
            pass

        standing = dict(Cardholder.objects.values_list("id", "standing"))
        self.assertEqual((standing[self.insider], standing[self.outsider]), ("suspended", "active"))

    def test_who_stands_in_the_way_is_not_named(self) -> None:
        card = {"format": self.house.format.pk, "facility_code": 12, "card_number": THEIR_CARD}

        code, text = self.ask(
            self.client_kept("departments"),
            "POST",
            "/api/cardholders/new/",
            self.file(number="X-1", cards=[card]),
        )

        found = {(p["field"], p["code"], len(p["params"])) for p in json.loads(text)["problems"]}
        self.assertEqual(code, 422)
        self.assertEqual(
            found,
            {
                ("number", "cardholder.number_taken_elsewhere", 0),
                ("cards.0.card_number", "card.already_issued_elsewhere", 0),
            },
        )

    def test_a_script_is_kept_as_an_operator_is(self) -> None:
        role = Role.objects.get(name="Role of mara")
        draft = TokenDraft(
            "Kept", role.pk, timezone.now() + timedelta(days=1), self.scopes["departments"]
        )
        bearer = {"Authorization": f"Bearer {make_token(ANYBODY, draft, timezone.now())}"}

        listed = Client().get("/api/cardholders/", headers=bearer).json()
        guessed = Client().get(f"/api/cardholders/{self.outsider}/", headers=bearer)

        self.assertEqual(
            ([row["id"] for row in listed["rows"]], guessed.status_code), ([self.insider], 404)
        )


class WithinReach(Kept):
    def test_people_of_a_department_below_are_seen_and_saved(self) -> None:
        client = self.client_kept("departments")

        _, file = self.ask(client, "GET", f"/api/cardholders/{self.insider}/")
        code, _ = self.ask(
            client,
            "PUT",
            f"/api/cardholders/{self.insider}/",
            json.loads(file) | {"title": "Diver"},
        )

        self.assertEqual((code, Cardholder.objects.get(pk=self.insider).title), (200, "Diver"))

    def test_nobody_is_put_outside(self) -> None:
        for kind, field in (("departments", "department"), ("companies", "company")):
            client = self.client_kept(kind)
            for value, expected in (
                (None, "scope.needed"),
                (999999, "input.no_longer_there"),
                (self.house.department.pk, "input.no_longer_there"),
            ):
                if field == "company" and value == self.house.department.pk:
                    continue
                with self.subTest(field, value=value):
                    code, text = self.ask(
                        client, "POST", "/api/cardholders/new/", self.file(**{field: value})
                    )
                    problems = {(p["field"], p["code"]) for p in json.loads(text)["problems"]}
                    self.assertEqual((code, problems), (422, {(field, expected)}))
        self.assertEqual(Cardholder.objects.count(), 2)

    def test_a_group_of_another_site_is_hidden_and_kept_through_a_save(self) -> None:
        client = self.client_kept("sites")

        _, text = self.ask(client, "GET", f"/api/cardholders/{self.insider}/")
        file = json.loads(text)
        saved, _ = self.ask(
            client, "PUT", f"/api/cardholders/{self.insider}/", file | {"title": "Shipwright"}
        )
        gone, why = self.ask(
            client,
            "PUT",
            f"/api/cardholders/{self.insider}/",
            file | {"version": 2, "memberships": []},
        )
        given, _ = self.ask(
            client,
            "PUT",
            f"/api/cardholders/{self.insider}/",
            file
            | {"version": 2, "memberships": [*file["memberships"], {"group": self.house.boats.pk}]},
        )

        self.assertEqual([one["group"] for one in file["memberships"]], [self.shed_group.pk])
        groups = set(
            Membership.objects.filter(cardholder_id=self.insider).values_list("group_id", flat=True)
        )
        self.assertEqual((saved, groups), (200, {self.shed_group.pk, self.house.day_group.pk}))
        self.assertEqual((gone, json.loads(why)["title"], given), (422, "scope.would_be_gone", 422))

    def test_the_reach_that_is_shown_has_doors_of_the_site_alone(self) -> None:
        client = self.client_kept("sites")
        _, text = self.ask(client, "GET", f"/api/cardholders/{self.insider}/")

        _, weighed = self.ask(
            client, "POST", "/api/preview/", json.loads(text) | {"id": self.insider}
        )

        found = json.loads(weighed)
        self.assertEqual([one["door"] for one in found["reach"]], [self.shed.pk])
        self.assertEqual((found["gained"], found["lost"], found["to_send"]), ([], [], []))

    def test_whoever_is_kept_never_has_what_reaches_the_whole_house(self) -> None:
        client = self.client_kept("departments")

        _, session = self.ask(client, "GET", "/api/session/")

        self.assertEqual(set(json.loads(session)["permissions"]), set(Permission) - HOUSE_WIDE)

    def test_somebody_who_moves_out_of_reach_is_gone_with_the_next_request(self) -> None:
        client = self.client_kept("departments")
        Cardholder.objects.filter(pk=self.insider).update(department=self.house.department)

        self.assertEqual(self.ask(client, "GET", f"/api/cardholders/{self.insider}/")[0], 404)

    def test_the_journal_tells_of_people_within_reach_and_of_ones_own_acts(self) -> None:
        client = self.client_kept("departments")
        self.ask(client, "POST", "/api/cardholders/new/", self.file())

        _, text = self.ask(client, "GET", "/api/journal/")

        told = [topic["name"] for entry in json.loads(text)["entries"] for topic in entry["topics"]]
        self.assertIn("Tomas Reve", told)
        self.assertIn("Ines New", told)
        self.assertGreater(Entry.objects.count(), len(json.loads(text)["entries"]))
