"""The API as its users would choose it."""

import json
from datetime import timedelta

from cadrin.activity.models import Read
from cadrin.people.models import Department
from tests.house import NOON
from tests.with_a_token import WithAToken


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
        without = made | {
            "cards": [{"format": self.house.format.pk, "facility_code": 12, "card_number": 4751}]
        }
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
            self.problems(
                "PATCH", path, {"cards": [{"format": self.house.format.pk, "colour": "red"}]}
            )["cards.0.colour"],
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
            {"holder": made["id"], "format": self.house.format.pk, "facility_code": 12, "card_number": 9,
             "label": "spare"},
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
