"""What cardholders type at a desk's keypad, when they choose their PIN themselves: twice, and nobody sees it."""

from datetime import datetime, timedelta
from typing import NamedTuple

from cadrin.cards.models import TypedPin
from cadrin.core.errors import Invalid
from cadrin.operators.sealing import seal, unseal

KEPT = timedelta(minutes=3)


class Typed(NamedTuple):
    """What was typed since the cardholder was asked to; ``token`` is what it is used by, ``length`` of the latest."""

    times: int
    length: int
    token: int | None


def keep_typed(reader_id: int, digits: str, at: datetime) -> None:
    """Keep what was typed at a keypad for as long as somebody at the desk may need it."""
    forget_typed(at)
    TypedPin.objects.create(reader_id=reader_id, sealed=seal(digits), at=at)


def forget_typed(at: datetime) -> int:
    """Forget what is too old to be used."""
    return TypedPin.objects.filter(at__lt=at - KEPT).delete()[0]


def typed_after(reader_id: int, after: int) -> Typed:
    """Say how often something was typed at a keypad after an id, and how long the latest is: never what."""
    found = list(TypedPin.objects.filter(reader_id=reader_id, pk__gt=after).order_by("id"))
    if not found:
        return Typed(0, 0, None)
    return Typed(len(found), len(unseal(found[-1].sealed)), found[-1].pk)


def latest_typed(reader_id: int) -> int:
    """Give the id to wait after."""
    return TypedPin.objects.filter(reader_id=reader_id).order_by("-id").values_list("id", flat=True).first() or 0


def take_typed(token: int, first: int | None) -> tuple[str, str]:
    """Give what was typed, and what was typed the first time. Raises Invalid when it is gone."""
    found = {typed.pk: unseal(typed.sealed) for typed in TypedPin.objects.filter(pk__in=[token, first or 0])}
    if token not in found:
        raise Invalid.of("pin.typed_is_gone", None)
    return found[token], found.get(first or 0, "")
