"""What in a list may be there twice: what only one person can have, and people who may be one person."""

from collections.abc import Iterator, Sequence
from typing import Any, Final, NamedTuple

from cadrin.core.errors import Param
from cadrin.core.intake.choices import Choices
from cadrin.core.intake.targets import Target
from cadrin.core.people.details import RegisterRules
from cadrin.core.people.duplicates import PersonFacts
from cadrin.core.people.names import fold, number_key, sort_name
from cadrin.credentials.card_draft import CardIdentity
from cadrin.enrolment.draft import CardholderDraft
from cadrin.intake.understanding import ROW, Fault, RowSaid
from cadrin.operators.actor import Actor
from cadrin.people.finding import alike_in_register

MAY_BE, MAY_BE_IN_FILE, TWICE = "intake.may_be", "intake.may_be_in_file", "intake.twice_in_file"
DOUBTS: Final = frozenset({MAY_BE, MAY_BE_IN_FILE})
"""Faults that may be accepted as they are."""


class Asked(NamedTuple):
    """A row, and what it makes of its person."""

    row: RowSaid
    draft: CardholderDraft
    is_new: bool


class Doubts:
    """Weighs each row against those before it, and newcomers against the register."""

    def __init__(self, actor: Actor, choices: Choices, rules: RegisterRules) -> None:
        self._actor, self._choices, self._rules = actor, choices, rules
        self._taken: dict[tuple[str, Any], int] = {}
        self._people: dict[Any, tuple[int, PersonFacts]] = {}

    def has_card(self, identity: CardIdentity) -> bool:
        """Say whether a row so far has a card."""
        return (Target.CARD, identity) in self._taken

    def add_to(self, rows: Sequence[Asked]) -> None:
        """Add the doubts about some rows to their faults."""
        for asked in rows:
            self._twice(asked.row, asked.draft)
        accepted = self._choices.accepted
        newcomers = [
            asked for asked in rows if asked.is_new and asked.row.row not in self._choices.same_as
        ]
        facts = [facts_of(asked.draft) for asked in newcomers]
        if MAY_BE not in accepted:
            for asked, alike in zip(newcomers, alike_in_register(self._actor, facts), strict=True):
                if alike:
                    told: dict[str, Param] = {"name": alike.display_name, "id": alike.id}
                    asked.row.faults.append(Fault(ROW, MAY_BE, told))
        if MAY_BE_IN_FILE not in accepted:
            for asked, person in zip(newcomers, facts, strict=True):
                self._alike_in_file(asked.row, person)

    def _twice(self, row: RowSaid, draft: CardholderDraft) -> None:
        for target, key in self._unique(draft):
            first = self._taken.setdefault((target, key), row.row) if key else row.row
            if first != row.row and not any(fault.code == TWICE for fault in row.faults):
                column = self._choices.column_for(target)
                row.faults.append(Fault(ROW if column is None else column, TWICE, {"row": first}))

    def _unique(self, draft: CardholderDraft) -> Iterator[tuple[str, Any]]:
        """Yield what nobody shares, with the target that says it."""
        details = draft.details
        yield Target.NUMBER, number_key(details.number)
        yield Target.EXTERNAL_ID, details.external_id.strip()
        for card in draft.cards:
            yield Target.CARD, card.identity
        for plate in draft.plates:
            yield Target.PLATE, plate
        for field in self._rules.custom_fields:
            if field.is_unique:
                yield field.path, details.own.get(field.id)

    def _alike_in_file(self, row: RowSaid, person: PersonFacts) -> None:
        for key in _keys(person):
            first, other = self._people.setdefault(key, (row.row, person))
            if first != row.row:
                name = f"{other.first_name} {other.last_name}".strip()
                row.faults.append(Fault(ROW, MAY_BE_IN_FILE, {"row": first, "name": name}))
                return


def _keys(person: PersonFacts) -> Iterator[tuple[str, Any]]:
    """Yield by what two rows may be one person; a name alone is no reason."""
    name = sort_name(person.first_name, person.last_name)
    if name and (beside := person.born_on or person.department_id):
        yield name, beside
    if person.email:
        yield fold(person.email), None


def facts_of(draft: CardholderDraft) -> PersonFacts:
    """Return what a newcomer is compared by; their number is looked at by itself."""
    details = draft.details
    return PersonFacts(
        "",
        details.first_name,
        details.last_name,
        details.email,
        details.born_on,
        details.department_id,
    )
