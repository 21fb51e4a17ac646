"""The condition of an index, in the words of the index.

A database that is given it with a parameter does not see that the index has all it looks for, and looks
at every row there is.
"""

import re
from functools import cache
from typing import Any

from django.db import connection
from django.db.models import BooleanField, Model
from django.db.models.expressions import RawSQL


def condition_of(model: type[Model], index: str) -> RawSQL:
    """Match the rows that an index, or a constraint that is one, is about."""
    return RawSQL(_written(model, index), (), output_field=BooleanField())  # noqa: S611 - no values


@cache
def _written(model: type[Model], name: str) -> str:
    listed: list[Any] = [*model._meta.indexes, *model._meta.constraints]
    found = next(item for item in listed if item.name == name)
    words = found._get_condition_sql(model, connection.schema_editor())
    return re.sub(r'"(\w+)"', rf'"{model._meta.db_table}"."\1"', words)
