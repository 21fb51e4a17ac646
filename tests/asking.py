"""What tests that ask the API as an operator have in common."""

import json
from typing import Any

from django.core.cache import cache
from django.test import TestCase

from tests.house import House


class WithAHouse(TestCase):
    def setUp(self) -> None:
        cache.clear()
        self.house = House()
        self.client.force_login(self.house.operator)

    def ask(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        text = body if isinstance(body, str) else json.dumps(body) if body is not None else ""
        answer = self.client.generic(method, path, text, content_type="application/json")
        return answer.status_code, answer.json() if answer.content else None
