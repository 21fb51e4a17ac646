"""What an intake will do: people, doors, cards, records, and who will not be ready."""

from collections import Counter
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from cadrin.access.plan import access_plan
from cadrin.core.access.plan import Holder
from cadrin.core.access.readiness import Gap, readiness
from cadrin.core.people.details import RegisterRules
from cadrin.core.people.names import NameRule
from cadrin.core.records.cardholders import belongs_at
from cadrin.core.validity import Standing
from cadrin.credentials.queries import boxes_known
from cadrin.delivery.queries import room_at_controllers
from cadrin.delivery.wanted import destinations
from cadrin.enrolment.draft import CardholderDraft
from cadrin.intake.judging import WRITTEN, Judged, RowState
from cadrin.journal.commands import changes_between
from cadrin.people.commands.details import as_kept

_EXAMPLES = 5


class Consequences:
    """Gathers what the rows of an intake come to, as they are judged."""

    def __init__(self, rules: RegisterRules, at: datetime) -> None:
        self._names: NameRule = rules.names
        self._at = at
        self._plan, self._where, self._boxes = access_plan(), destinations(), boxes_known()
        self._rows: Counter[str] = Counter()
        self._fields: Counter[str] = Counter()
        self._gained: Counter[int] = Counter()
        self._lost: Counter[int] = Counter()
        self._records: Counter[int] = Counter()
        self._added: Counter[int] = Counter()
        self._cards: dict[tuple[int, int, int], list[int]] = {}
        self._gaps: dict[Gap, list[Any]] = {}
        self._gets_number = 0
        self._given_up = 0

    def note(self, judged: Judged) -> None:
        """Take a row in."""
        self._rows[judged.state] += 1
        if judged.state in WRITTEN and judged.draft:
            self._note_change(judged, judged.draft)

    def _note_change(self, judged: Judged, draft: CardholderDraft) -> None:
        before, after = judged.before, draft
        self._gets_number += judged.gets_number
        if before:
            self._fields.update(changed_fields(before, after))
        if judged.photo:
            self._fields["photo"] += 1
        id_ = judged.cardholder_id or 0
        was, will = (
            before.holder(id_, self._names) if before else None,
            after.holder(id_, self._names),
        )
        doors_before, doors_after = self._doors(was), self._doors(will)
        self._gained.update(doors_after - doors_before)
        self._lost.update(doors_before - doors_after)
        self._note_records(was, will)
        had = {card.identity for card in before.cards} if before else set()
        for card in after.cards:
            if card.identity not in had:
                self._note_card(*card.identity)
        self._given_up += len(had - {card.identity for card in after.cards})
        if will.standing is Standing.ACTIVE:
            for item in readiness(will, self._plan, self._at):
                if item.gap:
                    counted = self._gaps.setdefault(item.gap, [0])
                    counted[0] += 1
                    if len(counted) <= _EXAMPLES:
                        counted.append(judged.name)

    def _doors(self, holder: Holder | None) -> frozenset[int]:
        """Return the doors that somebody has a group and a credential for, whatever the hours."""
        if holder is None or holder.standing is not Standing.ACTIVE:
            return frozenset()
        if holder.span.end is not None and holder.span.end <= self._at:
            return frozenset()
        if not (holder.cards or holder.pins or holder.plates or holder.fingers or holder.faces):
            return frozenset()
        return self._plan.doors_of(holder.memberships)

    def _note_records(self, was: Holder | None, will: Holder) -> None:
        there_before, there_after = self._controllers(was), self._controllers(will)
        self._records.update(there_before | there_after)
        self._added.update(there_after - there_before)
        self._added.subtract(there_before - there_after)

    def _controllers(self, holder: Holder | None) -> set[int]:
        if holder is None:
            return set()
        plans, of_group = self._where
        reached = {
            controller
            for membership in holder.memberships
            for controller in of_group.get(membership.group_id, ())
        }
        return {id_ for id_ in reached if belongs_at(holder, plans[id_])}

    def _note_card(self, format_id: int, code: int, number: int) -> None:
        box = next(
            (
                place
                for place, known in enumerate(self._boxes)
                if (known.format_id, known.facility_code) == (format_id, code)
                and known.first <= number <= known.last
            ),
            -1,
        )
        counted = self._cards.setdefault((format_id, code, box), [0, number, number])
        counted[0] += 1
        counted[1], counted[2] = min(counted[1], number), max(counted[2], number)

    def told(self) -> dict[str, Any]:
        """Return all of it, as JSON takes it."""
        return {
            "rows": {state.value: self._rows[state] for state in RowState},
            "fields": [{"field": name, "count": n} for name, n in self._fields.most_common()],
            "doors": [
                {"door": door, "gained": self._gained[door], "lost": self._lost[door]}
                for door in sorted({*self._gained, *self._lost})
            ],
            "cards": [
                {
                    "format": format_id,
                    "facility_code": str(code),
                    "is_from_box": box >= 0,
                    "count": n,
                    "first": str(first),
                    "last": str(last),
                }
                for (format_id, code, box), (n, first, last) in sorted(self._cards.items())
            ],
            "cards_given_up": self._given_up,
            "records": list(self._told_records()),
            "not_ready": [
                {"gap": gap.value, "count": n, "examples": names}
                for gap, (n, *names) in self._gaps.items()
            ],
            "numbers_given": self._gets_number,
        }

    def _told_records(self) -> Iterable[dict[str, int]]:
        room = room_at_controllers()
        for id_, count in sorted(self._records.items()):
            held, capacity = room.get(id_, (0, None))
            over = 0 if capacity is None else held + self._added[id_] - capacity
            yield {
                "controller": id_,
                "count": count,
                "no_room": max(0, min(over, self._added[id_])),
            }


_PARTS = ("cards", "memberships", "pins", "plates", "images")


def changed_fields(before: CardholderDraft, after: CardholderDraft) -> list[str]:
    """Return the fields and parts that differ."""
    parts = (part for part in _PARTS if getattr(before, part) != getattr(after, part))
    return sorted({*change_of(before, after), *parts})


def change_of(before: CardholderDraft, after: CardholderDraft) -> dict[str, list[Any]]:
    """Return what the details were and will be, field by field, as JSON takes it."""
    told = changes_between(as_kept(before.details), as_kept(after.details))
    return {name: list(pair) for name, pair in told.items() if pair[0] or pair[1]}
