"""The front end's logic about access: addresses, questions, the plan, reach; held against Python's own."""

from random import Random
from typing import Any
from unittest import TestCase

from tests.browser.logic import TIMES, called


class Addresses(TestCase):
    def test_hold_what_is_asked_of_a_question_and_give_it_back(self) -> None:
        random = Random(8)
        asked = [
            {
                **{
                    name: random.choice([None, random.randrange(1, 10**6)])
                    for name in ("door", "cardholder", "other", "group", "area")
                },
                "doors": random.sample(range(1, 600), random.randrange(4)),
                "days": random.choice([1, 90, 400]),
                "at": random.choice([None, "2026-06-01T12:00"]),
                "otherAt": random.choice([None, "2026-06-01T12:00:00+02:00"]),
            }
            for _ in range(TIMES)
        ]
        queries = called("askedAsQuery", [[one] for one in asked])
        self.assertEqual(called("askedFromQuery", [[one] for one in queries]), asked)

    def test_that_somebody_wrote_by_hand_are_read_as_far_as_they_can_be(self) -> None:
        written = {"door": "7", "area": "1 or 2", "at": "soon", "doors": "3,x,,4", "days": "-1"}
        (asked,) = called("askedFromQuery", [[written]])
        self.assertEqual((asked["door"], asked["doors"], asked["days"]), (7, [3, 4], 90))
        self.assertEqual((asked["area"], asked["at"]), (None, None))

    def test_of_a_new_group_bring_its_grants(self) -> None:
        random = Random(9)
        grants = [
            [
                {"way": random.choice(["both", "in", "out"]), "schedule": random.randrange(1, 99)}
                | (
                    {"door": None, "area": random.randrange(1, 99)}
                    if random.random() < 0.4
                    else {"door": random.randrange(1, 999), "area": None}
                )
                for _ in range(random.randrange(5))
            ]
            for _ in range(50)
        ]
        texts = called("grantsAsQuery", [[one] for one in grants])
        self.assertEqual(called("grantsFromQuery", [[text] for text in texts]), grants)
        self.assertEqual(called("grantsFromQuery", [["d1-2,nonsense,a-4,x3-4"], [None]]),
                         [[{"door": 1, "area": None, "schedule": 2, "way": "both"}], []])  # fmt: skip


class Filters(TestCase):
    def test_of_the_list_come_back_from_the_address_as_they_went_into_it(self) -> None:
        random = Random(9)
        for _ in range(TIMES):
            whole = {
                "group": random.randrange(99), "department": random.randrange(99), "text": "Å & b",
                "not_ready": True, "state": "expired", "ending_within_days": 30,
            }  # fmt: skip
            filters = {name: whole[name] for name in random.sample(list(whole), 3)}
            order = random.choice(["name", "-expiry"])

            (query,) = called("filtersAsQuery", [[filters, order]])
            (read,) = called("filtersFromQuery", [[query]])

            self.assertEqual(read["sort"], order)
            self.assertEqual({n: v for n, v in read["filters"].items() if v is not None}, filters)

    def test_that_cannot_be_read_are_not_asked_for(self) -> None:
        (read,) = called("filtersFromQuery", [[{"group": "seven", "not_ready": "maybe"}]])

        self.assertEqual([value for value in read["filters"].values() if value is not None], [])


class AreasOnThePlan(TestCase):
    def test_stay_whole_on_it_wherever_they_are_put_and_however_they_are_pulled(self) -> None:
        random = Random(12)
        calls: list[list[Any]] = []
        for _ in range(TIMES):
            x, y = random.randrange(991), random.randrange(991)
            width, height = random.randint(10, 1000 - x), random.randint(10, 1000 - y)
            area = {"area_id": 1, "x": x, "y": y, "width": width, "height": height}
            calls.append([area, random.uniform(-500, 1500), random.uniform(-500, 1500)])
        for (area, x, y), to in zip(calls, called("movedArea", calls), strict=True):
            self.assertEqual((to["width"], to["height"]), (area["width"], area["height"]))
            for place, wanted, length in (("x", x, "width"), ("y", y, "height")):
                most = 1000 - area[length]
                self.assertAlmostEqual(to[place], min(most, max(0, wanted)), delta=0.5)
        for (area, width, height), to in zip(calls, called("sizedArea", calls), strict=True):
            self.assertEqual((to["x"], to["y"]), (area["x"], area["y"]))
            for place, wanted, length in (("x", width, "width"), ("y", height, "height")):
                most = 1000 - area[place]
                self.assertAlmostEqual(to[length], min(most, max(10, wanted)), delta=0.5)


class Questions(TestCase):
    def test_are_asked_as_soon_as_enough_is_said_and_not_before(self) -> None:
        nothing = called("askedFromQuery", [[{}]])[0]
        enough: dict[str, dict[str, Any]] = {
            "door": {"door": 1},
            "area": {"area": 1},
            "person": {"cardholder": 1},
            "group": {"group": 1},
            "way": {"cardholder": 1, "area": 2},
            "compare": {"cardholder": 1, "other": 2},
            "instants": {"cardholder": 1, "at": "2026-06-01T12:00"},
            "unused": {"doors": [1]},
        }
        for question, said in enough.items():
            for left_out in said:
                less = nothing | {name: v for name, v in said.items() if name != left_out}
                self.assertEqual(called("parametersOf", [[question, less]]), [None], question)
            self.assertIsNotNone(called("parametersOf", [[question, nothing | said]])[0], question)

    def test_the_picture_shows_what_fits_both_names_and_no_empty_line(self) -> None:
        random = Random(10)
        named: dict[str, Any] = {
            "groups": [{"id": n, "name": f"{'Lab' if n % 3 else 'Quay'} {n}"} for n in range(9)],
            "doors": [{"id": n, "name": f"Door {n}", "area": "East"} for n in range(20)],
            "strips": [[], [[0, 1440]], [[480, 1080]]],
            "minutes": 1440,
        }
        places = [(group, door) for group in range(9) for door in range(20)]
        for group_words, door_words in (
            ("", ""),
            ("lab", "door 1"),
            ("quay", "EAST"),
            ("none", ""),
        ):
            cells = [[*one, random.randrange(3)] for one in random.sample(places, 40)]
            (shown,) = called(
                "fittingInMatrix", [[named | {"cells": cells}, group_words, door_words]]
            )
            expected = {
                (named["groups"][group]["name"], named["doors"][door]["name"]): named["strips"][
                    strip
                ]
                for group, door, strip in cells
                if group_words in named["groups"][group]["name"].lower()
                and door_words.lower() in f"{named['doors'][door]['name']} East".lower()
            }
            found = {
                (shown["groups"][place]["name"], row["door"]["name"]): strip
                for row in shown["rows"]
                for place, strip in enumerate(row["strips"])
                if strip is not None
            }
            self.assertEqual(found, expected)
            self.assertEqual(
                {row["door"]["name"] for row in shown["rows"]}, {d for _, d in expected}
            )
            self.assertEqual({one["name"] for one in shown["groups"]}, {g for g, _ in expected})


class Plans(TestCase):
    def test_a_door_that_is_moved_stays_on_the_sheet(self) -> None:
        place = {"door_id": 3, "x": 500, "y": 500}
        moves = [[place, -40, 20.4], [place, 1000.6, 3], [place, 12, 5000]]
        found = [(one["x"], one["y"], one["door_id"]) for one in called("movedOnPlan", moves)]
        self.assertEqual(found, [(0, 20, 3), (1000, 3, 3), (12, 1000, 3)])


class Reach(TestCase):
    def house(
        self, random: Random, count: int
    ) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
        """Return doors in three areas, and what somebody has of each."""
        doors = [
            {
                "id": n, "name": f"Door {n:03}", "controller_id": n % 4, "site_name": "Skerrow Point",
                "area_name": random.choice(["Quay", "Plant", "Offices"]),
            }
            for n in range(count)
        ]  # fmt: skip
        reach = []
        for door in doors:
            is_lit = random.random() < 0.2
            spans = [{"start": "2026-06-01T08:00:00Z", "end": "2026-06-01T09:00:00Z"}] * is_lit
            is_open = is_lit and random.random() < 0.5
            reach.append(
                {"door": door["id"], "is_open": is_open, "open_spans": spans, "reason_out": None}
            )
        return doors, reach

    def test_shows_every_door_of_few_and_folds_only_those_of_many_that_never_open(self) -> None:
        random = Random(12)
        for count in (0, 12, 40, 41, 300):
            doors, reach = self.house(random, count)
            lit = {one["door"] for one in reach if one["open_spans"]}
            old = {door["id"] for door in doors if door["controller_id"] == 2}
            (few, whole, one) = called(
                "reachByArea",
                [
                    [reach, doors, [2], *asked]
                    for asked in (("", False), ("", True), ("DOOR 007", False))
                ],
            )
            ids = {row["id"] for area in few["areas"] for row in area["doors"]}
            everything = {door["id"] for door in doors}
            self.assertEqual(ids, lit | old if count > 12 else everything)
            self.assertEqual(few["folded"], count - len(ids))
            self.assertEqual(
                {row["id"] for area in whole["areas"] for row in area["doors"]}, everything
            )
            self.assertEqual(whole["folded"], 0)
            if count > 40:
                self.assertEqual([[r["id"] for r in a["doors"]] for a in one["areas"]], [[7]])

    def test_puts_first_where_they_come_in_and_of_many_the_doors_that_are_open(self) -> None:
        doors, reach = self.house(Random(13), 300)
        (shown,) = called("reachByArea", [[reach, doors, [], "", True]])
        comes_in = [
            any(row["reach"]["open_spans"] for row in area["doors"]) for area in shown["areas"]
        ]
        self.assertEqual(comes_in, sorted(comes_in, reverse=True))
        for area in shown["areas"]:
            ranks = [
                0 if row["reach"]["is_open"] else 1 if row["reach"]["open_spans"] else 2
                for row in area["doors"]
            ]
            self.assertEqual(ranks, sorted(ranks))
