"""Every route and every method: each needs a session or a token, and names the
permission it needs.
"""

import json
from collections.abc import Iterator
from datetime import timedelta
from typing import Any, NamedTuple

from django.test import Client, TestCase
from django.urls import URLPattern, URLResolver, get_resolver
from django.utils import timezone

from cadrin.accounts.commands.roles import ready_made_roles
from cadrin.accounts.commands.tokens import TokenDraft, make_token
from cadrin.accounts.rest.own import OpenView, OwnView
from cadrin.operators.models import Operator, Role
from cadrin.operators.permissions import READY_MADE, Permission
from tests.house import ANYBODY, PASSWORD, House

METHODS = ("GET", "POST", "PUT", "PATCH", "DELETE")
NOWHERE = {
    "<int:id>": "999999",
    "<slug:key>": "begun",
    "<int:entry>": "999999",
    "<int:letter>": "999999",
    "<int:group>": "999999",
    "<int:consent>": "999999",
    "<int:template>": "999999",
    "<str:token>": "nothing",
    "<str:size>": "list",
    "<str:name>": "nothing",
}


class Route(NamedTuple):
    """A route of the API, with ids that nothing has, and the view behind it."""

    path: str
    view: Any

    def has(self, method: str) -> bool:
        return hasattr(self.view, method.lower())


def every_route(resolver: URLResolver | None = None, before: str = "/") -> Iterator[Route]:
    """Walk the routes themselves, not their description: what is not described is
    reached as well.
    """
    for one in (resolver or get_resolver()).url_patterns:
        path = before + str(one.pattern)
        if isinstance(one, URLResolver):
            yield from every_route(one, path)
        elif isinstance(one, URLPattern) and path.startswith("/api/"):
            for written, nothing in NOWHERE.items():
                path = path.replace(written, nothing)
            yield Route(path, one.callback.view_class)  # type: ignore[attr-defined]


class EveryRoute(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        House()
        ready_made_roles()

    def ask(self, client: Client, method: str, path: str, **headers: str) -> tuple[int, str]:
        answer = client.generic(
            method, path, "{}", content_type="application/json", headers=headers
        )
        content = b"" if answer.streaming else answer.content
        is_told = content and answer.headers["Content-Type"] == "application/problem+json"
        return answer.status_code, json.loads(content)["title"] if is_told else ""

    def test_names_a_permission_for_each_of_its_methods_and_for_no_other(self) -> None:
        for route in every_route():
            if not issubclass(route.view, OpenView | OwnView):
                with self.subTest(route.path):
                    self.assertEqual(
                        set(route.view.needs), {method for method in METHODS if route.has(method)}
                    )

    def test_is_shut_without_a_session_or_a_token(self) -> None:
        for route in every_route():
            if not issubclass(route.view, OpenView):
                for method in METHODS:
                    with self.subTest(f"{method} {route.path}"):
                        self.assertEqual(
                            self.ask(Client(), method, route.path), (401, "operator.not_signed_in")
                        )

    def test_lets_each_ready_made_role_do_what_it_may_and_nothing_else(self) -> None:
        for name, permissions in READY_MADE.items():
            operator = Operator.objects.create_user(
                name.split()[0].lower(),
                password=PASSWORD,
                role=Role.objects.get(name=name),
                first_name=name,
            )
            client = Client()
            client.force_login(operator)
            draft = TokenDraft(name, operator.role_id or 0, timezone.now() + timedelta(days=1))
            bearer = {"Authorization": f"Bearer {make_token(ANYBODY, draft, timezone.now())}"}
            for route in every_route():
                for method in METHODS:
                    if route.has(method) and not issubclass(route.view, OpenView | OwnView):
                        expected = route.view.needs[method] in permissions
                        with self.subTest(f"{name}: {method} {route.path}"):
                            by_session, by_token = (
                                self.ask(client, method, route.path),
                                self.ask(Client(), method, route.path, **bearer),
                            )
                            for code, title in (by_session, by_token):
                                self.assertEqual(title != "operator.not_permitted", expected)
                                self.assertLess(code, 500)

    def test_of_ones_own_account_is_for_operators_and_for_no_script(self) -> None:
        role = Role.objects.get(name="Administrator")
        key = make_token(
            ANYBODY,
            TokenDraft("Script", role.pk, timezone.now() + timedelta(days=1)),
            timezone.now(),
        )
        for route in every_route():
            if issubclass(route.view, OwnView):
                for method in METHODS:
                    with self.subTest(f"{method} {route.path}"):
                        code, _ = self.ask(
                            Client(), method, route.path, Authorization=f"Bearer {key}"
                        )
                        self.assertEqual(code, 403)

    def test_of_the_ready_made_roles_only_the_administrator_sees_to_operators(self) -> None:
        may = {
            name for name, permissions in READY_MADE.items() if Permission.OPERATORS in permissions
        }

        self.assertEqual(may, {"Administrator"})
        writing = set(Permission) - {
            Permission.SEE,
            Permission.BIRTH_DATES,
            Permission.EXPORT,
            Permission.JOURNAL,
        }
        self.assertEqual(READY_MADE["Auditor"] & writing, frozenset())
