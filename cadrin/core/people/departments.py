"""The tree of departments, as a mapping of each to the one above it."""

from collections.abc import Iterator, Mapping, Sequence

MOST_DEEP = 30
"""Levels at most: deeper than any house is, and no deeper than a screen can show."""

Parents = Mapping[int, int | None]


def line_above(department_id: int, parents: Parents) -> Iterator[int]:
    """Return a department and all above it, from the inside out.

    >>> list(line_above(3, {1: None, 2: 1, 3: 2}))
    [3, 2, 1]
    """
    seen: set[int] = set()
    here: int | None = department_id
    while here is not None and here not in seen:
        yield here
        seen.add(here)
        here = parents.get(here)


def depth_of(department_id: int, parents: Parents) -> int:
    """Return how many departments lie above one."""
    return sum(1 for _ in line_above(department_id, parents)) - 1


def is_below(department_id: int, other_id: int, parents: Parents) -> bool:
    """Say whether a department is the other one, or lies below it."""
    return other_id in line_above(department_id, parents)


def everything_below(parents: Parents) -> dict[int, list[int]]:
    """Return every department with itself and all below it.

    >>> everything_below({1: None, 2: 1, 3: 2})
    {1: [1, 2, 3], 2: [2, 3], 3: [3]}
    """
    found: dict[int, list[int]] = {}
    for department_id in parents:
        for above in line_above(department_id, parents):
            found.setdefault(above, []).append(department_id)
    return found


def proposed_groups(
    department_id: int, parents: Parents, defaults: Mapping[int, Sequence[int]]
) -> tuple[int, ...]:
    """Return the access groups that a department proposes: its default groups, and those of all
    departments above it, each once.

    >>> proposed_groups(3, {1: None, 2: 1, 3: 2}, {1: [10], 3: [30, 10]})
    (30, 10)
    """
    above = line_above(department_id, parents)
    return tuple(dict.fromkeys(group for here in above for group in defaults.get(here, ())))
