"""Read what is sent: JSON, as deep as anything of Cadrin's ever is."""

from collections.abc import Mapping
from typing import IO, Any

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser

DEEPEST = 20


class BoundedJSONParser(JSONParser):
    """The framework's JSON. What is nested more deeply than `DEEPEST` is refused before anything
    walks through it.
    """

    def parse(
        self,
        stream: IO[Any],
        media_type: str | None = None,
        parser_context: Mapping[str, Any] | None = None,
    ) -> Any:
        try:
            found = super().parse(stream, media_type, parser_context)
        except RecursionError as error:
            raise ParseError from error
        if is_deeper(found, DEEPEST):
            raise ParseError
        return found


class MergePatchParser(BoundedJSONParser):
    """A JSON merge patch (RFC 7396), by its own media type."""

    media_type = "application/merge-patch+json"


def is_deeper(value: object, most: int) -> bool:
    """Say whether lists and objects are nested more than so many times.

    >>> is_deeper([[1], {"a": [2]}], 3), is_deeper([[1], {"a": [2]}], 2)
    (False, True)
    """
    level: list[object] = [value]
    for _ in range(most):
        inside: list[object] = []
        for outer in level:
            if isinstance(outer, dict):
                inside += outer.values()
            elif isinstance(outer, list):
                inside += outer
        level = inside
    return any(isinstance(item, dict | list) for item in level)
