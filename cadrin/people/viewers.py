"""Who is looking at which cardholder just now; kept in memory only, and gone when they leave."""

import time

from django.core.cache import cache

STAYS_SECONDS = 25
"""A page says that it is there more often than this."""


def others_at(cardholder_id: int, operator_id: int | None, name: str, page: str) -> list[str]:
    """Say that an operator's page is at a cardholder, and give the other operators who are, by
    name.
    """
    key, now = f"at-cardholder-{cardholder_id}", time.time()
    here: dict[str, tuple[int | None, str, float]] = cache.get(key) or {}
    here = {item: seen for item, seen in here.items() if seen[2] > now - STAYS_SECONDS}
    here[page] = (operator_id, name, now)
    cache.set(key, here, STAYS_SECONDS)
    return sorted({other for id_, other, _ in here.values() if id_ != operator_id})
