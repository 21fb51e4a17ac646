"""What an operator is kept to: whoever and whatever is outside of it is not there for them."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

KEPT_TO = ("sites", "departments", "companies")


@dataclass(frozen=True, slots=True)
class Scope:
    """Ids of what is within reach; None is all. A department stands for all below it too."""

    sites: frozenset[int] | None = None
    departments: frozenset[int] | None = None
    companies: frozenset[int] | None = None

    @property
    def is_whole(self) -> bool:
        return self.sites is None and self.departments is None and self.companies is None


WHOLE = Scope()


def scope_of(limited_to: Mapping[str, Iterable[int]]) -> Scope:
    """Read a scope as the database keeps it: a kind that is not named is whole, an empty one
    reaches nothing.
    """
    return Scope(*(frozenset(limited_to[kind]) if kind in limited_to else None for kind in KEPT_TO))
