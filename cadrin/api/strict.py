"""Nothing that is sent is passed over in silence: names that are unknown, and names that a whole
resource lacks, are said.
"""

from collections.abc import Iterator, Mapping
from typing import Any

from rest_framework import serializers

from cadrin.core.errors import Problem

VERSION = "version"
"""May stand in a header instead."""


def unknown_names(
    shape: serializers.BaseSerializer[Any], given: Any, path: str = ""
) -> Iterator[Problem]:
    """Yield a problem for each name that the shape does not have."""
    if not isinstance(given, Mapping):
        return
    fields = _fields_of(shape)
    for name, value in given.items():
        here = f"{path}.{name}".strip(".")
        if name not in fields:
            yield Problem("request.unknown_field", here)
        for row_path, inner, row in _inner(fields.get(name), value, here):
            yield from unknown_names(inner, row, row_path)


def missing_names(
    shape: serializers.BaseSerializer[Any], given: Any, path: str = ""
) -> Iterator[Problem]:
    """Yield a problem for each name that the whole of the shape has, and that was left out."""
    if not isinstance(given, Mapping):
        return
    for name, field in _fields_of(shape).items():
        here = f"{path}.{name}".strip(".")
        is_of_the_whole = not field.read_only and not field.write_only and name != VERSION
        if name not in given and is_of_the_whole:
            yield Problem("input.required", here)
        for row_path, inner, row in _inner(field, given.get(name), here):
            yield from missing_names(inner, row, row_path)


def _fields_of(shape: Any) -> Mapping[str, Any]:
    fields: Mapping[str, Any] = shape.fields
    return fields


def _inner(field: Any, value: Any, path: str) -> Iterator[tuple[str, Any, Any]]:
    """Yield path, shape and value of the rows within a field."""
    if isinstance(field, serializers.ListSerializer) and isinstance(value, list):
        for place, row in enumerate(value):
            yield f"{path}.{place}", field.child, row
    elif isinstance(field, serializers.Serializer):
        yield path, field, value
