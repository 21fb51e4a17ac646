"""A script of its own user: one token, and what it sends and is told."""

import json
from datetime import timedelta
from typing import Any

from django.core.cache import cache
from django.http import HttpResponse
from django.test import Client, TestCase
from django.utils import timezone

from cadrin.accounts.commands.tokens import TokenDraft, make_token
from cadrin.operators.models import Role
from tests.house import ANYBODY, House


class WithAToken(TestCase):
    def setUp(self) -> None:
        cache.clear()
        self.house = House()
        self.key = self.token("Sync")

    def token(self, name: str, **scope: list[int]) -> str:
        role = Role.objects.get(name="Role of mara")
        draft = TokenDraft(name, role.pk, timezone.now() + timedelta(days=1), scope)
        return make_token(ANYBODY, draft, timezone.now())

    def send(self, method: str, path: str, body: Any = None, **headers: str) -> HttpResponse:
        answer: HttpResponse = Client().generic(  # type: ignore[assignment]
            method,
            f"/api/v1{path}",
            json.dumps(body) if body is not None else "",
            content_type="application/json",
            headers={"Authorization": f"Bearer {self.key}"}
            | {name.replace("_", "-"): value for name, value in headers.items()},
        )
        return answer

    def ask(
        self, method: str, path: str, body: Any = None, *, status: int = 200, **headers: str
    ) -> Any:
        answer = self.send(method, path, body, **headers)
        self.assertEqual(answer.status_code, status, answer.content[:500])
        return json.loads(answer.content) if answer.content else None

    def problems(self, method: str, path: str, body: Any, **headers: str) -> dict[str | None, str]:
        answer = self.ask(method, path, body, status=422, **headers)
        return {problem["field"]: problem["code"] for problem in answer["problems"]}

    def person(self, **more: Any) -> dict[str, Any]:
        card = {"format": self.house.format.pk, "facility_code": 12, "card_number": 4751}
        return {
            "first_name": "Mara",
            "last_name": "Lindqvist",
            "external_id": "hr-7781",
            "email": "mara.lindqvist@skerrow.example",
            "department": self.house.department.pk,
            "cards": [card],
            "memberships": [{"group": self.house.day_group.pk}],
        } | more
