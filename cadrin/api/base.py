"""What every view of the API for scripts has in common."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Any, ClassVar

from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.api.description import Description
from cadrin.api.strict import missing_names, unknown_names
from cadrin.core.errors import Invalid, NotFound, Problem, Stale
from cadrin.core.merge_patch import merged
from cadrin.operators.rest.base import HouseView, Shape, WholeField, told
from cadrin.operators.rest.parsing import BoundedJSONParser, MergePatchParser

MOST_ON_A_PAGE = 200


class PageQuery(Shape):
    """Which page of a list."""

    limit = WholeField(
        default=50,
        min_value=1,
        max_value=MOST_ON_A_PAGE,
        **told("How many items a page has at most.", 50),
    )
    cursor = serializers.CharField(
        default="",
        allow_blank=True,
        max_length=500,
        **told("`next` of the page before; left out for the first page.", ""),
    )


class ApiView(HouseView):
    """A resource, or a list of them. Unknown names are refused; versions travel as ETags."""

    schema = Description()
    parser_classes = (BoundedJSONParser, MergePatchParser)
    tag: ClassVar[str] = ""
    """Under which heading the description has it."""

    def asked(self, shape: type[Shape], request: Request) -> dict[str, Any]:
        """Read the query. Raises Invalid for what it does not know."""
        _refuse(unknown_names(shape.ready(), request.query_params.dict()))
        return self.given(shape, request)

    def new(self, shape: type[Shape], request: Request) -> dict[str, Any]:
        """Read a new resource: what is left out is as the description says."""
        return self.checked(shape, request.data)

    def whole(self, shape: type[Shape], request: Request) -> dict[str, Any]:
        """Read a whole resource: what is left out is refused, and not emptied."""
        return self._read_whole(shape, request.data, request)

    def patched(
        self, shape: type[Shape], now: Mapping[str, Any], request: Request
    ) -> dict[str, Any]:
        """Read a resource of which only what changes was sent (RFC 7396)."""
        if not isinstance(request.data, dict):
            raise Invalid.of("input.not_a_dict", None)
        _refuse(unknown_names(shape.ready(), request.data))
        emptied = {
            name: _emptied(shape.ready().fields[name])
            for name, value in request.data.items()
            if value is None
        }
        return self._read_whole(shape, {**merged(dict(now), request.data), **emptied}, request)

    def _read_whole(self, shape: type[Shape], sent: Any, request: Request) -> dict[str, Any]:
        _refuse(missing_names(shape.ready(), sent))
        values = self.checked(shape, sent)
        if "version" in shape.ready().fields:
            values["version"] = self._version_named(request, values["version"])
        return values

    def checked(self, shape: type[Shape], sent: Any) -> dict[str, Any]:
        """Read what was sent. Raises Invalid for names that it does not have."""
        _refuse(unknown_names(shape.ready(), sent))
        values = shape.taken_from(sent)
        self.refuse_invisible(shape, values)
        return values

    def _version_named(self, request: Request, in_body: int | None) -> int:
        """Return the version that a change is for; raises Invalid when none is named."""
        named = request.headers.get("If-Match", "").removeprefix("W/").strip('"')
        if named.isdecimal() and len(named) < 16:
            return int(named)
        if named:
            raise Invalid.of("request.if_match_not_readable", "If-Match")
        if in_body is None:
            raise Invalid.of("request.version_needed", "version")
        return in_body

    def handle_exception(self, exc: Exception) -> Response:
        if isinstance(exc, Invalid):
            exc = Invalid(
                replace(p, field=p.field and self.field_named(p.field)) for p in exc.problems
            )
        answer: Response = super().handle_exception(exc)
        if isinstance(exc, Stale) and "If-Match" in self.request.headers:
            answer.status_code = 412
            answer.data["status"] = 412
        return answer

    @staticmethod
    def field_named(field: str) -> str:
        """Return what a field of a draft is called here."""
        return field

    def page_of(
        self, rows: Sequence[Mapping[str, Any]], asked: Mapping[str, Any], key: str = "id"
    ) -> Response:
        """Answer with a page of rows that are all at hand, in the order of their ids."""
        after = cursor_number(asked["cursor"])
        ordered = sorted(rows, key=lambda row: row[key])
        following = [row for row in ordered if row[key] > after] if after else ordered
        return page(following, asked["limit"], lambda row: row[key])


def page(
    rows: Sequence[Mapping[str, Any]],
    limit: int,
    key: Callable[[Mapping[str, Any]], object],
    **more: Any,
) -> Response:
    """Answer with the first rows, and the cursor of what comes after them where there is more."""
    shown = rows[:limit]
    following = str(key(shown[-1])) if len(rows) > limit else None
    return Response({"items": shown, "next": following, **more})


def cursor_number(cursor: str) -> int:
    """Return the id in a cursor; 0 for the first page. Raises Invalid."""
    if cursor and not (cursor.isdecimal() and len(cursor) < 16):
        raise Invalid.of("list.unknown_key", "cursor")
    return int(cursor or 0)


def one_of(rows: Iterable[Mapping[str, Any]], id_: int, code: str) -> Mapping[str, Any]:
    """Return the row with an id. Raises NotFound with the code."""
    found = next((row for row in rows if row["id"] == id_), None)
    if found is None:
        raise NotFound.of(code)
    return found


def with_version(row: Mapping[str, Any], status: int = 200, location: str = "") -> Response:
    """Answer with a resource and its version as an ETag."""
    headers = {"ETag": f'"{row["version"]}"'} if "version" in row else {}
    if location:
        headers["Location"] = f"/api/v1/{location}"
    return Response(row, status=status, headers=headers)


def _emptied(field: serializers.Field[Any, Any, Any, Any]) -> Any:
    """Return what a field is when null is sent for it: null removes."""
    default = field.default
    if field.allow_null or default is serializers.empty:
        return None
    return default() if callable(default) else default


def _refuse(problems: Iterable[Problem]) -> None:
    found = tuple(problems)
    if found:
        raise Invalid(found)
