"""Who may ask the API at all."""

import re
from unittest import mock

from django.test import Client
from rest_framework.throttling import SimpleRateThrottle

from cadrin.journal.models import Entry
from cadrin.operators.permissions import Permission
from cadrin.people.models import Cardholder
from tests.described import every_path
from tests.house import NOON, PASSWORD, an_operator
from tests.test_api import Api

OPEN_TO_ANYBODY = {"/api/session/", "/api/password-link/"}
EVERYBODYS_OWN = {
    "/api/saved-lists/",
    "/api/saved-lists/1/",
    "/api/questions/saved/",
    "/api/questions/saved/1/",
    "/api/cardholders/1/here/",
}
"""What whoever may see does for themselves: keep lists, and say where they are."""
ONES_OWN_ACCOUNT = "/api/account/"


def every_endpoint() -> list[tuple[str, str]]:
    """Return method and path of everything in the API's description."""
    numbered = re.compile(r"{(id|key|entry|letter|token|group|consent|template)}")
    return [
        (method.upper(), numbered.sub("1", path).replace("{size}", "list"))
        for path, methods in every_path().items()
        for method in methods
        if path not in OPEN_TO_ANYBODY
    ]


class WhoMayAsk(Api):
    def test_nothing_is_answered_without_a_session(self) -> None:
        for method, path in every_endpoint():
            with self.subTest(f"{method} {path}"):
                code, answer = self.ask(method, path, {}, Client())
                self.assertEqual((code, answer["title"]), (401, "operator.not_signed_in"))

    def test_nothing_is_answered_to_an_operator_without_permission(self) -> None:
        client = Client()
        client.force_login(an_operator("nobody"))

        for method, path in every_endpoint():
            if not path.startswith(ONES_OWN_ACCOUNT):
                with self.subTest(f"{method} {path}"):
                    code, answer = self.ask(method, path, {}, client)
                    self.assertEqual((code, answer["title"]), (403, "operator.not_permitted"))

    def test_whoever_may_only_see_changes_nothing(self) -> None:
        client = Client()
        client.force_login(an_operator("guard", Permission.SEE))
        entries = Entry.objects.count()

        for method, path in every_endpoint():
            is_own = path in EVERYBODYS_OWN or path.startswith(ONES_OWN_ACCOUNT)
            if method != "GET" and not path.startswith("/api/preview/") and not is_own:
                with self.subTest(f"{method} {path}"):
                    self.assertEqual(self.ask(method, path, {}, client)[0], 403)
        self.assertEqual(Entry.objects.count(), entries)

    def test_a_write_needs_the_token_that_only_the_page_has(self) -> None:
        client = Client(enforce_csrf_checks=True)
        client.force_login(self.house.operator)

        code, _ = self.ask("POST", "/api/cardholders/new/", self.file(), client)

        self.assertEqual((code, Cardholder.objects.count()), (403, 0))

    def test_signing_in_and_out(self) -> None:
        client = Client()
        credentials = {"username": "mara", "password": PASSWORD}

        wrong = self.ask(
            "POST", "/api/session/", credentials | {"password": "tide-and-wave"}, client
        )
        right = self.ask("POST", "/api/session/", credentials, client)
        out = self.ask("DELETE", "/api/session/", None, client)

        self.assertEqual((wrong[0], wrong[1]["problems"][0]["field"]), (422, "password"))
        self.assertEqual(
            (right[0], right[1]["name"], len(right[1]["permissions"])),
            (200, "Mara", len(Permission)),
        )
        self.assertEqual(out[0], 204)
        self.assertEqual(self.ask("GET", "/api/session/", None, client)[1]["is_signed_in"], False)

    def test_guessing_passwords_is_slowed(self) -> None:
        client = Client()
        one_moment = mock.patch.object(SimpleRateThrottle, "timer", return_value=NOON.timestamp())

        with one_moment:  # however long the guesses take here
            guesses = [
                self.ask("POST", "/api/session/", {"username": "mara", "password": "no"}, client)
                for _ in range(31)
            ]

        self.assertEqual(guesses[0][0], 422)
        self.assertEqual((guesses[-1][0], guesses[-1][1]["title"]), (429, "request.too_many"))
