"""What a request spent its time on, in the log, when that is asked for (`CADRIN_SLOW_MS`)."""

import cProfile
import logging
import time
from collections.abc import Callable, Iterable
from types import CodeType
from typing import Any, NamedTuple

from django.conf import settings
from django.core.exceptions import MiddlewareNotUsed
from django.db import connection
from django.http import HttpRequest, HttpResponse

log = logging.getLogger(__name__)
ROOM = f"{settings.ROOT}/cadrin/"
CORE = f"{ROOM}core/"


class _Statements:
    """Counts the statements of a request, and the seconds that the database took for them."""

    def __init__(self) -> None:
        self.count, self.seconds = 0, 0.0

    def __call__(self, execute: Callable[..., Any], *given: Any) -> Any:
        began = time.perf_counter()
        try:
            return execute(*given)
        finally:
            self.count += 1
            self.seconds += time.perf_counter() - began


class Spent(NamedTuple):
    """Seconds of a profile: in calls into the core, and in the code of Cadrin's other rooms."""

    core: float
    rooms: float


def spent(profile: Iterable[Any]) -> Spent:
    """Sum up the entries of `cProfile.Profile.getstats`."""
    core = rooms = 0.0
    for entry in profile:
        where = _file_of(entry.code)
        if where.startswith(CORE):
            continue
        called = entry.calls or ()
        core += sum(call.totaltime for call in called if _file_of(call.code).startswith(CORE))
        if where.startswith(ROOM):
            # what is built in is written for whoever calls it
            built_in = sum(call.inlinetime for call in called if not _file_of(call.code))
            rooms += entry.inlinetime + built_in
    return Spent(core, rooms)


def _file_of(code: CodeType | str) -> str:
    return code.co_filename if isinstance(code, CodeType) else ""


class SlowRequests:
    """Log each request that took longer than was asked for, and where its time went.

    Each is measured, so all of them take longer meanwhile; of what is sent piece by piece, only
    the time to the first piece. The address is told without what was asked for in it.
    """

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        if settings.SLOW_MS is None:
            raise MiddlewareNotUsed
        self._answer = answer
        self._least_ms: float = settings.SLOW_MS

    def __call__(self, request: HttpRequest) -> HttpResponse:
        statements, profile = _Statements(), cProfile.Profile()
        began = time.perf_counter()
        with connection.execute_wrapper(statements), profile:
            response = self._answer(request)
        took = time.perf_counter() - began
        if took * 1000 >= self._least_ms:
            core, rooms = spent(profile.getstats())
            rest = max(took - core - rooms - statements.seconds, 0)
            log.warning(
                "%s %s took %.1f ms: %d statements in %.1f ms, the core %.1f ms, other rooms %.1f ms,"
                " the framework %.1f ms",
                request.method,
                request.path,
                took * 1000,
                statements.count,
                statements.seconds * 1000,
                core * 1000,
                rooms * 1000,
                rest * 1000,
            )
        return response
