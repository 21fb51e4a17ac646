"""The one shape of every refusal: problem details (RFC 9457), with each problem beside
its field.
"""

from collections.abc import Iterable, Iterator
from typing import Any

from django.core.exceptions import RequestDataTooBig
from rest_framework import exceptions, status
from rest_framework.response import Response
from rest_framework.views import exception_handler, set_rollback

from cadrin.config.database.busy import is_busy
from cadrin.core.errors import CadrinError, Invalid, NotFound, NotPermitted, Problem, Stale

STATUS = {
    Invalid: status.HTTP_422_UNPROCESSABLE_ENTITY,
    Stale: status.HTTP_409_CONFLICT,
    NotFound: status.HTTP_404_NOT_FOUND,
    NotPermitted: status.HTTP_403_FORBIDDEN,
}
CODE_OF_STATUS = {
    400: "request.not_readable",
    401: "operator.not_signed_in",
    403: "operator.not_permitted",
    404: "request.not_found",
    405: "request.method_not_allowed",
    406: "request.not_acceptable",
    415: "request.not_json",
    413: "request.too_large",
    429: "request.too_many",
    503: "server.busy",
}
TRY_AGAIN_AFTER_SECONDS = "2"


def problem_response(error: Exception, context: dict[str, Any]) -> Response | None:
    """Turn an error into its answer; None for what nobody foresaw, which is logged and answered as
    500.
    """
    if isinstance(error, CadrinError):
        more: dict[str, Any] = {}
        if isinstance(error, Stale):
            more = {"current_version": error.current_version, "since": error.since}
        return _answer(STATUS[type(error)], error.problems, more)
    if isinstance(error, exceptions.ValidationError):
        return _answer(
            status.HTTP_422_UNPROCESSABLE_ENTITY, _problems_in(error.get_full_details()), {}
        )
    if isinstance(error, RequestDataTooBig):
        return _answer(413, [Problem(CODE_OF_STATUS[413])], {})
    if is_busy(error):
        busy = _answer(503, [Problem(CODE_OF_STATUS[503])], {})
        busy.headers["Retry-After"] = TRY_AGAIN_AFTER_SECONDS
        set_rollback()
        return busy
    answer = exception_handler(error, context)
    if answer is None:
        return None
    is_signed_out = isinstance(error, exceptions.NotAuthenticated)
    code = (
        CODE_OF_STATUS[401]
        if is_signed_out
        else CODE_OF_STATUS.get(answer.status_code, "request.refused")
    )
    refusal = _answer(401 if is_signed_out else answer.status_code, [Problem(code)], {})
    if refusal.status_code == 401:
        refusal.headers["WWW-Authenticate"] = "Bearer"
    return refusal


def _answer(code: int, problems: Iterable[Problem], more: dict[str, Any]) -> Response:
    listed = [{"code": p.code, "field": p.field, "params": dict(p.params)} for p in problems]
    body = {
        "type": "about:blank",
        "title": listed[0]["code"],
        "status": code,
        "problems": listed,
        **more,
    }
    return Response(body, status=code, content_type="application/problem+json")


def _problems_in(details: Any, path: str = "") -> Iterator[Problem]:
    """Flatten the framework's nested refusals into one problem a field."""
    if isinstance(details, dict) and isinstance(details.get("code"), str) and "message" in details:
        code = details["code"]
        # free text of the framework is passed as a parameter: the screen has words for the codes it
        # knows
        yield Problem(f"input.{code}", path or None, {"message": str(details["message"])})
    elif isinstance(details, dict):
        for name, inner in details.items():
            here = "" if name == "non_field_errors" else str(name)
            yield from _problems_in(inner, f"{path}.{here}".strip("."))
    elif isinstance(details, list):
        is_rows = any(isinstance(inner, dict) and "message" not in inner for inner in details)
        for place, inner in enumerate(details):
            yield from _problems_in(inner, f"{path}.{place}" if is_rows else path)
