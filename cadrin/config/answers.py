"""What every answer of the API has in common, and what is answered when a request never came to a
view.
"""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

API = "/api/"


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
