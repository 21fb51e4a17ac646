"""JSON merge patch against the test cases of RFC 7396, appendix A."""

from typing import Any
from unittest import TestCase

from cadrin.core.merge_patch import merged

APPENDIX_A: list[tuple[Any, Any, Any]] = [
    ({"a": "b"}, {"a": "c"}, {"a": "c"}),
    ({"a": "b"}, {"b": "c"}, {"a": "b", "b": "c"}),
    ({"a": "b"}, {"a": None}, {}),
    ({"a": "b", "b": "c"}, {"a": None}, {"b": "c"}),
    ({"a": ["b"]}, {"a": "c"}, {"a": "c"}),
    ({"a": "c"}, {"a": ["b"]}, {"a": ["b"]}),
    ({"a": {"b": "c"}}, {"a": {"b": "d", "c": None}}, {"a": {"b": "d"}}),
    ({"a": [{"b": "c"}]}, {"a": [1]}, {"a": [1]}),
    (["a", "b"], ["c", "d"], ["c", "d"]),
    ({"a": "b"}, ["c"], ["c"]),
    ({"a": "foo"}, None, None),
    ({"a": "foo"}, "bar", "bar"),
    ({"e": None}, {"a": 1}, {"e": None, "a": 1}),
    ([1, 2], {"a": "b", "c": None}, {"a": "b"}),
    ({}, {"a": {"bb": {"ccc": None}}}, {"a": {"bb": {}}}),
]
"""Original, patch and result, as the standard gives them."""


class MergePatch(TestCase):
    def test_does_what_the_standard_shows_and_leaves_the_original_alone(self) -> None:
        for original, patch, expected in APPENDIX_A:
            with self.subTest(original=original, patch=patch):
                before = repr(original)
                self.assertEqual(merged(original, patch), expected)
                self.assertEqual(repr(original), before)
