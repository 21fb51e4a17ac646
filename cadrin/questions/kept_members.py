"""Who is in the groups of a door, as doors know them, kept by the process: to read some thousands of
people anew is nearly all that a question about a door takes.

What is kept is renewed as who is not ready is (`register/not_ready.py`): by the journal, which says to
whom anything was done, by the version of the plan, and by cards of limited use.
"""

import threading
from collections import OrderedDict
from collections.abc import Iterable, Mapping
from typing import NamedTuple

from django.db import connection

from cadrin.access.plan import holders
from cadrin.access.queries import members_of_any
from cadrin.core.access.finder import Roster
from cadrin.core.access.plan import Holder
from cadrin.credentials.queries import holders_of_limited_cards
from cadrin.journal.queries import Place, last_place, touched_since
from cadrin.outbox.queries import plan_version

MOST_KEPT = 10_000
"""People, over all doors: each takes about a kilobyte."""
MOST_LOOKED_AT_AGAIN = 500
"""For more it is quicker to read everybody."""


class Members(NamedTuple):
    people: Mapping[int, Holder]
    roster: Roster


class _Kept(NamedTuple):
    members: Members
    place: Place
    version: str


class KeptMembers:
    """Call it with groups. Within a transaction, whose changes may never come to be, nothing is kept."""

    def __init__(self) -> None:
        self._kept: OrderedDict[frozenset[int], _Kept] = OrderedDict()
        self._lock = threading.Lock()

    def __call__(self, group_ids: Iterable[int]) -> Members:
        groups = frozenset(group_ids)
        if connection.in_atomic_block:
            return _read(groups)
        kept = self._kept.get(groups)
        # where the journal ends and the version come first: what is done meanwhile is seen later
        place, version = last_place(), plan_version()
        again = _changed_since(kept, version)
        members = _read(groups) if kept is None or again is None else _renewed(groups, kept, again)
        if place is not None and len(members.people) <= MOST_KEPT:
            self._keep(groups, _Kept(members, place, version))
        return members

    def _keep(self, groups: frozenset[int], kept: _Kept) -> None:
        with self._lock:
            self._kept.pop(groups, None)
            self._kept[groups] = kept
            while sum(len(one.members.people) for one in self._kept.values()) > MOST_KEPT:
                self._kept.popitem(last=False)


def _read(groups: frozenset[int]) -> Members:
    people = holders(members_of_any(groups))
    return Members(people, Roster(list(people.values())))


def _changed_since(kept: _Kept | None, version: str) -> set[int] | None:
    """Return who may be another than is kept; None where everybody may be."""
    if kept is None or kept.version != version:
        return None
    touched = touched_since(kept.place, "cardholder")
    if touched is None or len(touched) > MOST_LOOKED_AT_AGAIN:
        return None
    return touched.union(kept.members.people.keys() & set(holders_of_limited_cards()))


def _renewed(groups: frozenset[int], kept: _Kept, again: set[int]) -> Members:
    if not again:
        return kept.members
    before = kept.members.people
    now = holders(members_of_any(groups, among=again))
    if all(before.get(id_) == now.get(id_) for id_ in again):
        return kept.members
    people = {id_: holder for id_, holder in before.items() if id_ not in again} | now
    return Members(people, Roster(list(people.values())))
