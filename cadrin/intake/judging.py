"""Judge rows by the block: whom each is about, what it makes of them, and what stands against it."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from enum import StrEnum
from itertools import count
from typing import Any, Final

from cadrin.access.queries import default_groups
from cadrin.core.errors import Problem
from cadrin.core.intake.assembling import PROBLEM_FIELD_OF
from cadrin.core.intake.choices import Choices, Newcomers
from cadrin.core.intake.table import Cells
from cadrin.core.intake.targets import Target
from cadrin.core.people.details import RegisterRules, tidy
from cadrin.core.people.names import number_key
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.pin_problems import Judged as PinsJudged
from cadrin.enrolment.draft import CardholderDraft, Wanted
from cadrin.enrolment.problems import problems_with_drafts
from cadrin.enrolment.queries import drafts_for
from cadrin.intake.cards_in_sequence import CardsInSequence
from cadrin.intake.doubts import Asked, Doubts
from cadrin.intake.drafting import Drafting
from cadrin.intake.knowing import what_is_known
from cadrin.intake.matching import column_of_key, key_of, name_of, people_by_key
from cadrin.intake.understanding import ROW, Fault, RowSaid, Understanding
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.departments import parents
from cadrin.people.queries import rules
from cadrin.people.scoping import only_seen


class RowState(StrEnum):
    """What a row comes to."""

    NEW = "new"
    CHANGED = "changed"
    SAME = "same"
    LEFT_OUT = "left_out"
    FAULTY = "faulty"
    BLANK = "blank"
    MISSING = "missing"


SEVERAL_MATCH: Final = "intake.several_match"
WRITTEN: Final = frozenset({RowState.NEW, RowState.CHANGED, RowState.MISSING})
_SAID_BY_US: Final = frozenset(
    {
        "cardholder.number_twice", "cardholder.external_id_twice", "card.twice", "card.same_bits_twice",
        "own.twice", "plate.twice",
    }
)  # fmt: skip
"""What the register says of people saved together: here it is said of the file, with the row."""


@dataclass(slots=True)
class Judged:
    """A row, judged."""

    row: int
    state: RowState
    cardholder_id: int | None = None
    before: CardholderDraft | None = None
    draft: CardholderDraft | None = None
    gets_number: bool = False
    faults: list[Fault] = field(default_factory=list)
    name: str = ""
    photo: str = ""
    cells: Cells = ()

    @property
    def wanted(self) -> Wanted:
        assert self.draft
        return Wanted(self.cardholder_id, self.draft, self.gets_number)


class Judge:
    """Walks over the rows of a file, a block at a time, in order.

    `block` weighs what a row says against those before it; `as_decided`, while rows are written, takes
    whom each is about from there.
    """

    def __init__(
        self,
        actor: Actor,
        choices: Choices,
        headings: Sequence[str],
        at: datetime,
        *,
        digits: Mapping[int, int] | None = None,
    ) -> None:
        self.actor, self.choices, self.at = actor, choices, at
        self.rules: RegisterRules = rules(actor.language)
        self.known = what_is_known(actor, choices, at)
        self.understanding = Understanding(choices, self.known, headings)
        self.drafting = Drafting(
            self.understanding, self.rules, parents(), default_groups(), at.year
        )
        self._digits = digits or {}
        self._doubts = Doubts(actor, choices, self.rules)
        self._matched: dict[int, int] = {}
        self._cards = _cards_in_sequence(choices)
        self.floor = ""
        """The highest number that the file itself gives, in the site's own numbering."""

    @property
    def matched_ids(self) -> set[int]:
        """Return everybody whom a row so far is about."""
        return set(self._matched)

    # -- while rows are written -----------------------------------------------------------------

    def as_decided(
        self, first_row: int, rows: Sequence[Cells], outcomes: Mapping[int, Mapping[str, Any]]
    ) -> list[Judged]:
        """Return what rows make of those whom the first pass found them to be about."""
        asked = [
            (self.understanding.read(row, cells), outcomes[row])
            for row, cells in zip(count(first_row), rows)
            if row in outcomes
        ]
        drafts = drafts_for(
            self.actor, sorted({told["id"] for _, told in asked if told["id"]}), self.rules
        )
        found = []
        for row, told in asked:
            before = drafts.get(told["id"] or 0)
            self._own_cards(row, before)
            draft = self.drafting.draft(row, before)
            if before is None and not draft.cards and told["cards"]:
                label = row.values.get(Target.CARD_LABEL, "")
                given = tuple(
                    CardDraft(format_id, code, number, label=label)
                    for format_id, code, number in told["cards"]
                )
                draft = replace(draft, cards=given)
            gets_number = before is None and not number_key(draft.details.number)
            state = RowState(told["state"])
            found.append(
                Judged(row.row, state, told["id"], before, draft, gets_number, photo=told["photo"])
            )
        return found

    # -- the first pass ---------------------------------------------------------------------------

    def block(self, first_row: int, rows: Iterable[Cells]) -> list[Judged]:
        """Judge the next rows of the file."""
        said = [self.understanding.read(row, cells) for row, cells in zip(count(first_row), rows)]
        asked = [row for row in said if not self._is_left_out(row)]
        matches = self._matches(asked)
        drafts = drafts_for(
            self.actor, sorted({id_ for id_ in matches.values() if id_}), self.rules
        )
        judged = {row.row: self._draft(row, matches[row.row], drafts) for row in asked}
        self._doubts.add_to(
            [
                Asked(row, draft, not judged[row.row].cardholder_id)
                for row in asked
                if (draft := judged[row.row].draft)
            ]
        )
        self._weigh(asked, judged)
        for row in asked:
            judged[row.row].cells = row.cells
        return [judged.get(row.row) or self._not_asked(row) for row in said]

    def _is_left_out(self, row: RowSaid) -> bool:
        return row.is_blank or row.row in self.choices.left_out

    def _not_asked(self, row: RowSaid) -> Judged:
        return Judged(row.row, RowState.BLANK if row.is_blank else RowState.LEFT_OUT)

    def _matches(self, rows: Sequence[RowSaid]) -> dict[int, int]:
        """Return whom each row is about, 0 for somebody new; more than one is a fault of the row."""
        keys = {row.row: key_of(row, self.choices, self.known.custom_fields) for row in rows}
        found = people_by_key(
            self.actor, self.choices, (key for key in keys.values() if key is not None)
        )
        chosen = only_seen(self.actor, self.choices.same_as.values())
        column = column_of_key(self.choices)
        matches: dict[int, int] = {}
        for row in rows:
            said = self.choices.same_as.get(row.row)
            ids = found.get(keys[row.row], ())
            if said is not None and (not said or said in chosen):
                matches[row.row] = said
            elif len(ids) > 1:
                matches[row.row] = 0
                row.faults.append(Fault(column, SEVERAL_MATCH, {"count": len(ids)}))
            else:
                matches[row.row] = ids[0] if ids else 0
            if id_ := matches[row.row]:
                first = self._matched.setdefault(id_, row.row)
                if first != row.row:
                    row.faults.append(Fault(column, "intake.twice_in_file", {"row": first}))
        return matches

    def _draft(
        self, row: RowSaid, cardholder_id: int, drafts: Mapping[int, CardholderDraft]
    ) -> Judged:
        before = drafts.get(cardholder_id)
        is_left_out = before is None and self.choices.newcomers is Newcomers.LEAVE_OUT
        if before is None and self._is_unclear(row, by_any_fault=is_left_out):
            name = " ".join(filter(None, name_of(row.values)))
            return Judged(row.row, RowState.FAULTY, faults=row.faults, name=name)
        if is_left_out:
            return Judged(row.row, RowState.LEFT_OUT)
        self._own_cards(row, before)
        draft = self.drafting.draft(row, before)
        gets_number = before is None and not number_key(draft.details.number)
        self._zeros(row)
        if before is None and not gets_number:
            self._note_number(draft.details.number)
        if before is None and not draft.cards and self._cards:
            draft = self._with_next_card(row, draft)
        photo = row.values.get(Target.PHOTO, "")
        name = draft.details.shown(self.rules.names)
        return Judged(
            row.row,
            RowState.NEW,
            cardholder_id or None,
            before,
            draft,
            gets_number,
            row.faults,
            name,
            photo,
        )

    def _is_unclear(self, row: RowSaid, *, by_any_fault: bool) -> bool:
        """Say whether a row may be about somebody who is there: with several who match, and where
        newcomers are left out, so that a leaver would stay, with a key that cannot be read.
        """
        column = column_of_key(self.choices)
        return any(
            fault.code == SEVERAL_MATCH or (by_any_fault and fault.column == column)
            for fault in row.faults
        )

    def _own_cards(self, row: RowSaid, before: CardholderDraft | None) -> None:
        """Take a cell for the cards that its person has, where it is how lists write them."""
        column = self.choices.column_for(Target.CARD)
        if before is None or column is None or not row.cells[column:]:
            return
        parts = [part.strip() for part in row.cells[column].split(";") if part.strip()]
        theirs = {f"{c.facility_code}-{c.card_number:05}": c.identity for c in before.cards}
        if parts and all(part in theirs for part in parts):
            row.values[Target.CARD] = tuple(theirs[part] for part in parts)
            row.faults[:] = [fault for fault in row.faults if fault.column != column]

    def _zeros(self, row: RowSaid) -> None:
        """Ask about a number that is shorter than its like: a spreadsheet takes zeros away."""
        column = self.choices.column_for(Target.NUMBER)
        if column is None or self.choices.columns[column].width:
            return
        cell = row.cells[column].strip() if column < len(row.cells) else ""
        width = self._digits.get(column, 0)
        if cell.isdecimal() and len(cell) < width and (row.row, column) not in self.choices.cells:
            told: dict[str, str | int | None] = {
                "text": cell,
                "full": cell.zfill(width),
                "width": width,
            }
            row.faults.append(Fault(column, "intake.lost_zeros", told))

    def _note_number(self, number: str) -> None:
        key, prefix = number_key(number), self.rules.numbers.prefix.upper()
        own = key.removeprefix(prefix)
        if key.startswith(prefix) and own.isdecimal():
            self.floor = max(self.floor, key, key=lambda kept: (len(kept), kept))

    def _with_next_card(self, row: RowSaid, draft: CardholderDraft) -> CardholderDraft:
        identity = self._cards.take(self._doubts.has_card) if self._cards else None
        if identity is None:
            row.faults.append(Fault(ROW, "intake.no_card_left"))
            return draft
        label = row.values.get(Target.CARD_LABEL, "")
        return replace(draft, cards=(CardDraft(*identity, label=label),))

    # -- what the register says -------------------------------------------------------------------

    def _weigh(self, rows: Sequence[RowSaid], judged: Mapping[int, Judged]) -> None:
        """Let the register judge the drafts, and say of each row what it comes to."""
        weighed = [judged[row.row] for row in rows if judged[row.row].draft]
        wanted = [self._as_judged(item) for item in weighed]
        found = problems_with_drafts(
            self.actor, wanted, self.rules, self.at, PinsJudged.BY_THE_RULE
        )
        for item, problems in zip(weighed, found, strict=True):
            for problem in problems:
                if problem.code not in _SAID_BY_US:
                    fault = self._fault(problem)
                    # a cell that could not be read is not missing as well
                    if not any(f.column == fault.column != ROW for f in item.faults):
                        item.faults.append(fault)
            item.faults += self._not_permitted(item)
            item.state = self._state(item)

    def _as_judged(self, item: Judged) -> Wanted:
        """Return what the register judges: a newcomer who gets a number has one by then."""
        wanted = item.wanted
        if not item.gets_number:
            return wanted
        details = replace(wanted.draft.details, number=f"\N{HEAVY ASTERISK}{item.row}")
        return wanted._replace(draft=replace(wanted.draft, details=details))

    def _not_permitted(self, item: Judged) -> Iterable[Fault]:
        permissions = self.actor.permissions
        if item.cardholder_id and Permission.EDIT not in permissions and item.draft != item.before:
            yield Fault(ROW, "intake.may_not_edit")
        if (
            not item.cardholder_id
            and self.actor.scope.sites is not None
            and item.draft
            and not item.draft.memberships
        ):
            yield Fault(ROW, "scope.would_be_gone")

    def _state(self, item: Judged) -> RowState:
        if item.faults:
            return RowState.FAULTY
        if item.before is None or item.draft is None:
            return RowState.NEW
        details = tidy(item.draft.details, self.rules)
        is_same = (
            details == tidy(item.before.details, self.rules)
            and replace(item.draft, details=item.before.details) == item.before
        )
        return RowState.SAME if is_same else RowState.CHANGED

    def _fault(self, problem: Problem) -> Fault:
        """Say a problem with a draft at the column it comes from."""
        head, _, rest = (problem.field or "").partition(".")
        targets: tuple[str, ...] = _TARGETS_OF_FIELD.get(head, ())
        if head == "own":
            targets = (f"own.{rest}",)
        columns = (self.choices.column_for(target) for target in targets)
        column = next((found for found in columns if found is not None), ROW)
        return Fault(column, problem.code, problem.params)


_TARGETS_OF_FIELD: Mapping[str, tuple[str, ...]] = {
    **{field: (target,) for target, field in PROBLEM_FIELD_OF.items()},
    "last_name": (Target.LAST_NAME, Target.FULL_NAME),
    "first_name": (Target.FIRST_NAME, Target.FULL_NAME),
    "suspended_until": (Target.STANDING,),
    "cards": (Target.CARD, Target.CARD_NUMBER),
    "memberships": (Target.GROUPS,),
    "pins": (Target.PIN,),
    "plates": (Target.PLATE,),
    "images": (Target.PHOTO,),
}


def _cards_in_sequence(choices: Choices) -> CardsInSequence | None:
    defaults = choices.defaults
    if defaults.first_card is None or defaults.format_id is None:
        return None
    return CardsInSequence(defaults.format_id, defaults.facility_code or 0, defaults.first_card)
