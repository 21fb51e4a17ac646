"""How the operator behind a request is read."""

from collections.abc import Callable
from functools import cache
from typing import Any, NamedTuple

from django.contrib.auth.backends import ModelBackend
from django.db import connection
from django.db.models import Field

from cadrin.operators.models import Operator, Role


class OperatorBackend(ModelBackend):
    """The framework's, but that its statement is written once.

    Every request asks for its operator; to write the statement anew each time takes ten times as
    long as the database needs to answer it.
    """

    def get_user(self, user_id: int) -> Operator | None:
        reading = _reading()
        with connection.cursor() as cursor:
            cursor.execute(reading.statement, [user_id])
            row = cursor.fetchone()
        if row is None:
            return None
        values = [
            read(value) if read else value for read, value in zip(reading.values, row, strict=True)
        ]
        own, of_role = values[: len(_OPERATOR)], values[len(_OPERATOR) :]
        operator = Operator.from_db(connection.alias, [field.attname for field in _OPERATOR], own)
        if operator.role_id is not None:
            operator.role = Role.from_db(
                connection.alias, [field.attname for field in _ROLE], of_role
            )
        return operator if self.user_can_authenticate(operator) else None


_OPERATOR: tuple["Field[Any, Any]", ...] = Operator._meta.concrete_fields
_ROLE: tuple["Field[Any, Any]", ...] = Role._meta.concrete_fields


class _Reading(NamedTuple):
    """The statement, and how each value of its row is read; None as it is."""

    statement: str
    values: list[Callable[[Any], Any] | None]


@cache
def _reading() -> _Reading:
    statement, _ = Operator.objects.filter(pk=0).query.sql_with_params()
    return _Reading(statement, [_reader(field) for field in (*_OPERATOR, *_ROLE)])


def _reader(field: "Field[Any, Any]") -> Callable[[Any], Any] | None:
    column = field.get_col(field.model._meta.db_table)
    steps = [*connection.ops.get_db_converters(column), *column.get_db_converters(connection)]
    if not steps:
        return None

    def read(value: Any) -> Any:
        for step in steps:
            value = step(value, column, connection)
        return value

    return read
