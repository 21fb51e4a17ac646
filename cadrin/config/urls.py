from collections import defaultdict
from collections.abc import Iterable
from importlib import import_module

from django.urls import URLPattern, URLResolver, include, path, re_path

from cadrin.api.viewer import DescriptionView, Viewer
from cadrin.config.manual import manual
from cadrin.config.page import page
from cadrin.delivery.rest.health import figures, healthz

handler400 = "cadrin.config.page.not_readable"
handler500 = "cadrin.config.page.failed"
handler404 = "cadrin.config.page.not_found"
ROOMS = (
    "people",
    "photos",
    "credentials",
    "biometrics",
    "sites",
    "access",
    "activity",
    "enrolment",
    "delivery",
    "register",
    "bulk",
    "intake",
    "questions",
    "reviews",
    "desk",
    "bench",
    "accounts",
    "demo",
)


def by_first_word(above: str, rooms: Iterable[str]) -> list[URLResolver]:
    """Return the routes of all rooms, those that begin with the same word together: a request is
    compared with some twenty words and with the routes below one of them, not with two hundred.
    """
    words: dict[str, list[URLPattern]] = defaultdict(list)
    for room in rooms:
        for route in import_module(f"cadrin.{room}.rest.urls").urlpatterns:
            word, _, rest = str(route.pattern).partition("/")
            words[word].append(path(rest, route.callback))
    return [path(f"{above}{word}/", include(routes)) for word, routes in words.items()]


urlpatterns = [
    path("healthz", healthz),
    path("metrics", figures),
    path("manual/", manual),
    path("manual/<path:name>", manual),
    path("api/v1", Viewer.as_view()),
    path("api/v1/openapi.json", DescriptionView.as_view(), name="api-description"),
    path("api/v1/", include("cadrin.api.urls")),
    *by_first_word("api/", ROOMS),
    # every other path is a page of the front end
    re_path(r"^(?!api/|static/).*$", page),
]
