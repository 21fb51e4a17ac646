"""The API as its users would choose it."""

import json
from datetime import timedelta
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.cache import cache
from django.http import HttpResponse
from django.test import Client, TestCase
from django.utils import timezone

from cadrin.accounts.commands.tokens import TokenDraft, make_token
from cadrin.activity.models import Read
from cadrin.api.idempotency import KEPT_FOR, forget_answers
from cadrin.api.models import Answer
from cadrin.journal.models import Entry
from cadrin.operators.models import Role, Tries
from cadrin.operators.permissions import Permission
from cadrin.operators.sealing import sealed_columns
from cadrin.people.models import Cardholder, Department
from tests.described import FOR_SCRIPTS, described
from tests.house import ANYBODY, NOON, House, an_operator


class WithAToken(TestCase):
    def setUp(self) -> None:
        cache.clear()
        self.house = House()
        self.key = self.token("Sync")

    def token(self, name: str, **scope: list[int]) -> str:
        role = Role.objects.get(name="Role of mara")
        draft = TokenDraft(name, role.pk, timezone.now() + timedelta(days=1), scope)
        return make_token(ANYBODY, draft, timezone.now())

    def send(self, method: str, path: str, body: Any = None, **headers: str) -> HttpResponse:
        answer: HttpResponse = Client().generic(  # type: ignore[assignment]
            method,
            f"/api/v1{path}",
            json.dumps(body) if body is not None else "",
            content_type="application/json",
            headers={"Authorization": f"Bearer {self.key}"}
            | {name.replace("_", "-"): value for name, value in headers.items()},
        )
        return answer

    def ask(
        self, method: str, path: str, body: Any = None, *, status: int = 200, **headers: str
    ) -> Any:
        answer = self.send(method, path, body, **headers)
        self.assertEqual(answer.status_code, status, answer.content[:500])
        return json.loads(answer.content) if answer.content else None

    def problems(self, method: str, path: str, body: Any, **headers: str) -> dict[str | None, str]:
        answer = self.ask(method, path, body, status=422, **headers)
        return {problem["field"]: problem["code"] for problem in answer["problems"]}

    def person(self, **more: Any) -> dict[str, Any]:
        card = {"format": self.house.format.pk, "facility_code": 12, "card_number": 4751}
        return {
            "first_name": "Mara",
            "last_name": "Lindqvist",
            "external_id": "hr-7781",
            "email": "mara.lindqvist@skerrow.example",
            "department": self.house.department.pk,
            "cards": [card],
            "memberships": [{"group": self.house.day_group.pk}],
        } | more


class Cardholders(WithAToken):
    def test_are_enrolled_with_the_next_free_number_and_read_back(self) -> None:
        self.house.enrol(self.house.draft("S-00041"))
        answer = self.send("POST", "/cardholders", self.person(cards=[]))
        made = json.loads(answer.content)

        self.assertEqual((answer.status_code, made["number"]), (201, "S-00042"))
        self.assertEqual(answer["Location"], f"/api/v1/cardholders/{made['id']}")
        self.assertEqual(answer["ETag"], '"1"')
        self.assertEqual(self.ask("GET", f"/cardholders/{made['id']}"), made)
        self.assertEqual(self.ask("PUT", f"/cardholders/{made['id']}", made), made, "no act")

    def test_are_not_emptied_by_a_put_that_leaves_something_out(self) -> None:
        made = self.ask("POST", "/cardholders", self.person(), status=201)
        short = {name: made[name] for name in ("number", "first_name", "last_name", "version")}

        found = self.problems("PUT", f"/cardholders/{made['id']}", short | {"title": "Diver"})

        self.assertEqual(set(found.values()), {"input.required"})
        self.assertLessEqual({"cards", "memberships", "department", "standing"}, set(found))
        self.assertEqual(self.ask("GET", f"/cardholders/{made['id']}"), made)
        without = made | {"cards": [{"format": 1, "facility_code": 12, "card_number": 4751}]}
        self.assertIn("cards.0.label", self.problems("PUT", f"/cardholders/{made['id']}", without))

    def test_are_changed_in_what_a_patch_names_and_nothing_else(self) -> None:
        made = self.ask(
            "POST", "/cardholders", self.person(expiry_at="2027-01-01T00:00:00Z"), status=201
        )
        path = f"/cardholders/{made['id']}"

        changed = self.ask("PATCH", path, {"title": "Diver", "expiry_at": None, "email": None})

        expected = made | {"title": "Diver", "expiry_at": None, "email": "", "version": 2}
        self.assertEqual(changed, expected)
        self.assertEqual(
            self.ask("PATCH", path, {"memberships": []}),
            expected | {"memberships": [], "version": 3},
        )
        self.assertEqual(
            self.problems("PATCH", path, {"name": "x"}), {"name": "request.unknown_field"}
        )
        self.assertEqual(
            self.problems("PATCH", path, {"cards": [{"format": 1, "colour": "red"}]})[
                "cards.0.colour"
            ],
            "request.unknown_field",
        )

    def test_are_not_written_over_by_who_is_late(self) -> None:
        made = self.ask("POST", "/cardholders", self.person(), status=201)
        path = f"/cardholders/{made['id']}"
        self.ask("PATCH", path, {"title": "Diver"}, If_Match='"1"')

        late = self.ask("PATCH", path, {"title": "Cook"}, status=412, If_Match='"1"')
        in_body = self.ask("PUT", path, made | {"title": "Cook"}, status=409)

        self.assertEqual((late["status"], late["current_version"]), (412, 2))
        self.assertEqual(in_body["since"][0]["changes"], {"title": ["", "Diver"]})
        self.assertEqual(self.ask("GET", path)["title"], "Diver")
        whole = self.ask("GET", path)
        del whole["version"]
        self.assertEqual(self.problems("PUT", path, whole), {"version": "request.version_needed"})
        self.assertEqual(
            self.ask("PUT", path, whole | {"title": "Cook"}, If_Match='"2"')["version"], 3
        )

    def test_are_looked_up_by_whatever_they_are_known_by(self) -> None:
        made = self.ask("POST", "/cardholders", self.person(), status=201)
        for query in (
            f"number={made['number'].lower()}",
            "external_id=hr-7781",
            "email=mara.lindqvist@skerrow.example",
            "card=12-4751",
            "card=04751",
            "text=lindq",
            f"department={self.house.department.pk}",
        ):
            with self.subTest(query):
                found = self.ask("GET", f"/cardholders?{query}")
                self.assertEqual([row["id"] for row in found["items"]], [made["id"]])
        for query in ("external_id=hr-778", "card=13-4751", "number=S-9"):
            self.assertEqual(self.ask("GET", f"/cardholders?{query}")["items"], [])
        for query, code in (
            ("colour=red", "request.unknown_field"),
            ("card=x", "list.card_not_readable"),
            ("limit=0", "input.min_value"),
            ("cursor=x", "list.unknown_key"),
        ):
            self.assertEqual(
                list(self.problems("GET", f"/cardholders?{query}", None).values()), [code]
            )

    def test_are_paged_once_each_whatever_the_size(self) -> None:
        ids = self.house.enrol_many(7)
        for limit in (1, 3, 7, 50):
            found, cursor, pages = [], "", 0
            while cursor is not None:
                page = self.ask("GET", f"/cardholders?limit={limit}&cursor={cursor}&sort=number")
                found += [row["id"] for row in page["items"]]
                cursor, pages = page["next"], pages + 1
            self.assertEqual((found, pages), (ids, -(-7 // limit)))

    def test_are_put_into_access_groups_and_taken_out(self) -> None:
        made = self.ask("POST", "/cardholders", self.person(), status=201)
        path = f"/cardholders/{made['id']}/memberships/{self.house.boats.pk}"

        both = self.ask("PUT", path, {"expiry_at": "2027-01-01T00:00:00Z"})["memberships"]
        one = self.ask("DELETE", path)["memberships"]

        self.assertEqual(
            [row["group"] for row in both], [self.house.day_group.pk, self.house.boats.pk]
        )
        self.assertEqual(both[1]["expiry_at"], "2027-01-01T00:00:00+00:00")
        self.assertEqual([row["group"] for row in one], [self.house.day_group.pk])
        self.ask("DELETE", path, status=404)
        members = f"/groups/{self.house.boats.pk}/members"
        self.assertEqual(self.ask("POST", members, {"cardholders": [made["id"]]}), {"added": 1})
        self.assertEqual(
            [row["cardholder"] for row in self.ask("GET", members)["items"]], [made["id"]]
        )

    def test_known_elsewhere_by_the_same_are_refused(self) -> None:
        self.ask("POST", "/cardholders", self.person(), status=201)

        self.assertEqual(
            self.problems("POST", "/cardholders", self.person(cards=[])),
            {"external_id": "cardholder.external_id_taken"},
        )


class Cards(WithAToken):
    def test_are_given_changed_and_taken_back(self) -> None:
        made = self.ask("POST", "/cardholders", self.person(), status=201)
        own = made["cards"][0]["id"]
        given = self.ask(
            "POST",
            "/cards",
            {"holder": made["id"], "format": 1, "facility_code": 12, "card_number": 9, "label": "spare"},
            status=201,
        )  # fmt: skip

        lost = self.ask("PATCH", f"/cards/{own}", {"status": "lost"})
        self.ask("DELETE", f"/cards/{given['id']}", status=204)

        self.assertEqual((given["holder"], given["label"]), (made["id"], "spare"))
        self.assertEqual((lost["status"], lost["holder"]), ("lost", made["id"]))
        self.assertEqual(self.ask("GET", f"/cards/{given['id']}")["holder"], None)
        held = self.ask("GET", f"/cards?holder={made['id']}")["items"]
        self.assertEqual([card["id"] for card in held], [own])
        self.assertEqual(self.ask("GET", f"/cardholders/{made['id']}")["cards"], [
            {name: value for name, value in lost.items() if name != "holder"}
        ])  # fmt: skip
        self.assertEqual(
            self.problems("PATCH", f"/cards/{own}", {"card_number": 8}),
            {None: "card.stays_one_card"},
        )


class OtherResources(WithAToken):
    def test_are_listed_got_changed_and_kept_whole(self) -> None:
        self.house.enrol()
        for path, change in (
            ("/groups", {"remarks": "By boat"}),
            ("/schedules", {"name": "Other hours"}),
            ("/departments", {"name": "Other office"}),
            ("/readers", {"has_keypad": True}),
        ):
            with self.subTest(path):
                one = self.ask("GET", path)["items"][0]
                here = f"{path}/{one['id']}"
                self.assertEqual(self.ask("GET", here), one)
                changed = self.ask("PATCH", here, change)
                self.assertEqual(changed, one | change | {"version": one["version"] + 1})
                self.assertEqual(self.ask("PUT", here, changed), changed)
                self.assertEqual(
                    set(self.problems("PUT", here, {"version": 2}).values()), {"input.required"}
                )
        for path in ("/doors", "/controllers", "/sites", "/formats"):
            rows = self.ask("GET", f"{path}?limit=1")
            self.assertEqual(len(rows["items"]), 1, path)
        for path in ("/doors", "/controllers"):
            one = self.ask("GET", path)["items"][0]
            self.assertEqual(self.ask("GET", f"{path}/{one['id']}"), one)

    def test_are_made_and_removed(self) -> None:
        for path, body in (
            ("/groups", {"name": "Night", "grants": []}),
            ("/schedules", {"name": "Night", "zone": "UTC", "hours": [[0, 0, 60]]}),
        ):
            made = self.ask("POST", path, body, status=201)
            self.assertEqual(made | body, made)
            self.ask("DELETE", f"{path}/{made['id']}", status=204)
            self.ask("GET", f"{path}/{made['id']}", status=404)
        made = self.ask("POST", "/departments", {"number": "70", "name": "Divers"}, status=201)
        self.assertEqual(Department.objects.get(pk=made["id"]).name, "Divers")

    def test_reads_are_told_since_a_mark_oldest_first(self) -> None:
        made = [
            Read.objects.create(
                at=NOON - timedelta(minutes=place), controller=self.house.south, store="s",
                event_number=place, reader=self.house.slip_reader, door=self.house.slip,
                raw="26:0", reason="granted" if place % 2 else "unknown_card",
            ).pk
            for place in range(1, 6)
        ]  # fmt: skip

        newest = self.ask("GET", "/reads?limit=2")
        since = self.ask("GET", f"/reads?after={made[1]}&limit=2")
        rest = self.ask("GET", f"/reads?after={made[1]}&limit=2&cursor={since['next']}")

        self.assertEqual([row["id"] for row in newest["items"]], made[:2:-1])
        self.assertEqual([row["id"] for row in since["items"]], made[2:4])
        self.assertEqual([row["id"] for row in rest["items"]], made[4:])
        self.assertEqual(
            [row["id"] for row in self.ask("GET", "/reads?after=0&denied=true")["items"]],
            made[1::2],
        )
        self.assertEqual(self.ask("GET", f"/reads/{made[0]}")["reason"], "granted")

    def test_the_journal_tells_what_scripts_did(self) -> None:
        made = self.ask("POST", "/cardholders", self.person(), status=201)
        found = self.ask("GET", f"/journal?cardholder={made['id']}&act=cardholder")["items"]

        self.assertEqual(
            [(row["operator_name"], row["action"]) for row in found],
            [("Sync (API)", "cardholder.enrolled")],
        )
        self.assertEqual(self.ask("GET", f"/journal/{found[0]['id']}"), found[0])
        self.ask("GET", f"/journal/{found[0]['id'] + 100}", status=404)


class OnceOnly(WithAToken):
    def test_is_what_is_sent_again_with_its_key(self) -> None:
        body = self.person(pins=[{"is_generated": True}])
        first = self.send("POST", "/cardholders", body, Idempotency_Key="a")
        entries = Entry.objects.count()
        again = self.send("POST", "/cardholders/", body, Idempotency_Key="a")

        self.assertEqual((first.status_code, again.status_code), (201, 201))
        self.assertEqual(json.loads(again.content), json.loads(first.content))
        self.assertEqual((again["Location"], again["ETag"]), (first["Location"], first["ETag"]))
        self.assertEqual((Cardholder.objects.count(), Entry.objects.count()), (1, entries))
        digits = json.loads(first.content)["shown_pins"][0]["digits"]
        self.assertNotIn(digits, Answer.objects.get().sealed)
        self.assertIn((Answer, "sealed"), sealed_columns(), "sealed anew with all others")

    def test_refuses_the_key_for_anything_else(self) -> None:
        self.ask("POST", "/cardholders", self.person(), status=201, Idempotency_Key="a")

        found = self.problems(
            "POST", "/cardholders", self.person(title="Diver"), Idempotency_Key="a"
        )

        self.assertEqual(found, {"Idempotency-Key": "request.key_used_otherwise"})

    def test_forgets_refusals_and_what_is_old_and_knows_whose_key_it_is(self) -> None:
        self.problems(
            "POST", "/cardholders", self.person(first_name="", last_name=""), Idempotency_Key="a"
        )
        self.ask("POST", "/cardholders", self.person(), status=201, Idempotency_Key="a")
        self.key = self.token("Another")
        self.ask(
            "POST",
            "/cardholders",
            self.person(cards=[], external_id=""),
            status=201,
            Idempotency_Key="a",
        )
        self.assertEqual(Answer.objects.count(), 2)

        self.assertEqual(forget_answers(timezone.now() + KEPT_FOR), 2)

    def test_still_counts_pins_that_are_refused(self) -> None:
        self.house.enrol(self.house.draft("S-9", born_on=None))
        pins = [{"digits": "481509", "opens_alone": True}]
        self.ask("POST", "/cardholders", self.person(cards=[], pins=pins), status=201)
        other = self.person(cards=[], external_id="", pins=pins)

        found = self.problems("POST", "/cardholders", other, Idempotency_Key="a")

        self.assertEqual(found, {"pins.0.digits": "pin.choose_another"})
        self.assertEqual(Tries.objects.get().failures, 1)
        self.assertTrue(Entry.objects.filter(action="pin.refused").exists())


class WhoAsks(WithAToken):
    def test_is_told_how_to_sign_in_what_there_is_and_what_is_not(self) -> None:
        nobody = Client().get("/api/v1/cardholders")
        self.assertEqual((nobody.status_code, nobody["WWW-Authenticate"]), (401, "Bearer"))
        for path in ("/api/v1/cardholders", "/api/v1/cardholders/", "/api/groups", "/api/groups/"):
            answer = Client().generic(
                "TRACE", path, headers={"Authorization": f"Bearer {self.key}"}
            )
            self.assertEqual(answer.status_code, 405, path)
            self.assertIn("GET", answer["Allow"])
            self.assertEqual(answer["Content-Type"], "application/problem+json")
        for path in ("/nothing", "/nothing/", "/cardholders/99", "/cardholders/99/"):
            self.assertEqual(self.ask("GET", path, status=404)["status"], 404)
        self.ask("DELETE", "/journal", status=405)
        self.assertEqual(self.send("HEAD", "/cardholders").status_code, 200)

    def test_sees_no_further_than_their_scope(self) -> None:
        lab = Department.objects.create(number="20", name="Lab")
        inside = self.house.enrol(self.house.draft("S-1", department_id=lab.pk))
        outside = self.ask("POST", "/cardholders", self.person(cards=[
            {"format": 1, "facility_code": 12, "card_number": 9}]), status=201)  # fmt: skip
        self.key = self.token("Lab only", departments=[lab.pk])

        people = self.ask("GET", "/cardholders")["items"]
        cards = self.ask("GET", "/cards")["items"]

        self.assertEqual([row["id"] for row in people], [inside])
        self.assertEqual({card["holder"] for card in cards}, {inside})
        for path in (f"/cardholders/{outside['id']}", f"/cards/{outside['cards'][0]['id']}"):
            self.ask("GET", path, status=404)
            self.ask("PATCH", path, {}, status=404)
        members = self.ask("GET", f"/groups/{self.house.day_group.pk}/members")["items"]
        self.assertEqual([row["cardholder"] for row in members], [inside])


class TheDescription(WithAToken):
    def test_is_small_and_has_words_for_everything(self) -> None:
        kept = Path(settings.ROOT, FOR_SCRIPTS)
        found = described(FOR_SCRIPTS)

        self.assertLess(kept.stat().st_size, 150_000)
        self.assertEqual(self.ask("GET", "/openapi.json"), found)
        operations = [one for methods in found["paths"].values() for one in methods.values()]
        self.assertEqual([one for one in operations if not one.get("summary")], [])
        wordless = [
            f"{shape}.{name}"
            for shape, described_shape in found["components"]["schemas"].items()
            for name, field in described_shape.get("properties", {}).items()
            if not field.get("description")
        ]
        unsaid = [
            f"{one['operationId']}?{parameter['name']}"
            for one in operations
            for parameter in one.get("parameters", ())
            if parameter["in"] == "query" and not parameter.get("description")
        ]
        self.assertEqual((wordless, unsaid), ([], []))

    def test_has_a_viewer_for_those_signed_in_that_fetches_nothing_from_elsewhere(self) -> None:
        client = Client()
        self.assertEqual(client.get("/api/v1").status_code, 401)
        client.force_login(an_operator("reader", Permission.SEE))

        page = client.get("/api/v1/").content.decode()

        self.assertIn("swagger-ui", page)
        self.assertNotIn("://", page)
