from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe


@require_safe
@never_cache
def page(request: HttpRequest) -> HttpResponse:
    """Serve the front end, which finds its own way from the path."""
    return render(request, "index.html")
