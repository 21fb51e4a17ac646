"""The API as a whole: who may ask, what is refused and how, and the shape of every refusal."""

import json
from datetime import date
from typing import Any

from django.core.cache import cache
from django.test import Client, TestCase, override_settings

from cadrin.core.people.details import LONGEST
from cadrin.operators.permissions import Permission
from cadrin.people.models import Cardholder
from cadrin.sites.models import Schedule
from tests.house import House, an_operator


class Api(TestCase):
    def setUp(self) -> None:
        cache.clear()
        self.house = House()
        self.client.force_login(self.house.operator)

    def ask(
        self, method: str, path: str, body: Any = None, client: Client | None = None
    ) -> tuple[int, Any]:
        answer = (client or self.client).generic(
            method,
            path,
            json.dumps(body) if body is not None else "",
            content_type="application/json",
        )
        return answer.status_code, answer.json() if answer.content else None

    def whole(self, **more: Any) -> dict[str, Any]:
        """Return a body with every field, as a save of somebody who is there needs it."""
        empty: dict[str, Any] = self.ask("GET", "/api/cardholders/new/")[1]
        return empty | self.file(**more)

    def file(self, **more: Any) -> dict[str, Any]:
        card = {"format": self.house.format.pk, "facility_code": 12, "card_number": 4751}
        body = {"number": "S-1", "first_name": "Tomas", "last_name": "Reve", "cards": [card]}
        return body | {"memberships": [{"group": self.house.day_group.pk}]} | more

    def problems(
        self, method: str, path: str, body: Any, status: int = 422
    ) -> set[tuple[str | None, str]]:
        code, answer = self.ask(method, path, body)
        self.assertEqual(code, status, answer)
        return {(problem["field"], problem["code"]) for problem in answer["problems"]}


class WhatIsRefused(Api):
    def test_a_body_that_is_no_json_changes_nothing(self) -> None:
        for body in ("{not json", "[1, 2", "\x00"):
            with self.subTest(body):
                answer = self.client.generic(
                    "POST", "/api/cardholders/new/", body, content_type="application/json"
                )
                self.assertEqual(
                    (answer.status_code, answer.json()["title"]), (400, "request.not_readable")
                )
                self.assertEqual(answer.headers["Content-Type"], "application/problem+json")
        form = self.client.post("/api/cardholders/new/", {"number": "S-1"})
        self.assertEqual((form.status_code, form.json()["title"]), (415, "request.not_json"))
        self.assertFalse(Cardholder.objects.exists())

    def test_a_body_in_another_encoding_changes_nothing(self) -> None:
        body = json.dumps(self.file(last_name="Lindqvåst"), ensure_ascii=False).encode("latin-1")

        answer = self.client.generic(
            "POST", "/api/cardholders/new/", body, content_type="application/json"
        )

        self.assertEqual(
            (answer.status_code, answer.json()["title"]), (400, "request.not_readable")
        )
        self.assertFalse(Cardholder.objects.exists())

    def test_every_field_of_a_file_tells_what_is_too_long_or_of_the_wrong_type(self) -> None:
        long = {
            name: "x" * (most + 1)
            for name, most in LONGEST.items()
            if name not in ("language", "email")
        }
        found = self.problems(
            "POST", "/api/cardholders/new/", self.file(**long, email=f"{'x' * 250}@skerrow.example")
        )
        self.assertLessEqual({(name, "input.too_long") for name in (*long, "email")}, found)
        self.assertIn(
            ("last_name", "input.too_long"),
            self.problems("POST", "/api/cardholders/new/", self.file(last_name="n" * 300)),
        )

        wrong: dict[str, Any] = {
            "phones": "01632",
            "born_on": "yesterday",
            "extended_time": "perhaps",
            "own": [],
            "images": [1, 2, 3, 4],
            "department": "Lab",
            "standing": "gone",
            "version": "first",
        }
        told = {
            str(field).partition(".")[0]
            for field, _ in self.problems("POST", "/api/cardholders/new/", self.file(**wrong))
        }
        self.assertLessEqual(set(wrong), told)
        for name in ("first_name", "last_name", "title"):
            for mark in ("\u200b", "\u200f", "\u202e"):
                with self.subTest(name, mark=repr(mark)):
                    told_of = self.problems(
                        "POST", "/api/cardholders/new/", self.file(**{name: f"Re{mark}ve"})
                    )
                    self.assertIn((name, "input.invisible_characters"), told_of)
        self.assertFalse(Cardholder.objects.exists())

    def test_who_may_not_see_birth_dates_neither_sees_nor_changes_one(self) -> None:
        id_ = self.house.enrol(self.house.draft(born_on=date(1980, 5, 17)))
        clerk = Client()
        clerk.force_login(
            an_operator(
                "clerk", Permission.SEE, Permission.EDIT, Permission.ISSUE, Permission.ACCESS
            )
        )

        _, file = self.ask("GET", f"/api/cardholders/{id_}/", None, clerk)
        _, history = self.ask("GET", f"/api/cardholders/{id_}/history/", None, clerk)
        code, _ = self.ask("PUT", f"/api/cardholders/{id_}/", file | {"title": "Diver"}, clerk)

        self.assertIsNone(file["born_on"])
        self.assertNotIn("born_on", json.dumps(history))
        kept = Cardholder.objects.get(pk=id_)
        self.assertEqual((code, kept.title, kept.born_on), (200, "Diver", date(1980, 5, 17)))

    def test_each_field_that_is_wrong_is_named(self) -> None:
        card = {"format": "x", "facility_code": 2**70, "card_number": None}
        body = self.file(
            expiry_at="2026-02-30T00:00",
            department="Lab",
            standing="gone",
            cards=[card],
            memberships=[{"group": 999}],
        )

        found = self.problems("POST", "/api/cardholders/new/", body)

        self.assertEqual(
            found,
            {
                ("expiry_at", "input.invalid"),
                ("department", "input.invalid"),
                ("standing", "input.invalid_choice"),
                ("cards.0.format", "input.invalid"),
                ("cards.0.facility_code", "input.max_value"),
                ("cards.0.card_number", "input.null"),
            },
        )
        self.assertFalse(Cardholder.objects.exists())

    def test_in_the_hour_that_comes_twice_instants_are_compared_and_kept_as_they_are(self) -> None:
        # forty minutes later, in winter time
        first, again = ("2026-10-25T01:30:00+01:00", "2026-10-25T01:10:00+00:00")

        code, saved = self.ask(
            "POST", "/api/cardholders/new/", self.file(activation_at=first, expiry_at=again)
        )
        refused, problem = self.ask(
            "POST", "/api/cardholders/new/", self.file(activation_at=again, expiry_at=first)
        )

        self.assertEqual((code, refused), (201, 422))
        self.assertEqual(problem["problems"][0]["code"], "span.ends_before_it_begins")
        kept = Cardholder.objects.get(pk=saved["id"])
        self.assertEqual((kept.expiry_at - kept.activation_at).total_seconds(), 40 * 60)  # type: ignore[operator]

    def test_an_instant_is_kept_to_the_second_as_doors_know_it(self) -> None:
        _, saved = self.ask(
            "POST", "/api/cardholders/new/", self.file(expiry_at="2026-07-01T16:30:00.750Z")
        )

        self.assertEqual(
            str(Cardholder.objects.get(pk=saved["id"]).expiry_at), "2026-07-01 16:30:00+00:00"
        )

    def test_a_new_use_limit_is_said_to_be_sent(self) -> None:
        _, saved = self.ask("POST", "/api/cardholders/new/", self.file())
        saved["cards"][0]["use_limit"] = 3

        _, found = self.ask("POST", "/api/preview/", saved | {"id": saved["id"]})

        self.assertEqual(
            [(one["controller"], one["act"]) for one in found["to_send"]],
            [(self.house.north.pk, "put")],
        )

    def test_a_time_that_the_clocks_skip_is_refused_and_others_are_the_wall_s(self) -> None:
        # Europe/London goes forward at 01:00 UTC on 29 March 2026 (IANA time zone database)
        skipped = self.problems(
            "POST", "/api/cardholders/new/", self.file(expiry_at="2026-03-29T01:30")
        )
        _, saved = self.ask(
            "POST", "/api/cardholders/new/", self.file(expiry_at="2026-07-01T17:30")
        )

        self.assertEqual(skipped, {("expiry_at", "input.make_aware")})
        expiry_at = Cardholder.objects.get(pk=saved["id"]).expiry_at
        self.assertEqual(expiry_at and expiry_at.isoformat(), "2026-07-01T16:30:00+00:00")

    def test_a_schedule_with_bad_hours_and_zone(self) -> None:
        body = {
            "name": "Odd",
            "zone": "Moon/Crater",
            "hours": [[0, 480, 600], [0, 540, 660], [8, 0, 60], [1, 60, 60]],
        }

        found = self.problems("POST", "/api/schedules/", body)

        self.assertEqual(
            found,
            {
                ("zone", "schedule.unknown_zone"),
                ("hours.1", "schedule.hours_overlap"),
                ("hours.2", "schedule.hours_outside"),
                ("hours.3", "schedule.hours_empty"),
            },
        )
        self.assertEqual(
            self.problems("POST", "/api/schedules/", body | {"hours": []}) - found,
            {("hours", "schedule.no_hours")},
        )
        self.assertEqual(Schedule.objects.count(), 2)

    def test_a_stale_save_tells_who_changed_what(self) -> None:
        _, saved = self.ask("POST", "/api/cardholders/new/", self.file())
        path = f"/api/cardholders/{saved['id']}/"
        self.ask("PUT", path, self.whole(version=1, title="Diver"))

        code, answer = self.ask("PUT", path, self.whole(version=1, title="Cook"))

        self.assertEqual((code, answer["current_version"]), (409, 2))
        self.assertEqual(
            [(entry["operator_name"], entry["changes"]) for entry in answer["since"]],
            [("Mara", {"title": ["", "Diver"]})],
        )
        self.assertEqual(self.ask("GET", path)[1]["title"], "Diver")

    def test_a_save_that_leaves_something_out_is_refused_and_empties_nothing(self) -> None:
        _, saved = self.ask("POST", "/api/cardholders/new/", self.file())
        path = f"/api/cardholders/{saved['id']}/"

        found = self.problems(
            "PUT", path, {"version": 1, "number": "S-1", "first_name": "T", "last_name": "R"}
        )

        self.assertLessEqual({("cards", "input.required"), ("department", "input.required")}, found)
        self.assertEqual(self.ask("GET", path)[1], saved)

    def test_what_is_not_there_is_not_found(self) -> None:
        for method, path, body in (
            ("GET", "/api/cardholders/999/", None),
            ("PUT", "/api/cardholders/999/", self.file(version=1)),
            ("PUT", "/api/groups/999/", {"name": "X", "version": 1}),
            ("DELETE", "/api/groups/999/", None),
            ("DELETE", "/api/schedules/999/", None),
            ("GET", "/api/reads/999/", None),
            ("GET", "/api/doors/999/people/", None),
            ("POST", "/api/controllers/999/check/", None),
            ("GET", "/api/bench/", None),
        ):
            with self.subTest(f"{method} {path}"):
                self.assertEqual(self.ask(method, path, body)[0], 404)

    def test_a_list_asked_for_nonsense(self) -> None:
        for query, field in (
            ("sort=shoe", "sort"),
            ("state=asleep", "state"),
            ("department=x", "department"),
            ("after=a|b", "after"),
        ):
            with self.subTest(query):
                code, answer = self.ask("GET", f"/api/cardholders/?{query}")
                self.assertEqual((code, answer["problems"][0]["field"]), (422, field))

    @override_settings(STANDINS_URL="http://127.0.0.1:9")
    def test_a_test_bench_that_does_not_answer_is_told_so(self) -> None:
        code, answer = self.ask(
            "POST", "/api/bench/reads/", {"reader": self.house.gate_reader.pk, "raw": "26:2F764DD"}
        )

        self.assertEqual((code, answer["title"]), (404, "bench.does_not_answer"))
