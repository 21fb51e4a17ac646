import sys

from django.core.exceptions import RequestDataTooBig
from django.http import (
    HttpRequest,
    HttpResponse,
    HttpResponseBadRequest,
    HttpResponseNotFound,
    JsonResponse,
)
from django.shortcuts import render
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from cadrin.config.database.busy import is_busy

PROBLEM = "application/problem+json"


@require_safe
@never_cache
def page(request: HttpRequest) -> HttpResponse:
    """Serve the front end, which finds its own way from the path."""
    return render(request, "index.html")


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Answer for a path that nothing serves; under the API in the one shape of every refusal."""
    if request.path.startswith("/api/"):
        return _refusal(404, "request.not_found")
    return HttpResponseNotFound()


def not_readable(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Answer a request that came to no view: too large, or not one at all."""
    if not request.path.startswith("/api/"):
        return HttpResponseBadRequest()
    if isinstance(exception, RequestDataTooBig):
        return _refusal(413, "request.too_large")
    return _refusal(400, "request.not_readable")


def failed(request: HttpRequest) -> HttpResponse:
    """Answer where something failed that nobody foresaw, or the database was held for too long."""
    if not request.path.startswith("/api/"):
        return HttpResponse(status=500)
    return (
        _refusal(503, "server.busy")
        if is_busy(sys.exc_info()[1])
        else _refusal(500, "server.failed")
    )


def no_token(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Answer a write without the token that only a page of Cadrin has."""
    return _refusal(403, "request.no_token")


def _refusal(status: int, code: str) -> JsonResponse:
    problem: dict[str, object] = {"code": code, "field": None, "params": {}}
    body = {"type": "about:blank", "title": code, "status": status, "problems": [problem]}
    return JsonResponse(body, status=status, content_type=PROBLEM)
