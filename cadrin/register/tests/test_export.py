"""What a file holds of each cardholder does not hang on which columns stand beside it."""

import csv
import io

from django.test import TestCase

from cadrin.register.export import COLUMNS, Wanted, export
from cadrin.register.filters import Filters
from cadrin.register.selection import Selection
from cadrin.register.tests.test_listing import some_people
from tests.house import ANYBODY, NOON, House


class Exported(TestCase):
    def columns(self, *keys: str) -> list[list[str]]:
        """Return the file with these columns, its heading left out."""
        wanted = Wanted("csv", keys, Selection(filters=Filters()), "name")
        text = b"".join(export(ANYBODY, wanted, NOON).chunks).decode("utf-8-sig")
        return list(csv.reader(io.StringIO(text)))[1:]

    def test_columns_are_the_same_with_and_without_who_is_ready(self) -> None:
        some_people(House(), 60)
        others = [key for key in COLUMNS if key != "readiness"]

        alone = self.columns(*others)
        beside = self.columns(*others, "readiness")

        self.assertEqual(len(alone), 60)
        self.assertEqual(alone, [row[:-1] for row in beside])
        self.assertTrue(any(row[-1] for row in beside))
