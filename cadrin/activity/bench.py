"""The test bench: what an operator does to the stand-ins, passed on to them."""

from typing import Any

import httpx
from django.conf import settings

from cadrin.core.errors import Invalid, NotFound

TIMEOUT_SECONDS = 10.0


def ask(method: str, path: str, body: dict[str, Any] | None = None) -> dict[str, Any]:
    """Pass something on to the stand-ins and give their answer.

    Raises NotFound where there is no test bench, and Invalid for what it does not take.
    """
    if not settings.STANDINS_URL:
        raise NotFound.of("bench.not_there")
    try:
        answer = httpx.request(
            method, f"{settings.STANDINS_URL}/bench{path}", json=body, timeout=TIMEOUT_SECONDS, trust_env=False
        )
    except httpx.HTTPError as error:
        raise NotFound.of("bench.does_not_answer") from error
    if answer.status_code == httpx.codes.NOT_FOUND:
        raise NotFound.of("bench.no_such_device")
    if answer.is_error:
        raise Invalid.of("bench.refused", None, message=answer.text[:200])
    found: dict[str, Any] = answer.json()
    return found
