"""The logic that stays in the front end, called in Chromium and held against Python's own."""

from datetime import date, timedelta
from random import Random
from typing import Any
from unittest import TestCase

from cadrin.core.credentials.card.ready_made import READY_MADE
from cadrin.core.holidays import Holiday, SpecialHours
from cadrin.core.schedules import Hours as CoreHours
from cadrin.core.schedules import problems_with_hours
from cadrin.credentials.rest.format_shapes import shown_layout
from tests.browser.logic import TIMES, called


class Counts(TestCase):
    def test_choose_one_or_many_and_are_written_as_the_country_does(self) -> None:
        moves = "It moves with {} in it and below it. Nobody\u2019s access changes."
        calls: list[list[Any]] = [
            ["setup.moves", {"count": 1}],
            ["setup.moves", {"count": 1234}],
            ["access.members", 12_345],
            ["people.others", {"names": "Ines"}, 1],
        ]

        self.assertEqual(
            called("said", calls),
            [
                moves.format("one person"),
                moves.format("1,234 people"),
                "12,345 people",
                "Ines has this cardholder open too.",
            ],
        )
        called("goByRegion", [["DE"]])
        self.addCleanup(called, "goByRegion", [[""]])
        self.assertEqual(called("said", [["access.members", 12_345]]), ["12.345 people"])


class Days(TestCase):
    def test_are_read_however_they_are_written_and_written_as_the_site_does(self) -> None:
        random = Random(4)
        days = [date(2000, 1, 1) + timedelta(random.randrange(20_000)) for _ in range(TIMES)]
        ways = ("{0:%d.%m.%Y}", "{0:%d/%m/%y}", " {0.day}.{0.month}.{0.year} ", "{0:%Y-%m-%d}")
        for way in ways:
            read = called("readDay", [[way.format(day)] for day in days])
            self.assertEqual(read, [day.isoformat() for day in days], way)
        written = called("writtenDay", [[day.isoformat()] for day in days])
        self.assertEqual(written, [f"{day:%d.%m.%Y}" for day in days])

    def test_are_read_in_the_order_of_the_region_and_never_silently_in_another(self) -> None:
        """The orders of CLDR: Ireland day first, the United States month first, Canada year first."""
        read, written = ["5/12/2026", "2026-12-05"], [["2026-12-05"]]
        for region, first, shown in (
            ("IE", "2026-12-05", "05.12.2026"),
            ("US", "2026-05-12", "12/05/2026"),
            ("CA", None, "2026-12-05"),
        ):
            called("goByRegion", [[region]])
            self.addCleanup(called, "goByRegion", [[""]])
            with self.subTest(region):
                self.assertEqual(called("readDay", [[one] for one in read]), [first, "2026-12-05"])
                self.assertEqual(called("writtenDay", written), [shown])
                # what it writes it reads again as the same day
                self.assertEqual(called("readDay", [[shown]]), ["2026-12-05"])
        called("goByRegion", [["US"]])
        self.assertEqual(called("readDay", [["13/5/2026"]]), [None])

    def test_times_are_read_with_twelve_hours_and_with_twenty_four(self) -> None:
        read = {"17:30": "17:30", "1730": "17:30", "17": "17:00", "5:30 pm": "17:30", "5pm": "17:00",
                "12 am": "00:00", "12:15 p.m.": "12:15", "24:00": "24:00", "13 pm": None, "25": None,
                "17:60": None}  # fmt: skip
        self.assertEqual(called("readClock", [[one] for one in read]), list(read.values()))
        called("goByRegion", [["US"]])
        self.addCleanup(called, "goByRegion", [[""]])
        self.assertEqual(
            called("clockWords", [["00:05"], ["12:00"], ["17:30:09"]]),
            ["12:05 am", "12:00 pm", "5:30:09 pm"],
        )

    def test_that_there_are_not_are_none(self) -> None:
        for written in ("30.02.2026", "29.02.2027", "31.04.2026", "0.1.2026", "soon", "12.2026"):
            self.assertEqual(called("readDay", [[written]]), [None], written)


class Hours(TestCase):
    def test_are_read_as_they_are_written(self) -> None:
        random, weeks = Random(5), []
        for _ in range(TIMES):
            starts = sorted(random.sample(range(0, 1440, 15), random.randint(1, 3)))
            ends = [*starts[1:], starts[-1] + random.randrange(15, 900, 15)]
            last_end = min(ends[-1], starts[-1] + 1439)
            weeks.append(
                [[2, one, other] for one, other in zip(starts, [*ends[:-1], last_end], strict=True)]
            )

        texts = called("dayText", [[hours, 2] for hours in weeks])

        self.assertEqual(called("dayHours", [[text, 2] for text in texts]), weeks)
        self.assertEqual(
            called(
                "dayHours", [["7-9:30; 22:00\u201302:00", 4], ["9", 0], ["25-26", 0], ["8:75-9", 0]]
            ),
            [[[4, 420, 570], [4, 1320, 1560]], None, None, None],
        )

    def test_are_read_as_people_type_them(self) -> None:
        for typed in ("730-1815", "7.30-18.15", " 07:30 \u2013 18:15", "0730-1815"):
            self.assertEqual(called("dayHours", [[typed, 1]]), [[[1, 450, 1095]]], typed)
        self.assertEqual(
            called("dayHours", [["8-12, 1300-17", 0]]), [[[0, 480, 720], [0, 780, 1020]]]
        )

    def test_are_written_and_read_with_twelve_hours_where_clocks_have_them(self) -> None:
        called("goByRegion", [["US"]])
        self.addCleanup(called, "goByRegion", [[""]])
        weeks = [[[2, 0, 1440]], [[2, 450, 1110]], [[2, 1290, 1590]], [[2, 720, 780]]]

        texts = called("dayText", [[hours, 2] for hours in weeks])

        self.assertEqual(texts[1:3], ["7:30 am-6:30 pm", "9:30 pm-2:30 am"])
        self.assertEqual(called("dayHours", [[text, 2] for text in texts]), weeks)
        self.assertEqual(called("dayHours", [["8am-5:15pm", 0]]), [[[0, 480, 1035]]])
        self.assertEqual(called("dayHours", [["9-5", 0], ["9am-5", 0]]), [None, None])

    def test_that_go_on_into_monday_are_shown_at_its_beginning(self) -> None:
        ((evening, night),) = called("litIn", [[[[6, 1380, 1500]]]])

        self.assertEqual((evening["start"][11:16], evening["end"][:10]), ("23:00", "1970-01-12"))
        self.assertEqual(
            (night["start"], night["end"][11:16]), ("1970-01-05T00:00:00.000Z", "01:00")
        )


A_WEEK = 7 * 1440


def minutes_of(hours: list[list[int]]) -> set[int]:
    """Return the minutes of a week that windows have, counted one by one."""
    return {
        (day * 1440 + minute) % A_WEEK for day, start, end in hours for minute in range(start, end)
    }


class Painting(TestCase):
    def test_lights_and_darkens_just_what_was_painted(self) -> None:
        random = Random(7)
        hours: list[list[list[int]]] = [[] for _ in range(20)]
        expected = [set[int]() for _ in hours]
        for _ in range(25):
            strokes = []
            for lit in expected:
                start = random.randrange(A_WEEK)
                end = start + random.choice([1, 15, 240, 1500, 4000])
                is_lit = random.random() < 0.6
                strokes.append([{"from": start, "to": end}, is_lit])
                stroke = {minute % A_WEEK for minute in range(start, end)}
                (lit.update if is_lit else lit.difference_update)(stroke)

            hours = called(
                "painted", [[week, *stroke] for week, stroke in zip(hours, strokes, strict=True)]
            )

            self.assertEqual([minutes_of(week) for week in hours], expected)
            for week in filter(None, hours):
                self.assertEqual(problems_with_hours(CoreHours(*window) for window in week), ())

    def test_keeps_one_window_across_midnight_and_across_the_end_of_the_week(self) -> None:
        night = {"from": 6 * 1440 + 1320, "to": 7 * 1440 + 360}
        self.assertEqual(called("painted", [[[], night, True]]), [[[6, 1320, 1800]]])

    def test_a_day_is_copied_to_others_with_what_passes_midnight(self) -> None:
        week = [[0, 480, 600], [1, 0, 60], [4, 1380, 1500]]
        (copied,) = called("copied", [[week, 4, [0, 1]]])
        self.assertEqual(copied, [[0, 1380, 1500], [1, 1380, 1500], [4, 1380, 1500]])


class Holidays(TestCase):
    def test_of_a_year_fall_on_the_days_on_which_schedules_know_them(self) -> None:
        random, calls, expected = Random(6), [], []
        for _ in range(60):
            found = []
            for kind in range(random.randint(1, 4)):
                first = date(2024, 1, 1) + timedelta(random.randrange(1_200))
                last = first + timedelta(random.choice([0, 0, 1, 12]))
                found.append(Holiday(first, last, kind, random.random() < 0.5))
            year = random.randint(2024, 2028)
            special = SpecialHours(tuple(found), {one.kind: () for one in found})
            every = (date(year, 1, 1) + timedelta(n) for n in range(366))
            expected.append([f"{d}" for d in every if d.year == year and special.parts_of(d)])
            days = [
                {"first": f"{h.first}", "last": f"{h.last}", "is_yearly": h.is_yearly}
                for h in found
            ]
            calls.append([days, year])
        calls.append([[{"first": "2028-02-29", "last": "2028-02-29", "is_yearly": True}], 2027])

        shown = [sorted(days) for days in called("daysOfYear", calls)]

        self.assertEqual(shown, [*expected, []])


def draft(**more: Any) -> dict[str, Any]:
    nothing = {
        "version": 3,
        "title": "",
        "email": "",
        "phones": [],
        "cards": [],
        "memberships": [],
        "pins": [],
        "plates": [],
    }
    return nothing | {"department": None} | more


def card(number: int, **more: Any) -> dict[str, Any]:
    return {"format": 1, "facility_code": 12, "card_number": number, "label": "", **more}


def membership(group: int, end: str | None = None) -> dict[str, Any]:
    return {"group": group, "activation_at": None, "expiry_at": end}


class TwoWhoChangeOneCardholder(TestCase):
    def changed(self, base: dict[str, Any], random: Random) -> dict[str, Any]:
        """Change some of somebody, as one operator would."""
        after = {**base, "cards": [dict(one) for one in base["cards"]]}
        if random.random() < 0.5:
            after["title"] = random.choice(["Diver", "Cook"])
        if random.random() < 0.5:
            after["email"] = random.choice(["a@skerrow.example", "b@skerrow.example"])
        if after["cards"] and random.random() < 0.4:
            after["cards"].pop(random.randrange(len(after["cards"])))
        for one in after["cards"]:
            if random.random() < 0.3:
                one["label"] = random.choice(["spare", "blue"])
        if random.random() < 0.4:
            after["cards"].append(card(random.randrange(10, 13)))
        if random.random() < 0.4:
            after["memberships"] = [membership(g) for g in range(3) if random.random() < 0.5]
        return after

    def test_keep_both_changes_where_they_do_not_clash_and_are_asked_where_they_do(self) -> None:
        random = Random(6)
        base = draft(cards=[card(1), card(2)], memberships=[membership(0), membership(1)])
        cases = [
            (base, self.changed(base, random), {**self.changed(base, random), "version": 4})
            for _ in range(TIMES)
        ]
        merges = called("merge", [list(case) for case in cases])
        clashes = called("clashes", [list(case) for case in cases])

        asked = 0
        for (_, mine, theirs), merged, clash in zip(cases, merges, clashes, strict=True):
            self.assertEqual(merged["version"], 4)
            self.assertEqual(set(clash), self.expected_clashes(base, mine, theirs))
            asked += bool(clash)
            for name in ("title", "email"):
                expected = mine[name] if mine[name] != base[name] else theirs[name]
                self.assertEqual(merged[name], expected)
            for name, key in (("cards", "card_number"), ("memberships", "group")):
                self.assertEqual(
                    self.by(merged[name], key), self.expected_rows(base, mine, theirs, name, key)
                )
        self.assertTrue(0 < asked < TIMES)

    @staticmethod
    def by(rows: list[dict[str, Any]], key: str) -> dict[int, Any]:
        return {row[key]: row for row in rows}

    def expected_rows(
        self, base: Any, mine: Any, theirs: Any, name: str, key: str
    ) -> dict[int, Any]:
        """Take mine where I changed something, and theirs elsewhere."""
        was, my, their = (self.by(one[name], key) for one in (base, mine, theirs))
        found = {}
        for id_ in {*was, *my, *their}:
            i_changed = my.get(id_) != was.get(id_)
            row = my.get(id_) if i_changed and (id_ in my or id_ not in their) else their.get(id_)
            if i_changed and id_ not in my:
                row = None
            if id_ in my and id_ not in their and not i_changed:
                row = None
            if row is not None:
                found[id_] = row
        return found

    def expected_clashes(self, base: Any, mine: Any, theirs: Any) -> set[str]:
        found = {
            name for name in ("title", "email") if len({base[name], mine[name], theirs[name]}) == 3
        }
        for name, key in (("cards", "card_number"), ("memberships", "group")):
            was, my, their = (self.by(one[name], key) for one in (base, mine, theirs))
            for id_ in {*was, *my, *their}:
                values = [was.get(id_), my.get(id_), their.get(id_)]
                if all(
                    one != other
                    for one, other in zip(values, [*values[1:], values[0]], strict=True)
                ):
                    found.add(name)
        return found


class TwoRecordsOfOnePerson(TestCase):
    def test_become_one_with_the_cards_and_groups_of_both(self) -> None:
        one = draft(title="Diver", cards=[card(1)], memberships=[membership(1), membership(2)])
        other = draft(
            version=9, title="Cook", email="a@skerrow.example",
            cards=[card(2)], memberships=[membership(2, "2027-01-01"), membership(3)],
        )  # fmt: skip

        (fields,) = called("differing", [[one, other]])
        (both,) = called("combined", [[one, other, ["email"]]])

        self.assertEqual(fields, ["title", "email"])
        self.assertEqual(
            (both["title"], both["email"], both["version"]), ("Diver", "a@skerrow.example", 3)
        )
        self.assertEqual([row["card_number"] for row in both["cards"]], [1, 2])
        self.assertEqual(both["memberships"], [*one["memberships"], membership(3)])


class WhatADepartmentProposes(TestCase):
    def test_is_taken_over_once_and_then_there_is_nothing_more_to_propose(self) -> None:
        departments = [{"id": 1, "proposed_groups": [1, 2]}, {"id": 2, "proposed_groups": [2, 3]}]
        base = draft(department=1, memberships=[membership(1), membership(2), membership(7)])
        moved = {**base, "department": 2}

        (proposal,) = called("proposalFor", [[base, moved, departments]])
        (after,) = called("withProposal", [[moved, proposal]])

        self.assertEqual(proposal, {"joins": [3], "leaves": [1]})
        self.assertEqual([row["group"] for row in after["memberships"]], [2, 7, 3])
        self.assertEqual(called("proposalFor", [[base, after, departments]]), [None])
        self.assertEqual(called("proposalFor", [[base, base, departments]]), [None])


class Layouts(TestCase):
    def test_of_all_ready_made_formats_are_read_as_they_are_written(self) -> None:
        layouts = [shown_layout(one.layout) for one in READY_MADE]

        read = called(
            "readLayout", [[typed] for typed in called("typed", [[one] for one in layouts])]
        )

        self.assertEqual(len(read), len(layouts))
        for one, found in zip(layouts, read, strict=True):
            self.assertEqual(
                found, {"layout": {**one, "fixed": sorted(one["fixed"], key=lambda at: at["bit"])}}
            )

    def test_say_what_cannot_be_read(self) -> None:
        typed = called("typed", [[shown_layout(READY_MADE[0].layout)]])[0]
        typed["fields"][0]["bits"] = "2 to 9"
        typed["fixed"] = "1-5=101"

        (found,) = called("readLayout", [[typed]])

        self.assertEqual(set(found["unreadable"]), {typed["fields"][0]["name"], "fixed"})


class Problems(TestCase):
    def test_are_seen_from_inside_a_part(self) -> None:
        told: list[dict[str, Any]] = [
            {"code": code, "field": field, "params": {}}
            for code, field in (
                ("a", "cards.0.status"),
                ("b", "pins.0.entry"),
                ("c", "cards"),
                ("d", None),
            )
        ]

        (found,) = called("under", [[told, "cards"]])

        self.assertEqual([(one["code"], one["field"]) for one in found], [("a", "0.status")])
