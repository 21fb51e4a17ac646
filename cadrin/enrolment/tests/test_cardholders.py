from dataclasses import replace

from django.test import TestCase

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import Membership
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.errors import Invalid, NotFound, NotPermitted, Stale
from cadrin.core.validity import Standing
from cadrin.credentials.models import Card
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.draft import CardholderDraft
from cadrin.journal.models import Entry
from cadrin.journal.queries import history_of
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.outbox.models import Mark
from cadrin.people.models import Cardholder, Term
from cadrin.people.queries import find_ids
from tests.house import ANYBODY, DAY, NOON, House, an_operator


class WithAHouse(TestCase):
    def setUp(self) -> None:
        self.house = House()

    def saved(self, cardholder_id: int, draft: CardholderDraft) -> int:
        version = Cardholder.objects.values_list("version", flat=True).get(pk=cardholder_id)
        return save_cardholder(
            self.house.actor, cardholder_id, replace(draft, version=version), NOON
        )

    def assert_nothing_happened(self) -> None:
        for model in (Cardholder, Card, Membership, Entry, Mark, Term):
            self.assertFalse(model.objects.exists(), model)  # type: ignore[attr-defined]


class Enrolling(WithAHouse):
    def test_saves_details_card_and_membership_at_once_with_their_entries_and_mark(self) -> None:
        id_ = self.house.enrol()

        cardholder = Cardholder.objects.get(pk=id_)
        self.assertEqual((cardholder.display_name, cardholder.version), ("Tomas Reve", 1))
        self.assertEqual(Card.objects.get().holder_id, id_)
        self.assertEqual(Membership.objects.get().group, self.house.day_group)
        actions = [entry["action"] for entry in history_of("cardholder", id_)]
        self.assertEqual(actions, ["membership.added", "card.issued", "cardholder.enrolled"])
        self.assertEqual(
            [(m.subject, m.subject_id) for m in Mark.objects.all()], [("cardholder", id_)]
        )

    def test_everything_that_is_wrong_is_told_at_once_and_leaves_no_trace(self) -> None:
        draft = replace(
            self.house.draft(number="", email="nowhere", activation_at=NOON, expiry_at=NOON),
            cards=(
                self.house.card(65536),
                self.house.card(5, activation_at=NOON, expiry_at=NOON - DAY),
            ),
            memberships=(MembershipDraft(999), MembershipDraft(999)),
        )

        with self.assertRaises(Invalid) as caught:
            self.house.enrol(draft)

        self.assertEqual(
            {(problem.field, problem.code) for problem in caught.exception.problems},
            {
                ("number", "cardholder.number_missing"),
                ("email", "cardholder.email_not_readable"),
                ("expiry_at", "span.ends_before_it_begins"),
                ("cards.0.card_number", "card.out_of_range"),
                ("cards.1.expiry_at", "span.ends_before_it_begins"),
                ("memberships.0.group", "input.no_longer_there"),
                ("memberships.1.group", "input.no_longer_there"),
                ("memberships.1.group", "membership.twice"),
            },
        )
        self.assert_nothing_happened()

    def test_a_number_is_taken_whatever_its_case_and_spaces(self) -> None:
        self.house.enrol(self.house.draft("S-0012"))

        with self.assertRaises(Invalid) as caught:
            self.house.enrol(replace(self.house.draft(" s-00 12"), cards=()))

        (problem,) = caught.exception.problems
        self.assertEqual(
            (problem.code, problem.params["name"]), ("cardholder.number_taken", "Tomas Reve")
        )

    def test_a_card_that_somebody_holds_is_refused_with_their_name(self) -> None:
        self.house.enrol()

        with self.assertRaises(Invalid) as caught:
            self.house.enrol(self.house.draft("S-2"))

        (problem,) = caught.exception.problems
        self.assertEqual(
            (problem.field, problem.params["holder"]), ("cards.0.card_number", "Tomas Reve")
        )

    def test_each_part_needs_its_own_permission(self) -> None:
        cases = {
            "enrol": (set(Permission) - {Permission.ENROL}, self.house.draft()),
            "issue": (set(Permission) - {Permission.ISSUE}, self.house.draft()),
            "access": (set(Permission) - {Permission.ACCESS}, self.house.draft()),
        }

        for missing, (permissions, draft) in cases.items():
            with self.subTest(missing):
                actor = actor_of(an_operator(f"without-{missing}", *permissions))
                with self.assertRaises(NotPermitted) as caught:
                    save_cardholder(actor, None, draft, NOON)
                self.assertEqual(caught.exception.problems[0].params, {"permission": missing})
                self.assert_nothing_happened()


class Saving(WithAHouse):
    def test_a_card_taken_away_is_returned_and_may_be_issued_again(self) -> None:
        id_ = self.house.enrol()

        self.saved(id_, replace(self.house.draft(), cards=()))
        other = self.house.enrol(replace(self.house.draft("S-2"), memberships=()))

        card = Card.objects.get()
        self.assertEqual((card.holder_id, card.status), (other, CardStatus.ISSUED))
        self.assertEqual(history_of("cardholder", id_)[0]["action"], "card.returned")

    def test_a_lost_card_is_not_issued_to_somebody_else(self) -> None:
        id_ = self.house.enrol(
            replace(self.house.draft(), cards=(self.house.card(status=CardStatus.LOST),))
        )

        with self.assertRaises(Invalid) as caught:
            self.house.enrol(self.house.draft("S-2"))

        self.assertEqual(caught.exception.code, "card.already_issued")
        self.assertEqual(Card.objects.get().holder_id, id_)

    def test_nothing_changed_is_no_act(self) -> None:
        id_ = self.house.enrol()
        entries, marks = Entry.objects.count(), Mark.objects.count()

        self.saved(id_, self.house.draft())

        self.assertEqual((Entry.objects.count(), Mark.objects.count()), (entries, marks))
        self.assertEqual(Cardholder.objects.get(pk=id_).version, 1)

    def test_the_second_of_two_operators_is_told_who_changed_what_and_changes_nothing(self) -> None:
        id_ = self.house.enrol()
        other = actor_of(an_operator("ines", *Permission))
        save_cardholder(other, id_, replace(self.house.draft(title="Diver"), version=1), NOON)

        with self.assertRaises(Stale) as caught:
            save_cardholder(
                self.house.actor, id_, replace(self.house.draft(title="Cook"), version=1), NOON
            )

        (since,) = caught.exception.since
        self.assertEqual(
            (since["operator_name"], since["changes"]), ("Ines", {"title": ["", "Diver"]})
        )
        self.assertEqual(caught.exception.current_version, 2)
        self.assertEqual(Cardholder.objects.get(pk=id_).title, "Diver")

    def test_a_cardholder_that_is_gone_is_not_found(self) -> None:
        with self.assertRaises(NotFound):
            save_cardholder(self.house.actor, 12345, replace(self.house.draft(), version=1), NOON)

    def test_the_journal_writes_names_where_the_database_has_ids(self) -> None:
        id_ = self.house.enrol()

        self.saved(
            id_, self.house.draft(department_id=self.house.department.pk, standing=Standing.BARRED)
        )

        changes = history_of("cardholder", id_)[0]["changes"]
        self.assertEqual(
            changes, {"standing": ["active", "barred"], "department": [None, "Station Office"]}
        )

    def test_a_cardholder_is_found_by_name_number_mail_and_card_however_typed(self) -> None:
        id_ = self.house.enrol(
            self.house.draft("S-0012", last_name="Ångström-Reve", email="t.reve@skerrow.example")
        )

        for text in ("angs", "REVE tom", "ÅNGSTRÖM", "s-00", "t.reve@", "4751"):
            with self.subTest(text):
                self.assertEqual(find_ids(ANYBODY, text), [id_])
        self.assertEqual(find_ids(ANYBODY, "tomas nobody"), [])
