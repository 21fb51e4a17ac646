"""Whoever asks: once only, with what token, and what the description promises them."""

import json
from pathlib import Path

from django.conf import settings
from django.test import Client
from django.utils import timezone

from cadrin.api.idempotency import KEPT_FOR, forget_answers
from cadrin.api.models import Answer
from cadrin.journal.models import Entry
from cadrin.operators.models import Tries
from cadrin.operators.permissions import Permission
from cadrin.operators.sealing import sealed_columns
from cadrin.people.models import Cardholder, Department
from tests.described import FOR_SCRIPTS, described
from tests.house import an_operator
from tests.with_a_token import WithAToken


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
            {"format": self.house.format.pk, "facility_code": 12, "card_number": 9}]), status=201)  # fmt: skip
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
