"""The shape of one page of a list."""

from functools import cache

from rest_framework import serializers

from cadrin.api.base import told
from cadrin.operators.rest.base import Shape


class Page:
    """Makes the shape of a page of some resource."""

    @staticmethod
    @cache
    def of(shape: type[Shape]) -> type[Shape]:
        fields = {
            "__doc__": f"A page of a list. `{'next'}` is the cursor of the one after, null on the last.",
            "items": shape(many=True, help_text="What the page has."),
            "next": serializers.CharField(
                allow_null=True, **told("The cursor of the page after.", "lindqvist mara|17")
            ),
        }
        return type(f"{shape.__name__.removesuffix('Shape')}Page", (Shape,), fields)
