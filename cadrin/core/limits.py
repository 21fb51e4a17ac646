"""What a controller can hold: by what it tells, and by what an operator knows of it."""

from collections.abc import Iterable, Mapping

from cadrin.core.errors import Problem

LIMITS: Mapping[str, range] = {
    "capacity": range(1, 10_000_001),
    "most_cards": range(1, 101),
    "most_memberships": range(1, 1001),
    "most_schedules": range(1, 100_001),
    "longest_name": range(1, 201),
    "latest": range(946_684_800, 2**31),
    "longest_span": range(86_400, 2**31),
    "most_templates": range(1_000_001),
}
"""Cardholders, cards and memberships of each, schedules, letters of a name, the last second
of its calendar (since 1970), the seconds between two instants, and templates of everybody together:
what may be entered of each."""


def problems_with_limits(limits: Mapping[str, int]) -> Iterable[Problem]:
    """Yield what is wrong with limits that were entered, each beside its field."""
    for name, count in limits.items():
        if name not in LIMITS:
            yield Problem("input.invalid", f"limits.{name}")
        elif count not in LIMITS[name]:
            lowest, highest = LIMITS[name][0], LIMITS[name][-1]
            given = {"lowest": lowest, "highest": highest}
            yield Problem("input.out_of_range", f"limits.{name}", given)


def narrower(told: int | None, entered: int | None) -> int | None:
    """Return the limit that holds, of the one that a controller tells and the one that was entered.

    >>> narrower(5, None), narrower(None, 3), narrower(5, 3), narrower(2, 3), narrower(None, None)
    (5, 3, 3, 2, None)
    """
    return min((one for one in (told, entered) if one is not None), default=None)
