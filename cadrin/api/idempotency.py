"""A write that is sent again, as nobody knows whether it arrived, is done once and answered alike."""

import hashlib
import json
from collections.abc import Callable
from datetime import datetime, timedelta
from functools import wraps
from typing import Any

import orjson
from django.db import transaction
from django.utils import timezone
from rest_framework.exceptions import APIException
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.api.models import Answer
from cadrin.core.errors import CadrinError, Invalid
from cadrin.operators.actor import name_of_user
from cadrin.operators.sealing import seal, unseal

HEADER = "Idempotency-Key"
LONGEST_KEY = 200
KEPT_FOR = timedelta(days=1)

Method = Callable[..., Response]


def once(method: Method) -> Method:
    """Let a view's method do what it does once for each `HEADER`, and answer alike again.

    What it does and its answer are kept together or not at all. A refusal is not kept: the same
    request may succeed later. The same key with another request is refused.
    """

    @wraps(method)
    def answered_once(view: Any, request: Request, **named: Any) -> Response:
        key = request.headers.get(HEADER, "")
        if not key:
            return method(view, request, **named)
        if len(key) > LONGEST_KEY:
            raise Invalid.of("input.too_long", HEADER, most=LONGEST_KEY)
        whose, digest = name_of_user(request.user), _digest(request)
        with transaction.atomic():
            kept = Answer.objects.filter(whose=whose, key=key).first()
            if kept:
                return _again(kept, digest)
            try:
                answer = method(view, request, **named)
            except (CadrinError, APIException) as error:
                # what was refused was undone within; what counts refusals stays
                refusal = error
            else:
                _keep(whose, key, digest, answer)
                return answer
        raise refusal

    return answered_once


def forget_answers(at: datetime) -> int:
    """Forget answers that nobody asks for again, and return how many."""
    gone, _ = Answer.objects.filter(at__lt=at - KEPT_FOR).delete()
    return gone


def _keep(whose: str, key: str, digest: str, answer: Response) -> None:
    headers = {name: answer[name] for name in ("Location", "ETag") if name in answer}
    sealed = seal(orjson.dumps([answer.data, headers], default=str).decode())
    Answer.objects.create(
        whose=whose,
        key=key,
        digest=digest,
        status=answer.status_code,
        sealed=sealed,
        at=timezone.now(),
    )


def _again(kept: Answer, digest: str) -> Response:
    if kept.digest != digest:
        raise Invalid.of("request.key_used_otherwise", HEADER)
    data, headers = orjson.loads(unseal(kept.sealed))
    return Response(data, status=kept.status, headers={**headers, "Idempotency-Replayed": "true"})


def _digest(request: Request) -> str:
    asked = [request.method, request._request.path_info, request.data]
    return hashlib.sha256(json.dumps(asked, sort_keys=True).encode()).hexdigest()
