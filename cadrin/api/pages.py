"""The shape of one page of a list."""

from functools import cache
from typing import Any

from rest_framework import serializers

from cadrin.operators.rest.base import Shape, told

NEXT = serializers.CharField(
    allow_null=True, **told("The cursor of the page after; null on the last.", "17")
)
TOTAL = serializers.IntegerField(
    allow_null=True, **told("How many there are, up to 10,000; on the first page alone.", 640)
)


@cache
def page_of(shape: type[Shape], *, counted: bool = False) -> type[Shape]:
    """Return the shape of a page of these; one that is ``counted`` says how many there are."""
    fields: dict[str, Any] = {
        "__doc__": "A page of a list.",
        "items": shape(many=True, help_text="What the page has."),
        "next": NEXT,
    }
    if counted:
        fields["total"] = TOTAL
    return type(f"{shape.__name__.removesuffix('Shape')}Page", (Shape,), fields)
