"""Operators, roles and tokens as an administrator sets them up."""

import json
from collections.abc import Callable
from datetime import timedelta
from functools import partial
from io import StringIO
from typing import Any

from django.core.management import call_command
from django.test import Client, TestCase
from django.utils import timezone

from cadrin.accounts.commands.operators import OperatorDraft, get_operator, save_operator
from cadrin.accounts.commands.passwords import make_link
from cadrin.accounts.commands.roles import RoleDraft, ready_made_roles, remove_role, save_role
from cadrin.accounts.commands.tokens import TokenDraft, make_token, withdraw_token
from cadrin.core.errors import Invalid, NotPermitted, Stale
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.models import ApiToken, Operator, Role
from cadrin.operators.permissions import READY_MADE, Permission
from cadrin.people.models import Department
from tests.house import ANYBODY, NOON, PASSWORD, an_operator


class Administering(TestCase):
    def setUp(self) -> None:
        ready_made_roles()
        self.roles = dict(Role.objects.values_list("name", "id"))
        self.admin = self.make("ines", "Administrator")
        self.give_a_password(self.admin)

    def make(self, username: str, role: str, **more: Any) -> int:
        draft = OperatorDraft(username, username.title(), "", self.roles[role], **more)
        return save_operator(ANYBODY, None, draft, NOON)

    def give_a_password(self, operator_id: int) -> None:
        operator = get_operator(operator_id)
        operator.set_password(PASSWORD)
        operator.save()

    def refused(self, act: Any) -> set[tuple[str | None, str]]:
        with self.assertRaises(Invalid) as refused:
            act()
        return {(problem.field, problem.code) for problem in refused.exception.problems}


class Operators(Administering):
    def test_are_made_without_a_password_and_the_journal_says_who_made_them(self) -> None:
        department = Department.objects.create(number="1", name="Dive Team")
        id_ = self.make("mara", "Reception", limited_to={"departments": [department.pk]})

        operator, entry = Operator.objects.get(pk=id_), Entry.objects.latest("id")
        self.assertFalse(operator.has_usable_password())
        self.assertEqual((entry.action, entry.operator_name), ("operator.made", "Test"))
        self.assertEqual(entry.changes["role"], [None, "Reception"])
        self.assertEqual(entry.changes["departments"], [None, ["Dive Team"]])

    def test_with_bad_input_are_refused_beside_each_field(self) -> None:
        bad = OperatorDraft(
            "in es", "", "", 999, {"sites": [], "departments": [999]}, language="xx"
        )
        expected = {
            ("username", "operator.username_letters"),
            ("first_name", "input.blank"),
            ("role", "input.no_longer_there"),
            ("kept_to.sites", "scope.nothing"),
            ("kept_to.departments", "input.no_longer_there"),
            ("language", "input.invalid_choice"),
        }

        self.assertEqual(self.refused(lambda: save_operator(ANYBODY, None, bad, NOON)), expected)
        self.assertEqual(
            self.refused(lambda: self.make("INES", "Auditor")),
            {("username", "operator.username_taken")},
        )
        self.assertEqual(Operator.objects.count(), 1)

    def test_are_saved_on_top_of_nobody_elses_change(self) -> None:
        draft = OperatorDraft("ines", "Ines", "Carnmore", self.roles["Administrator"], version=1)
        save_operator(ANYBODY, self.admin, draft, NOON)

        with self.assertRaises(Stale):
            save_operator(ANYBODY, self.admin, draft._replace(last_name="Falk"), NOON)

    def test_never_lose_the_last_administrator(self) -> None:
        department = Department.objects.create(number="1", name="Dive Team")
        as_it_is = OperatorDraft("ines", "Ines", "", self.roles["Administrator"], version=1)
        self.make("kept", "Administrator", limited_to={"departments": [department.pk]})
        self.make("gone", "Administrator", is_active=False)
        for name, draft in {
            "leaves": as_it_is._replace(is_active=False),
            "becomes a receptionist": as_it_is._replace(role_id=self.roles["Reception"]),
            "is kept to a part": as_it_is._replace(limited_to={"departments": [department.pk]}),
        }.items():
            with self.subTest(name):
                found = self.refused(partial(save_operator, ANYBODY, self.admin, draft, NOON))
                self.assertEqual(found, {(None, "operator.last_administrator")})
        role = RoleDraft("Administrator", frozenset({Permission.SEE}), 1)
        found = self.refused(lambda: save_role(ANYBODY, self.roles["Administrator"], role, NOON))
        self.assertEqual(found, {(None, "operator.last_administrator")})
        self.assertEqual(get_operator(self.admin).version, 1)

        mara = self.make("mara", "Administrator")
        leaves = partial(
            save_operator, ANYBODY, self.admin, as_it_is._replace(is_active=False), NOON
        )
        self.assertEqual(
            self.refused(leaves), {(None, "operator.last_administrator")}, "mara cannot come in yet"
        )
        self.give_a_password(mara)
        leaves()

    def test_never_take_the_password_from_the_last_administrator(self) -> None:
        self.make("mara", "Administrator")

        found = self.refused(lambda: make_link(ANYBODY, self.admin, NOON))

        self.assertEqual(found, {(None, "operator.last_administrator")})
        self.assertTrue(get_operator(self.admin).has_usable_password())

    def test_are_the_administrators_matter_alone(self) -> None:
        others = frozenset(Permission) - {Permission.OPERATORS}
        actor = actor_of(an_operator("clerk", *others))
        draft = OperatorDraft("friend", "Friend", "", self.roles["Administrator"])
        acts: dict[str, Callable[[], object]] = {
            "operator": lambda: save_operator(actor, None, draft, NOON),
            "role": lambda: save_role(actor, None, RoleDraft("All", frozenset(Permission)), NOON),
            "token": lambda: make_token(actor, TokenDraft("T", 1, NOON + timedelta(days=1)), NOON),
        }
        for name, act in acts.items():
            with self.subTest(name), self.assertRaises(NotPermitted):
                act()

    def test_are_let_in_again_from_the_command_line(self) -> None:
        Operator.objects.filter(pk=self.admin).update(is_active=False, role=self.roles["Auditor"])
        told = StringIO()

        call_command("add_administrator", "ines", stdout=told)

        operator = get_operator(self.admin)
        self.assertEqual((operator.is_active, str(operator.role)), (True, "Administrator"))
        self.assertIn("/password/", told.getvalue())


class Roles(Administering):
    def test_that_lose_a_permission_lose_it_with_the_next_request(self) -> None:
        client = Client()
        client.force_login(get_operator(self.make("mara", "Reception")))
        self.assertEqual(client.get("/api/cardholders/").status_code, 200)

        save_role(ANYBODY, self.roles["Reception"], RoleDraft("Reception", frozenset(), 1), NOON)

        self.assertEqual(client.get("/api/cardholders/").status_code, 403)

    def test_of_the_same_name_or_without_sight_are_refused(self) -> None:
        draft = RoleDraft("auditor", frozenset({Permission.EDIT}))

        found = self.refused(lambda: save_role(ANYBODY, None, draft, NOON))

        self.assertEqual(found, {("name", "listed.taken"), ("permissions", "role.must_see")})

    def test_are_removed_when_nobody_has_them(self) -> None:
        self.make("mara", "Reception")
        found = self.refused(lambda: remove_role(ANYBODY, self.roles["Reception"], NOON))
        remove_role(ANYBODY, self.roles["Auditor"], NOON)

        self.assertEqual(found, {(None, "role.in_use")})
        self.assertEqual(Role.objects.count(), len(READY_MADE) - 1)


class Tokens(Administering):
    def setUp(self) -> None:
        super().setUp()
        self.now = timezone.now()

    def token(self, days: int = 1, role: str = "Auditor", **more: Any) -> str:
        return make_token(
            ANYBODY,
            TokenDraft("Payroll", self.roles[role], self.now + timedelta(days=days), **more),
            self.now,
        )

    def ask(
        self, key: str, path: str = "/api/cardholders/", method: str = "GET", body: Any = None
    ) -> int:
        answer = Client().generic(
            method,
            path,
            json.dumps(body),
            content_type="application/json",
            headers={"Authorization": f"Bearer {key}"},
        )
        return answer.status_code

    def test_let_a_script_do_what_their_role_says(self) -> None:
        key = self.token()

        self.assertEqual((self.ask(key), self.ask(key, "/api/cardholders/new/")), (200, 403))
        self.assertIsNotNone(ApiToken.objects.get().used_at)
        export = {"kind": "csv", "columns": ["number"], "filters": {}}
        self.assertEqual(self.ask(key, "/api/export/", "POST", export), 200)
        entry = Entry.objects.latest("id")
        self.assertEqual(
            (entry.action, entry.operator_name), ("register.exported", "Payroll (API)")
        )

    def test_that_are_over_withdrawn_or_wrong_are_refused_alike(self) -> None:
        key = self.token()
        over = self.token()
        ApiToken.objects.filter(pk=ApiToken.objects.latest("id").pk).update(expires_at=self.now)
        withdrawn = self.token()
        withdraw_token(ANYBODY, ApiToken.objects.latest("id").pk, self.now)
        for name, wrong in {
            "over": over,
            "withdrawn": withdrawn,
            "wrong": key + "x",
            "empty": "",
        }.items():
            with self.subTest(name):
                self.assertEqual(self.ask(wrong), 401)
        self.assertEqual(self.ask(key), 200)

    def test_are_known_by_their_digest_alone(self) -> None:
        key = self.token()

        kept = str(list(ApiToken.objects.values())) + str(list(Entry.objects.values()))
        self.assertNotIn(key, kept)
        self.assertNotIn(key.removeprefix("cadrin_"), kept)

    def test_keep_nothing_of_their_own(self) -> None:
        body = {
            "name": "Mine",
            "is_shared": False,
            "filters": {},
            "columns": ["number"],
            "sort": "name",
        }

        self.assertEqual(
            self.ask(self.token(role="Administrator"), "/api/saved-lists/", "POST", body), 403
        )

    def test_end_some_day_and_are_not_over_before_they_begin(self) -> None:
        self.assertEqual(
            self.refused(lambda: self.token(days=0)), {("expires_at", "token.expiry_past")}
        )
        self.assertEqual(
            self.refused(lambda: self.token(days=400)), {("expires_at", "token.expiry_far")}
        )
