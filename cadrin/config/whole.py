"""Answers that are made as a whole are handed to the server as a whole."""

from collections.abc import Iterable
from typing import TYPE_CHECKING

from django.core.handlers.wsgi import WSGIHandler
from django.http import HttpResponse

if TYPE_CHECKING:
    from _typeshed.wsgi import StartResponse, WSGIEnvironment


class InOnePiece(WSGIHandler):
    """The framework's application, but that what is not a stream is given as a list.

    The server sends a list by itself; to anything else its thread comes back for every piece, and
    for the end: a third of the time of a small answer, and for as long as its reader is slow.
    """

    def __call__(  # type: ignore[override]
        self, environ: "WSGIEnvironment", start_response: "StartResponse"
    ) -> Iterable[bytes]:
        response = super().__call__(environ, start_response)
        if not isinstance(response, HttpResponse):
            return response
        try:
            return [response.content]
        finally:
            response.close()
