"""Requests generated from the API's description: never a failure of the server, never an
undescribed answer.

A short run of it belongs to every change; ``scripts/fuzz`` makes a long one.
"""

import os
from contextlib import suppress
from datetime import timedelta
from typing import Any
from unittest import mock

import schemathesis
from django.conf import settings
from django.core.cache import cache
from django.db import connection, transaction
from django.test import Client, TestCase
from django.utils import timezone
from hypothesis import HealthCheck, Phase, given
from hypothesis import settings as how
from hypothesis.errors import Unsatisfiable
from schemathesis import GenerationMode
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from cadrin.accounts.commands.tokens import TokenDraft, make_token
from cadrin.config.wsgi import application
from cadrin.operators.models import Operator, Role
from tests.described import FOR_SCRIPTS, FOR_THE_SCREEN, described
from tests.house import ANYBODY, House

EXAMPLES = int(os.environ.get("CADRIN_FUZZ_EXAMPLES", "3"))
"""Requests for each operation, of those the description allows and of those it does not, each."""
CHECKS = [
    not_a_server_error,
    status_code_conformance,
    content_type_conformance,
    response_schema_conformance,
]
CSRF = "c" * 32


def of_the_screen() -> dict[str, Any]:
    """Return the description of what the screen asks, with nothing in it that waits."""
    found = described(FOR_THE_SCREEN)
    for parameter in found["paths"]["/api/news/"]["get"]["parameters"]:
        if parameter["name"] == "wait_seconds":
            parameter["schema"]["maximum"] = 0.01
    return found


class GeneratedRequests(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        house = House()
        house.enrol()
        role = Role.objects.get(name="Role of mara")
        draft = TokenDraft("Generated", role.pk, timezone.now() + timedelta(days=1))
        cls.key = make_token(ANYBODY, draft, timezone.now())
        cls.operator = house.operator

    key: str
    operator: Operator
    asked = 0

    def setUp(self) -> None:
        # the server closes connections between requests, and would close the one that the test's
        # transaction is in
        staying = mock.patch.object(connection, "close_if_unusable_or_obsolete")
        staying.start()
        self.addCleanup(staying.stop)

    def headers(self, path: str) -> dict[str, str]:
        """Return what lets a request in: a token, or for one's own account a session with the
        page's token.
        """
        if not path.startswith(("/api/account/", "/api/session/", "/api/password-link/")):
            return {"Authorization": f"Bearer {self.key}"}
        client = Client()
        client.force_login(self.operator)
        session = client.cookies[settings.SESSION_COOKIE_NAME].value
        return {
            "Cookie": f"{settings.SESSION_COOKIE_NAME}={session}; csrftoken={CSRF}",
            "X-CSRFToken": CSRF,
        }

    def test_are_answered_as_the_description_says(self) -> None:
        for description in (of_the_screen(), described(FOR_SCRIPTS)):
            schema = schemathesis.openapi.from_dict(description)
            schema.app = application
            for result in schema.get_all_operations():
                operation: Any = result.ok()  # type: ignore[union-attr]  # an error of the description raises
                for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE):
                    with self.subTest(f"{mode.value}: {operation.method.upper()} {operation.path}"):
                        self.run_one(operation, mode)
        print(
            f"\n{self.asked} generated requests were answered as the description says", flush=True
        )

    def run_one(self, operation: Any, mode: GenerationMode) -> None:
        @how(
            max_examples=EXAMPLES,
            deadline=None,
            database=None,
            derandomize=EXAMPLES <= 5,  # the short run is the same for everybody
            phases=[Phase.explicit, Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(case=operation.as_strategy(generation_mode=mode))
        def ask(case: Any) -> None:
            self.asked += 1
            cache.clear()
            with transaction.atomic():
                response = case.call(headers=self.headers(operation.path))
                transaction.set_rollback(True)
            case.validate_response(response, checks=CHECKS)

        # where nothing is asked for, nothing can be asked for wrongly
        with suppress(Unsatisfiable):
            ask()
