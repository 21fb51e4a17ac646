"""What nobody gets, however they ask: too much, too deep, too many at once, or for ever."""

import fcntl
import json
import re
import sqlite3
import time
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any
from unittest import skipIf
from unittest.mock import patch

from django.conf import settings
from django.core.cache import cache
from django.db import connection
from django.test import Client, TransactionTestCase
from rest_framework import serializers

from cadrin.activity.bell import MOST_WAITING, MOST_WAITING_OF_ONE, Bell
from cadrin.activity.models import Read
from cadrin.activity.queries import news
from cadrin.core.texts import fields_with_invisible
from cadrin.operators.rest.base import Shape
from cadrin.people.models import Cardholder
from tests.asking import WithAHouse
from tests.described import PREFIX, every_path
from tests.house import ANYBODY, NOON, House

SHORT_SECONDS, LONG_SECONDS = 3.0, 30.0
"""How long a write waits in these tests, and what reading, which waits for nothing, takes less than
anywhere.
"""


def every_shape(shape: type[Shape]) -> Iterator[type[Shape]]:
    for inner in shape.__subclasses__():
        yield inner
        yield from every_shape(inner)


def unbounded_lists(shape: serializers.BaseSerializer[Any], path: str = "") -> Iterator[str]:
    """Yield the lists that take any number of rows, however deep they lie."""
    for name, field in getattr(shape, "fields", {}).items():
        here = f"{path}{name}"
        if field.read_only:
            continue
        if isinstance(field, serializers.ListField | serializers.ListSerializer):
            if getattr(field, "max_length", None) is None:
                yield here
            field = field.child
        if isinstance(field, serializers.BaseSerializer):
            yield from unbounded_lists(field, f"{here}.")


class Requests(WithAHouse):
    def test_have_a_bound_in_every_list(self) -> None:
        sent = {
            # the description for scripts calls a CardShape a card
            name.removesuffix("Request") + "Shape" * path.startswith(PREFIX)
            for path, methods in every_path().items()
            for method in methods.values()
            for name in re.findall(r'schemas/(\w+)"', json.dumps(method.get("requestBody")))
        }
        shapes = {shape.__name__: shape for shape in every_shape(Shape)}
        looked_at = [shapes[name] for name in shapes if name in sent]
        unbounded = [
            f"{shape.__name__}.{name}" for shape in looked_at for name in unbounded_lists(shape())
        ]

        self.assertGreater(len(looked_at), 20)
        self.assertEqual(unbounded, [])

    def test_with_too_many_of_anything_are_refused_before_they_are_judged(self) -> None:
        pin = {"entry": "1", "again": "1"}
        card = {"format": 1, "facility_code": 1, "card_number": 1}
        with patch("cadrin.delivery.rest.views.preview_cardholder") as judged:
            for field, rows in {"pins": [pin] * 500, "cards": [card] * 8000}.items():
                status, answer = self.ask("POST", "/api/preview/", {"number": "S-1", field: rows})
                self.assertEqual((status, answer["problems"][0]["field"]), (422, field))
        judged.assert_not_called()

    def test_that_are_nested_or_too_large_are_refused_as_a_problem_by_every_route(self) -> None:
        nobody = Client()
        for path in ("/api/session/", "/api/preview/", "/api/cardholders/new/"):
            for name, body, expected in (
                ("nested", "[" * 100_000, (400, 401, 403)),
                ("nested objects", '{"a":' * 5000 + "1" + "}" * 5000, (400, 401, 403)),
                ("too large", " " * (settings.DATA_UPLOAD_MAX_MEMORY_SIZE + 1), (413, 401, 403)),
            ):
                with self.subTest(f"{path} {name}"):
                    answer = nobody.generic("POST", path, body, content_type="application/json")
                    self.assertIn(answer.status_code, expected)
                    self.assertEqual(answer.headers["Content-Type"], "application/problem+json")
                    answer = self.client.generic(
                        "POST", path, body, content_type="application/json"
                    )
                    self.assertEqual(answer.status_code, expected[0])
                    self.assertEqual(answer.headers["Content-Type"], "application/problem+json")

    def test_for_a_number_larger_than_any_there_can_be_find_nothing_at_every_route(self) -> None:
        numbered = {path: methods for path, methods in every_path().items() if "{" in path}
        self.assertGreater(len(numbered), 30)
        for path, methods in numbered.items():
            for method in methods.keys() & {"get", "put", "post", "patch", "delete"}:
                kinds = {
                    one["name"]: one["schema"]["type"]
                    for one in methods[method].get("parameters", ())
                }
                if "integer" not in [kinds[name] for name in re.findall(r"{(\w+)}", path)]:
                    continue
                with self.subTest(f"{method} {path}"):
                    for number in (2**63, 10**40):
                        status, answer = self.ask(
                            method.upper(), re.sub(r"{\w+}", str(number), path), {}
                        )
                        self.assertEqual(
                            (status, answer["problems"][0]["code"]), (404, "request.not_found")
                        )

    def test_with_characters_that_nobody_sees_are_refused_beside_the_field(self) -> None:
        for text in ("Sker\u202erow", "Sker\u200brow"):
            status, answer = self.ask("POST", "/api/companies/", {"name": text, "short_name": "S"})
            self.assertEqual((status, answer["problems"][0]["field"]), (422, "name"))
            self.assertEqual(answer["problems"][0]["code"], "input.invisible_characters")
        status, _ = self.ask("POST", "/api/companies/", {"name": "Skerrow", "short_name": "S"})
        self.assertEqual(status, 201)
        self.assertEqual(list(fields_with_invisible({"a": [{"b": "\u2066"}]})), ["a.0.b"])

    def test_are_answered_with_nothing_that_is_kept(self) -> None:
        for path in ("/api/session/", "/api/house/", "/api/nothing/"):
            self.assertEqual(self.client.get(path).headers["Cache-Control"], "no-store")


class News(TransactionTestCase):
    def setUp(self) -> None:
        self.house = House()
        read = Read.objects.create(
            at=NOON,
            controller=self.house.north,
            store="a",
            event_number=1,
            reader_name="Gate",
            raw="26:1",
        )
        self.after = read.pk

    def test_is_waited_for_by_not_too_many_in_all(self) -> None:
        bell = Bell()  # its own: pages of other tests may still wait at the one of the process
        with patch("cadrin.activity.queries.BELL", bell), ExitStack() as waiting:
            places = [
                waiting.enter_context(bell.place(f"operator {n}")) for n in range(MOST_WAITING + 3)
            ]

            self.assertEqual(len(list(filter(None, places))), MOST_WAITING)
            with patch.object(bell, "wait") as waited:
                self.assertEqual(
                    news(ANYBODY, self.after, 20.0),
                    [],
                    "and whoever comes then is answered at once",
                )
            waited.assert_not_called()

        with bell.place("one") as place:
            self.assertIsNotNone(place, "every place was given back")

    def test_is_waited_for_by_a_few_pages_of_one_operator_of_which_the_newest_hear_of_it_at_once(
        self,
    ) -> None:
        # a page that is loaded anew leaves its waiting request behind, and nobody tells
        bell = Bell()
        with patch("cadrin.activity.queries.BELL", bell), ExitStack() as waiting:
            gone = [waiting.enter_context(bell.place("one")) for _ in range(MOST_WAITING_OF_ONE)]
            newest = [waiting.enter_context(bell.place("one")) for _ in range(MOST_WAITING_OF_ONE)]

            self.assertTrue(all(place and place.is_taken for place in gone))
            self.assertTrue(all(place and not place.is_taken for place in newest))
            began = time.monotonic()
            assert gone[0]
            bell.wait(gone[0], bell.latest, LONG_SECONDS)
            self.assertLess(
                time.monotonic() - began, SHORT_SECONDS, "whoever lost the place waits no longer"
            )


@skipIf(settings.IS_SHARED, "it is the file that is locked here")
class Writing(TransactionTestCase):
    def setUp(self) -> None:
        cache.clear()
        self.house = House()
        self.client.force_login(self.house.operator)
        self.id_ = self.house.enrol()
        self.body = self.client.get(f"/api/cardholders/{self.id_}/").json() | {"title": "Diver"}
        self.file = Path(str(connection.settings_dict["NAME"]))

    def save(self) -> Any:
        return self.client.put(
            f"/api/cardholders/{self.id_}/", json.dumps(self.body), content_type="application/json"
        )

    def assert_busy_and_readable(self) -> None:
        began = time.monotonic()
        answer = self.save()
        self.assertEqual((answer.status_code, answer.json()["title"]), (503, "server.busy"))
        self.assertEqual(answer.headers["Content-Type"], "application/problem+json")
        self.assertIn("Retry-After", answer.headers)
        self.assertLess(time.monotonic() - began, LONG_SECONDS)
        for path in ("/api/house/", f"/api/cardholders/{self.id_}/", "/api/session/"):
            began = time.monotonic()
            self.assertEqual(self.client.get(path, headers={"X-Present": "1"}).status_code, 200)
            self.assertLess(time.monotonic() - began, SHORT_SECONDS, "reading waits for nobody")
        self.assertEqual(Cardholder.objects.get(pk=self.id_).version, 1)

    def test_waits_for_its_turn_so_long_and_then_says_so(self) -> None:
        with self.patience(), Path(f"{self.file}.turn").open("ab") as turn:
            fcntl.flock(turn, fcntl.LOCK_EX)
            self.assert_busy_and_readable()
        self.assertEqual(self.save().status_code, 200, "and all is well when it is over")

    def test_says_so_where_the_database_is_locked_from_outside(self) -> None:
        other = sqlite3.connect(self.file, isolation_level=None)
        with self.patience():
            other.execute("BEGIN IMMEDIATE")
            self.assert_busy_and_readable()
            other.execute("ROLLBACK")
        other.close()
        self.assertEqual(self.save().status_code, 200)

    @contextmanager
    def patience(self) -> Iterator[None]:
        """Let this thread's connection wait for a short time at most."""
        options = connection.settings_dict["OPTIONS"]
        before = options["timeout"]
        options["timeout"] = SHORT_SECONDS
        connection.close()
        try:
            yield
        finally:
            options["timeout"] = before
            connection.close()
