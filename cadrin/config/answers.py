"""What every answer of the API has in common, and what is answered when a request never came to a
view.
"""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

API = "/api/"


FOR_SCRIPTS = "/api/v1"


class OneSlash:
    """Let paths of the API be the same with and without a slash at their end.

    The framework would answer with a redirect, at which a script's POST loses its body.
    """

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if f"{request.path_info}/".startswith(f"{FOR_SCRIPTS}/"):
            request.path_info = request.path_info.rstrip("/")
        elif request.path_info.startswith(API) and not _ends_as_a_file(request.path_info):
            request.path_info = f"{request.path_info.rstrip('/')}/"
        return self._answer(request)


def _ends_as_a_file(path: str) -> bool:
    return "." in path.rpartition("/")[2]


class PrivateAnswers:
    """Let no answer of the API be kept by a browser or a proxy: whoever uses the machine next must
    not find it.
    """

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self._answer(request)
        if request.path.startswith(API):
            response.headers.setdefault("Cache-Control", "no-store")
        return response
