"""The bare framework answering a constant, under the same server: the least that a request can cost."""

from django.conf import settings
from django.core.wsgi import get_wsgi_application
from django.http import HttpRequest, HttpResponse
from django.urls import path


def constant(_request: HttpRequest) -> HttpResponse:
    return HttpResponse(b"{}", content_type="application/json")


settings.configure(ROOT_URLCONF=__name__, ALLOWED_HOSTS=["*"], SECRET_KEY="of no use to anybody")
urlpatterns = [path("", constant)]
application = get_wsgi_application()
