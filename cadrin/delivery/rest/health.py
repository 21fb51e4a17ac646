"""For whoever watches the machine: no session is asked for, and nothing about anybody is told."""

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from cadrin.delivery.health import health, metrics


@require_safe
@never_cache
def healthz(request: HttpRequest) -> HttpResponse:
    """Answer 200 while the server, its database and the worker work, else 503."""
    now = health(timezone.now())
    stopped = now.worker_stopped_at
    body = {
        "database": "ok" if now.has_database else "does not answer",
        "worker": f"stopped since {stopped.isoformat()}" if stopped else "ok",
        "controllers": {"all": now.controllers, "silent": now.silent_controllers},
    }
    return JsonResponse(body, status=200 if now.is_well else 503)


@require_safe
@never_cache
def figures(request: HttpRequest) -> HttpResponse:
    """Answer with figures, where the site wants them."""
    if not settings.TELLS_METRICS:
        raise Http404
    return HttpResponse(
        metrics(timezone.now()), content_type="text/plain; version=0.0.4; charset=utf-8"
    )
