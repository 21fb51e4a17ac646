import json
from typing import Any
from unittest.mock import patch

from django.core.signals import request_finished, request_started
from django.db import close_old_connections
from django.test import RequestFactory, TestCase

from cadrin.config.whole import InOnePiece
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.sending import MOST_AT_ONCE, MOST_OF_ONE, Sendings
from tests.house import House, an_operator

EXPORT: dict[str, Any] = {"kind": "csv", "columns": ["number"], "filters": {}, "sort": "name"}


class WhatTheServerIsGiven(TestCase):
    def test_is_a_list_of_what_was_made_as_a_whole(self) -> None:
        application, told = InOnePiece(), list[str]()

        def begin(status: str, *_: object) -> Any:
            told.append(status)

        def ask(path: str) -> object:
            request = RequestFactory().get(path)
            # the framework ends its connections when an answer is closed
            request_finished.disconnect(close_old_connections)
            request_started.disconnect(close_old_connections)
            try:
                return application(request.environ, begin)
            finally:
                request_finished.connect(close_old_connections)
                request_started.connect(close_old_connections)

        whole = ask("/api/session/")
        self.assertIsInstance(whole, list)
        assert isinstance(whole, list)
        self.assertIs(json.loads(b"".join(whole))["is_signed_in"], False)
        self.assertEqual(told, ["200 OK"])


class ExportsOnTheirWay(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.house.enrol()
        self.client.force_login(self.house.operator)
        kept = patch("cadrin.operators.rest.sending.SENDINGS", Sendings())
        self.sendings = kept.start()
        self.addCleanup(kept.stop)

    def export(self, **more: Any) -> Any:
        return self.client.post("/api/export/", EXPORT | more, content_type="application/json")

    def test_are_a_few_of_one_operator_and_others_have_theirs(self) -> None:
        sent = [self.export() for _ in range(MOST_OF_ONE)]
        refused = self.export()
        self.assertEqual([answer.status_code for answer in sent], [200] * MOST_OF_ONE)
        self.assertEqual((refused.status_code, refused.json()["title"]), (422, "export.too_many"))

        self.client.force_login(an_operator("another", *Permission))
        self.assertEqual(self.export().status_code, 200)

    def test_are_not_too_many_in_all(self) -> None:
        for place in range(MOST_AT_ONCE):
            self.sendings.begin(f"operator {place}")

        self.assertEqual(self.export().status_code, 422)

    def test_give_their_place_back_read_or_not_and_when_they_cannot_be_made(self) -> None:
        for _ in range(MOST_OF_ONE + 1):
            self.assertEqual(self.export(columns=["nothing"]).status_code, 422)
        for is_read in (True, False) * MOST_OF_ONE:
            answer = self.export()
            self.assertEqual(answer.status_code, 200)
            if is_read:
                self.assertIn(b"S-1", b"".join(answer.streaming_content))
            for closing in answer._resource_closers * 2:  # as the server does, and once too often
                closing()
