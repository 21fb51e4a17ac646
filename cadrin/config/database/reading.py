"""Rows by the ids of what they belong to, read by a statement that is written once.

A list, a find and a verdict each ask a dozen tables for the rows of the same few cardholders. To put
such a statement together takes the framework some ten times as long as the database needs for its
rows.
"""

# mypy: disable-error-code="no-untyped-call"
from collections.abc import Callable, Container, Iterable, Mapping, Sequence
from typing import Any, Generic, NamedTuple, TypeVar

from django.db import connection
from django.db.models import Expression, Field, ForeignKey, Lookup, Model, QuerySet

from cadrin.config.database.asking import database

M = TypeVar("M", bound=Model)


@ForeignKey.register_lookup
@Field.register_lookup
class Among(Lookup):  # type: ignore[type-arg]
    """``holder_id__among=[1, 2]``: as ``__in``, but that however many ids make one parameter."""

    lookup_name = "among"
    prepare_rhs = False

    def as_sql(self, compiler: Any, connection: Any) -> tuple[str, tuple[Any, ...]]:
        left, params = self.process_lhs(compiler, connection)
        ids = self.rhs if self.rhs is IDS else connection.ids_as_parameter(list(self.rhs))
        return connection.among(left), (*params, ids)


class Given(Expression):
    """Stands in a query of `RowsByIds` for a value of a field's kind that is named with the call."""

    def __init__(self, name: str, kind: "Field[Any, Any]") -> None:
        super().__init__(output_field=kind)
        self.name = name

    def as_sql(self, compiler: Any, connection: Any, **more: Any) -> tuple[str, tuple[Any, ...]]:
        return "%s", (self,)

    def value(self, given: Mapping[str, Any]) -> Any:
        return self.output_field.get_db_prep_value(given[self.name], connection)


IDS: Any = object()
"""Stands in a query of `RowsByIds` for the ids that are asked for later."""


class _Written(NamedTuple):
    statement: str
    params: tuple[Any, ...]
    reading: list[tuple[int, list[Callable[..., Any]], Any]]
    """Where a value is not read as it is: its place, what reads it, and the column it is of."""


class RowsByIds:
    """Call it with ids, or other keys: it gives the rows of a ``values_list`` that holds ``IDS`` where
    they go; what `Given` stands for is named.

    The query is asked for once, when rows are first read.
    """

    def __init__(self, query: Callable[[], QuerySet[Any, Any]]) -> None:
        self._query = query
        self._written: _Written | None = None

    def __call__(self, ids: Iterable[Any] = (), **given: Any) -> list[Any]:
        written = self._written = self._written or _write(self._query())
        these = database().ids_as_parameter(list(ids))
        params = [
            these if param is IDS else param.value(given) if isinstance(param, Given) else param
            for param in written.params
        ]
        with connection.cursor() as cursor:
            cursor.execute(written.statement, params)
            rows = cursor.fetchall()
        return [_read(row, written.reading) for row in rows] if written.reading else rows


class ObjectsByIds(Generic[M]):
    """As `RowsByIds`, but it gives objects of a model, which a query finds, ``without`` some columns."""

    def __init__(
        self, model: type[M], query: Callable[[], QuerySet[M]], without: Container[str] = ()
    ) -> None:
        self._model = model
        columns = (field.attname for field in model._meta.concrete_fields)
        self._columns = [name for name in columns if name not in without]
        self._rows = RowsByIds(lambda: query().values_list(*self._columns))

    def __call__(self, ids: Iterable[Any] = ()) -> list[M]:
        return [self._model.from_db(None, self._columns, row) for row in self._rows(ids)]


def _write(query: QuerySet[Any, Any]) -> _Written:
    compiler = query.query.get_compiler(connection.alias)
    statement, params = compiler.as_sql()
    converters = compiler.get_converters([column for column, *_ in compiler.select])
    reading = [(place, *steps) for place, steps in converters.items()]
    return _Written(statement, params, reading)


def _read(row: Sequence[Any], reading: Iterable[tuple[int, Any, Any]]) -> list[Any]:
    values = list(row)
    for place, steps, column in reading:
        for step in steps:
            values[place] = step(values[place], column, connection)
    return values
