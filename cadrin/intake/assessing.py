"""Work out what an intake would do: a walk over its rows, in the request where they are few, else by
the worker, who says how far it has come.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any

import orjson
from django.db import transaction
from django.db.models import Q, QuerySet

from cadrin.core.errors import Param, Problem
from cadrin.core.intake.choices import Choices, ForExisting, Missing, as_told
from cadrin.core.intake.targets import Target
from cadrin.core.validity import Standing
from cadrin.enrolment.queries import drafts_for
from cadrin.intake.consequences import Consequences, change_of, changed_fields
from cadrin.intake.doubts import DOUBTS
from cadrin.intake.judging import Judge, Judged, RowState
from cadrin.intake.kept_choices import choices_of
from cadrin.intake.models import ROWS_IN_A_BLOCK, Intake, IntakeBlock
from cadrin.intake.photos import Archive, Photo
from cadrin.intake.states import IntakeState
from cadrin.intake.storing import PHOTOS, blocks_of, kept_file, rows_in
from cadrin.intake.understanding import ROW, Fault
from cadrin.operators.actor import Actor
from cadrin.people.lists import departments_below
from cadrin.people.scoping import people_seen
from cadrin.photos.commands import digest_of
from cadrin.photos.queries import portrait_digests_of
from cadrin.register.selection import in_steps

SHORT = 2_000
"""Rows that are judged while somebody waits for the answer."""
OVERWRITE = ForExisting.OVERWRITE
_MOST_VALUES = 30
_MOST_ROWS_TOLD = 5

Progress = Callable[[int], bool]
"""Told how many blocks are judged; whether to go on."""


def assess_if_short(actor: Actor, intake_id: int, at: datetime) -> None:
    """Assess an intake that is short; the worker does the others."""
    intake = Intake.objects.get(pk=intake_id)
    if intake.state == IntakeState.OPEN and intake.rows <= SHORT:
        assess(actor, intake, at)


def assess(
    actor: Actor, intake: Intake, at: datetime, progress: Progress = lambda done: True
) -> bool:
    """Judge every row of an intake and keep what it comes to, and say whether it was done: not where
    the choices changed meanwhile.
    """
    choices = choices_of(intake.choices)
    judge = judge_for(actor, intake, choices, at)
    consequences, faults = Consequences(judge.rules, at), Faults()
    first_row = choices.first_row or 1
    photos = PhotosOf(intake, choices)
    IntakeBlock.objects.filter(intake=intake, sealed="").delete()
    done = -1
    for done, block in enumerate(blocks_of(intake.pk)):
        judged = [
            *_before(first_row, block.first_row, rows := rows_in(block)),
            *judge.block(
                max(first_row, block.first_row), rows[max(0, first_row - block.first_row) :]
            ),
        ]
        photos.look_for(judged)
        for item in judged:
            consequences.note(item)
            faults.note(item, judge)
        keep_outcomes(block, judged)
        if not progress(done + 1):
            return False
    for place, ids in enumerate(missing_people(actor, choices, judge.matched_ids), done + 1):
        _keep_missing(actor, intake, place, ids, judge, consequences, faults)
    summary = consequences.told() | {"faults": faults.told(), "floor": judge.floor}
    if problem := _against_matching(choices):
        summary["undecided"] = problem
    with transaction.atomic():
        kept = Intake.objects.filter(pk=intake.pk, version=intake.version, state=IntakeState.OPEN)
        total = IntakeBlock.objects.filter(intake=intake).count()
        return bool(kept.update(summary=summary, assessed=intake.version, total=total, done=total))


def judge_for(actor: Actor, intake: Intake, choices: Choices, at: datetime) -> Judge:
    """Return a judge of an intake's rows."""
    reading = intake.reading
    digits = {int(n): longest for n, longest in reading.get("digits", {}).items()}
    return Judge(actor, choices, reading.get("headings", ()), at, digits=digits)


def _before(first_row: int, block_row: int, rows: list[tuple[str, ...]]) -> list[Judged]:
    """Return the rows of a block that stand before the table."""
    return [
        Judged(row, RowState.BLANK)
        for row in range(block_row, min(first_row, block_row + len(rows)))
    ]


def _against_matching(choices: Choices) -> str:
    return "" if choices.can_match else "intake.cannot_match"


def keep_outcomes(block: IntakeBlock, judged: list[Judged]) -> None:
    """Keep what the rows of a block come to, a line for each."""
    lines = [_told_of(item) for item in judged]
    IntakeBlock.objects.filter(pk=block.pk).update(outcomes=orjson.dumps(lines).decode())


def _told_of(item: Judged) -> dict[str, Any]:
    is_changed = item.state is RowState.CHANGED
    before, after = (item.before, item.draft) if is_changed else (None, None)
    return {
        "row": item.row,
        "state": item.state.value,
        "id": item.cardholder_id,
        "name": item.name,
        "faults": [[f.column, f.code, dict(f.params)] for f in item.faults],
        "changes": change_of(before, after) if before and after else {},
        "parts": changed_fields(before, after) if before and after else [],
        "cards": _cards_given(item),
        "photo": item.photo,
    }


def _cards_given(item: Judged) -> list[list[int]]:
    """Return the cards that a row gives, by what makes a card."""
    if item.draft is None:
        return []
    had = {card.identity for card in item.before.cards} if item.before else set()
    return [list(card.identity) for card in item.draft.cards if card.identity not in had]


class Faults:
    """Faults gathered by kind, with whatever says the same and how often."""

    def __init__(self) -> None:
        self._groups: dict[tuple[int, str], dict[str, Any]] = {}

    def note(self, item: Judged, judge: Judge) -> None:
        for fault in item.faults:
            group = self._groups.setdefault(
                (fault.column, fault.code),
                {"count": 0, "params": dict(fault.params), "rows": [], "values": {}},
            )
            group["count"] += 1
            if len(group["rows"]) < _MOST_ROWS_TOLD:
                group["rows"].append(item.row)
            text = self._text(item, fault, judge.choices)
            if text in group["values"] or len(group["values"]) < _MOST_VALUES:
                group["values"][text] = group["values"].get(text, 0) + 1

    def _text(self, item: Judged, fault: Fault, choices: Choices) -> str:
        """Return what the cell at fault says, by which all that say the same are settled; never a PIN."""
        column = choices.columns.get(fault.column)
        if column is None or column.target == Target.PIN:
            return str(fault.params.get("name", ""))
        return as_told(item.cells[fault.column])[:200] if fault.column < len(item.cells) else ""

    def told(self) -> list[dict[str, Any]]:
        """Return the kinds of fault, the commonest first."""
        groups = sorted(self._groups.items(), key=lambda pair: (-pair[1]["count"], pair[0]))
        return [
            {
                "column": column,
                "code": code,
                "can_be_accepted": code in DOUBTS,
                **group,
                "values": [
                    {"text": text, "count": n}
                    for text, n in sorted(group["values"].items(), key=lambda pair: -pair[1])
                    if text
                ],
            }
            for (column, code), group in groups
        ]


def missing_people(actor: Actor, choices: Choices, matched: set[int]) -> Iterator[list[int]]:
    """Yield, a block at a time, the people who are not in the file and shall be told so."""
    if choices.missing is Missing.NOTHING:
        return
    found: QuerySet[Any] = people_seen(actor).filter(erased_at=None)
    found = found.exclude(standing__in=[choices.missing.value, Standing.DEPARTED.value])
    within = Q()
    if choices.missing_department_id is not None:
        within &= Q(department_id__in=departments_below(choices.missing_department_id))
    if choices.missing_company_id is not None:
        within &= Q(company_id=choices.missing_company_id)
    ids = [
        id_
        for id_ in found.filter(within).order_by("id").values_list("id", flat=True)
        if id_ not in matched
    ]
    yield from in_steps(ids, ROWS_IN_A_BLOCK)


def drafts_of_missing(actor: Actor, choices: Choices, ids: list[int], judge: Judge) -> list[Judged]:
    """Return what becomes of people who are not in the file."""
    standing = Standing(choices.missing.value)
    return [
        Judged(
            0,
            RowState.MISSING,
            id_,
            draft,
            replace(draft, details=replace(draft.details, standing=standing)),
            name=draft.details.shown(judge.rules.names),
        )
        for id_, draft in drafts_for(actor, ids, judge.rules).items()
    ]


def _keep_missing(
    actor: Actor,
    intake: Intake,
    place: int,
    ids: list[int],
    judge: Judge,
    consequences: Consequences,
    faults: Faults,
) -> None:
    judged = drafts_of_missing(actor, judge.choices, ids, judge)
    for item in judged:
        consequences.note(item)
        faults.note(item, judge)
    block = IntakeBlock.objects.create(intake=intake, place=place, first_row=0, sealed="")
    keep_outcomes(block, judged)


class PhotosOf:
    """Finds the picture of each row in the archive that came with the list, or alone."""

    def __init__(self, intake: Intake, choices: Choices) -> None:
        data = kept_file(intake.pk, PHOTOS)
        self.archive = Archive(data) if data else None
        column = choices.column_for(Target.PHOTO)
        self._column = ROW if column is None else column
        self._policy = choices.columns[column].existing if column is not None else OVERWRITE
        self._problems: dict[str, Problem | None] = {}

    def look_for(self, judged: Sequence[Judged]) -> None:
        """Say of each row which picture becomes its person's; one that is named and not there is a
        fault.
        """
        asked = [item for item in judged if item.draft]
        if self.archive is None and not any(item.photo for item in asked):
            return
        digests = portrait_digests_of(item.cardholder_id or 0 for item in asked)
        for item in asked:
            named, item.photo = item.photo, ""
            photo = self._photo_of(item, named)
            if photo is None and named:
                self._fault(item, "intake.no_such_photo", {"text": named[:60]})
            elif photo and self._is_wanted(item, photo, digests):
                problem = self._problem(photo.path)
                if problem:
                    self._fault(item, problem.code, problem.params)
                else:
                    item.photo = photo.path
                    item.state = RowState.CHANGED if item.state is RowState.SAME else item.state

    def _is_wanted(self, item: Judged, photo: Photo, digests: Mapping[int, str]) -> bool:
        if item.before is None:
            return True
        has_one = item.before.images[0] is not None
        if self._policy is ForExisting.LEAVE or (self._policy is ForExisting.FILL and has_one):
            return False
        kept = digests.get(item.cardholder_id or 0)
        return (
            not kept or self.archive is None or kept != digest_of(self.archive.picture(photo.path))
        )

    def _photo_of(self, item: Judged, named: str) -> Photo | None:
        if self.archive is None or item.draft is None:
            return None
        if named:
            return self.archive.named(named)
        details = item.draft.details
        return self.archive.of_person(
            details.number, details.first_name, details.last_name, details.email
        )

    def _problem(self, path: str) -> Problem | None:
        if path not in self._problems and self.archive:
            self._problems[path] = self.archive.problem_with(path)
        return self._problems[path]

    def _fault(self, item: Judged, code: str, params: Mapping[str, Param]) -> None:
        item.faults.append(Fault(self._column, code, params))
        item.state = RowState.FAULTY
