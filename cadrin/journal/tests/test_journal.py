from django.test import TestCase

from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.models import Entry
from cadrin.journal.queries import history_of
from cadrin.operators.actor import actor_of, system_actor
from cadrin.operators.permissions import Permission
from tests.house import DAY, NOON, an_operator


class TheJournal(TestCase):
    def test_tells_who_did_what_newest_first(self) -> None:
        mara, house = actor_of(an_operator("mara", Permission.EDIT)), system_actor("Upkeep")

        record(
            mara,
            NOON,
            [Act("cardholder.enrolled", (About("cardholder", 1, 1),), {"title": (None, "Diver")})],
        )
        record(
            house,
            NOON + DAY,
            [Act("cardholder.changed", (About("cardholder", 1, 2), About("group", 1)))],
        )
        record(mara, NOON, [Act("cardholder.enrolled", (About("cardholder", 2, 1),))])

        found = [
            (e["operator_name"], e["action"], e["changes"]) for e in history_of("cardholder", 1)
        ]
        self.assertEqual(
            found,
            [
                ("Upkeep", "cardholder.changed", {}),
                ("Mara", "cardholder.enrolled", {"title": [None, "Diver"]}),
            ],
        )
        self.assertEqual([e["action"] for e in history_of("group", 1)], ["cardholder.changed"])

    def test_tells_what_came_after_a_version_oldest_first(self) -> None:
        for version in (1, 2, 3):
            record(
                system_actor("Demo"),
                NOON,
                [Act(f"act {version}", (About("cardholder", 1, version),))],
            )

        self.assertEqual(
            [e["action"] for e in history_of("cardholder", 1, after_version=1)], ["act 2", "act 3"]
        )

    def test_outlives_the_name_of_its_operator(self) -> None:
        operator = an_operator("mara")
        record(actor_of(operator), NOON, [Act("act", (About("cardholder", 1),))])
        operator.first_name = "Somebody else"
        operator.save()

        self.assertEqual(Entry.objects.get().operator_name, "Mara")

    def test_only_what_differs_is_a_change_and_instants_are_text(self) -> None:
        before = {"title": "", "expiry_at": None, "number": "S-1"}
        after = {"title": "Diver", "expiry_at": NOON, "number": "S-1"}

        self.assertEqual(
            changes_between(before, after),
            {"title": ("", "Diver"), "expiry_at": (None, "2026-06-01T12:00:00+00:00")},
        )
