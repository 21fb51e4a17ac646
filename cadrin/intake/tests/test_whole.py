"""An intake is whole: what was foreseen happens, undone it never was, and stopped it is not there."""

import json
from contextlib import suppress
from dataclasses import replace
from typing import Any
from unittest.mock import patch

from django.apps import apps
from django.test import TestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as PropertyCase

from cadrin.access.models import AccessGroup, Membership
from cadrin.core.credentials.card.stock import CardRange
from cadrin.core.errors import Invalid, NotFound, Stale
from cadrin.core.intake.choices import ForExisting, MatchBy, Newcomers
from cadrin.core.people.custom_fields import FieldType
from cadrin.credentials.models import Card
from cadrin.credentials.stock import BoxDraft, enter_box
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.intake.commands.deciding import (
    apply_intake,
    get_intake,
    save_choices,
    stop_intake,
    undo_intake,
)
from cadrin.intake.states import IntakeState
from cadrin.intake.tests.lists import List, a_list, work
from cadrin.intake.work import IntakeWork
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.people.commands.custom_fields import OwnFieldDraft, save_custom_field
from cadrin.people.models import Cardholder, Department
from cadrin.register.export import Wanted as ExportWanted
from cadrin.register.export import export
from cadrin.register.filters import Filters
from cadrin.register.selection import Selection
from tests.house import NOON, House, an_operator

BESIDE = {"journal", "intake", "outbox", "worker", "sessions"}
"""Apps whose tables an intake and its undoing leave traces in, as they must."""


def every_table() -> dict[str, list[dict[str, Any]]]:
    """Return every row of the house, but for the journal and the versions, which only move on."""
    found = {}
    for model in apps.get_models():
        if model._meta.app_label in BESIDE:
            continue
        rows = [dict(row) for row in model._default_manager.order_by("pk").values()]
        if model is Cardholder:
            rows = [
                {name: value for name, value in row.items() if name != "version"} for row in rows
            ]
        found[model._meta.label] = rows
    return found


class Whole(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        boots = OwnFieldDraft({"en": "Boots"}, {}, FieldType.NUMBER, is_unique=True)
        save_custom_field(self.actor, None, boots, NOON)
        enter_box(
            self.actor,
            BoxDraft(
                self.house.format.pk, CardRange(12, 5000, 5009), "drawer", "", leaves_out=True
            ),
            NOON,
        )
        self.house.enrol(self.house.draft("S-1", title="Skipper", email="tomas@station.example"))
        self.mixed = (
            b"Number;Last name;First name;Title;Boots;Card;Groups;Plate\n"
            b"S-1;Reve;Tomas;Diver;44;12-5000;Boats;SK 1\n"
            b"S-2;Lindqvist;Mara;Skipper;39;12-5001;Day;\n"
            b"S-3;Falk;Jorun;;;12-9999;;SK 2\n"
        )

    def taken(self) -> List:
        return List(self.actor, self.mixed).with_defaults(format_id=self.house.format.pk)

    def test_undoing_restores_every_table_to_the_byte(self) -> None:
        before = every_table()
        taken = self.taken().apply()
        self.assertNotEqual(every_table(), before)

        undo_intake(self.actor, taken.id, NOON)
        work()

        self.assertEqual(every_table(), before)
        self.assertEqual(taken.kept.state, IntakeState.UNDONE)

    def test_stopping_puts_back_what_was_written_and_leaves_it_open(self) -> None:
        rows = [f"N-{n};Falk;Person {n};Station Office;;" for n in range(300)]
        taken = List(self.actor, a_list(*rows)).decide(
            accepted=frozenset({"intake.may_be_in_file"})
        )
        before = every_table()
        self.begin(taken)
        doing = IntakeWork()
        doing.step(lambda: NOON, lambda: True)
        self.assertGreater(Cardholder.objects.count(), 1)

        stop_intake(self.actor, taken.id, NOON)
        work()

        self.assertEqual(every_table(), before)
        self.assertEqual(taken.kept.state, IntakeState.OPEN)
        self.assertEqual(taken.apply().kept.state, IntakeState.APPLIED)

    @staticmethod
    def begin(taken: List) -> None:
        apply_intake(taken.actor, taken.id, taken.kept.version, NOON)

    def test_a_worker_that_dies_between_two_blocks_goes_on_where_it_was(self) -> None:
        rows = [f"N-{n};Falk;Person {n};Station Office;;" for n in range(600)]
        taken = List(self.actor, a_list(*rows)).decide(
            accepted=frozenset({"intake.may_be_in_file"})
        )
        self.begin(taken)
        IntakeWork().step(lambda: NOON, lambda: True)
        with (
            patch("cadrin.intake.applying.kept_of", side_effect=SystemExit),
            suppress(SystemExit),
        ):
            IntakeWork().step(lambda: NOON, lambda: True)

        work()  # another worker, which knows nothing of the first

        self.assertEqual(Cardholder.objects.filter(number__startswith="N-").count(), 600)
        self.assertEqual(taken.kept.state, IntakeState.APPLIED)

    def test_what_somebody_took_meanwhile_stops_it_whole_and_says_why(self) -> None:
        taken = self.taken()
        self.begin(taken)
        save_cardholder(self.actor, None, replace(self.house.draft("S-3"), cards=()), NOON)
        before = every_table()

        work()

        self.assertEqual(every_table(), before)
        self.assertEqual(taken.kept.result["why"]["code"], "cardholder.number_taken")
        self.assertEqual(taken.kept.state, IntakeState.OPEN)

    def test_a_card_that_went_to_somebody_else_leaves_its_holder_as_they_are(self) -> None:
        taken = self.taken().with_column(5, existing=ForExisting.OVERWRITE).apply()
        self.house.enrol(replace(self.house.draft("S-9"), cards=(self.house.card(4751),)))

        undo_intake(self.actor, taken.id, NOON)
        work()

        self.assertEqual(Card.objects.get(card_number=4751).holder.number, "S-9")  # type: ignore[union-attr]
        self.assertEqual(taken.kept.result["left"], ["Tomas Reve"])

    def test_the_journal_has_one_entry_that_opens_into_each_persons(self) -> None:
        taken = self.taken().apply()

        about = Entry.objects.filter(topics__kind="intake", topics__object_id=taken.id)
        actions = set(about.values_list("action", flat=True))
        self.assertLessEqual(
            {
                "intake.applied",
                "cardholder.enrolled",
                "cardholder.changed",
                "card.issued",
                "membership.added",
            },
            actions,
        )
        self.assertEqual(about.filter(action="intake.applied").count(), 1)

    def test_nothing_of_pins_lies_open(self) -> None:
        data = b"Number;Last name;PIN\nS-7;Falk;729415\n"
        taken = List(self.actor, data)
        self.assertEqual((taken.targets()[2], taken.faults), ("pin", {}))

        taken.apply()

        kept = json.dumps(
            [list(model._default_manager.values()) for model in apps.get_models()], default=str
        )
        self.assertNotIn("729415", kept)
        self.assertNotIn("729415", json.dumps(taken.shown()))

    def test_an_export_brought_in_again_changes_nothing(self) -> None:
        self.taken().apply()
        columns = (
            "number", "last_name", "first_name", "display_name", "title", "department", "company", "kind", "email",
            "phones", "language", "standing", "state", "readiness", "cards", "groups", "activation", "expiry",
            "remarks",
        )  # fmt: skip
        for kind in ("csv", "xlsx", "json"):
            wanted = ExportWanted(kind, columns, Selection(filters=Filters()), "name")
            data = b"".join(export(self.actor, wanted, NOON).chunks)
            with self.subTest(kind):
                again = List(self.actor, data, f"people.{kind}")
                self.assertEqual(again.faults, {})
                self.assertEqual({s: n for s, n in again.rows.items() if s != "blank"}, {"same": 3})

    def test_the_version_of_choices_is_asked_for(self) -> None:
        taken = self.taken()
        with self.assertRaises(Stale):
            save_choices(self.actor, taken.id, taken.kept.version - 1, taken.choices, NOON)

    def test_nothing_is_applied_while_something_is_to_be_decided(self) -> None:
        taken = List(self.actor, a_list("S-5;Falk;Jorun;Tower;;"))
        with self.assertRaises(Invalid) as refused:
            taken.apply()
        self.assertEqual(refused.exception.code, "intake.has_faults")


class WhoMayBringWhatIn(TestCase):
    def setUp(self) -> None:
        self.house = House()

    def test_what_one_may_not_set_by_hand_is_no_column(self) -> None:
        actor = actor_of(an_operator("temp", Permission.SEE, Permission.ENROL))
        data = b"Number;Last name;Born;Card;PIN;Groups\nS-5;Falk;1990-03-01;12-5000;729415;Day\n"
        taken = List(actor, data)
        self.assertEqual(taken.targets(), ["number", "last_name", "", "", "", ""])

        with self.assertRaises(Invalid) as refused:
            taken.with_column(2, target="born_on")

        self.assertEqual(refused.exception.problems[0].field, "columns.2")

    def test_a_row_out_of_reach_is_a_fault_of_its_own(self) -> None:
        elsewhere = self.house.department
        own = Department.objects.create(number="20", name="Lab")
        actor = actor_of(an_operator("lab", *Permission, limited_to={"departments": [own.pk]}))
        taken = List(
            actor,
            a_list(f"S-5;Falk;Jorun;{elsewhere.name};;", "S-6;Brae;Ola;Lab;;", "S-7;Reve;Una;;;"),
        )

        self.assertEqual(taken.faults, {"intake.no_such_department": 1, "scope.needed": 1})
        self.assertEqual(taken.rows["new"], 1)

    def test_another_operators_list_is_not_there_for_whoever_sees_a_part(self) -> None:
        taken = List(self.house.actor, a_list("S-5;Falk;Jorun;;;"))
        actor = actor_of(
            an_operator("part", *Permission, limited_to={"departments": [self.house.department.pk]})
        )
        with self.assertRaises(NotFound):
            get_intake(actor, taken.id)


WORDS = st.sampled_from(["Reve", "Falk", "Brae", "Ångström", "O'Carroll", ""])
ROWS = st.lists(
    st.tuples(
        st.sampled_from(["S-1", "S-2", "M-0", "M-1", "N-1", "N-2", "", "n-1"]),
        WORDS, WORDS, st.sampled_from(["Skipper", ""]), st.sampled_from(["", "12-7001", "12-7002", "12-10000", "x"]),
        st.sampled_from(["", "Day", "Boats", "Day; Boats", "Tower"]),
        st.sampled_from(["", "active", "suspended", "departed"]),
    ),
    max_size=6,
)  # fmt: skip


class Foreseen(PropertyCase):
    @settings(max_examples=15, deadline=None)
    @given(ROWS, st.sampled_from(ForExisting), st.sampled_from([MatchBy.NUMBER, MatchBy.NOBODY]))
    def test_for_any_list_what_was_foreseen_is_what_happens_and_undoing_is_exact(
        self, rows: list[tuple[str, ...]], policy: ForExisting, match_by: MatchBy
    ) -> None:
        house = House()
        house.enrol_many(2, house.day_group.pk)
        house.enrol(replace(house.draft("S-1"), cards=(house.card(7001),)))
        headings = "Number;Last name;First name;Title;Card;Groups;Standing\n"
        data = (headings + "".join(f"{';'.join(row)}\n" for row in rows)).encode()
        taken = List(house.actor, data).with_defaults(format_id=house.format.pk, facility_code=12)
        columns = {
            n: replace(column, existing=policy, is_guess=False)
            for n, column in taken.choices.columns.items()
        }
        taken.decide(columns=columns, match_by=match_by, newcomers=Newcomers.ENROL)
        faulty = [told["row"] for told in taken.shown(state="faulty")]
        taken.decide(
            left_out=frozenset(faulty),
            accepted=frozenset({"intake.may_be", "intake.may_be_in_file"}),
        )
        left = [told["row"] for told in taken.shown(state="faulty")]
        taken.decide(left_out=frozenset([*faulty, *left]))
        rows_foreseen = taken.kept.summary["rows"]
        doors = {
            door["door"]: door["gained"] - door["lost"] for door in taken.kept.summary["doors"]
        }
        before, people, open_before = every_table(), Cardholder.objects.count(), may_open(house)
        if not rows_foreseen["new"] + rows_foreseen["changed"]:
            return

        taken.apply()

        self.assertEqual(taken.kept.state, IntakeState.APPLIED)
        self.assertEqual(Cardholder.objects.count() - people, rows_foreseen["new"])
        after = may_open(house)
        self.assertEqual(
            {door: after[door] - open_before[door] for door in after},
            {door: doors.get(door, 0) for door in after},
        )
        undo_intake(house.actor, taken.id, NOON)
        work()
        self.assertEqual(every_table(), before)


def may_open(house: House) -> dict[int, int]:
    """Count, by plain SQL's eyes, who has a group and a card for each door and is let in."""
    counts = {}
    for door in (house.gate, house.lab, house.slip):
        groups = AccessGroup.objects.filter(grants__door=door)
        holders = Membership.objects.filter(group__in=groups).values("cardholder_id")
        with_card = Card.objects.filter(holder__isnull=False).values("holder_id")
        counts[door.pk] = (
            Cardholder.objects.filter(pk__in=holders, standing="active")
            .filter(pk__in=with_card)
            .count()
        )
    return counts


class Long(TestCase):
    """A list too long to be judged while somebody waits: the worker does it."""

    def test_the_worker_judges_a_long_list_and_says_how_far_it_is(self) -> None:
        house = House()
        rows = (f"N-{n};Falk{n};Person {n};Station Office;;" for n in range(2_600))
        taken = List(house.actor, a_list(*rows))
        self.assertNotEqual(taken.kept.assessed, taken.kept.version)

        doing = IntakeWork()
        self.assertEqual(doing.step(lambda: NOON, lambda: True), 1)

        self.assertEqual(taken.rows, {"blank": 1, "new": 2_600})
        self.assertEqual(doing.step(lambda: NOON, lambda: True), 0)
