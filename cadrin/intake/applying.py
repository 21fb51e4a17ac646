"""Write an intake, a block in each transaction, and take it back the same way: safe to stop at any
point, and at the end it is whole or not there at all.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any

import orjson
from django.db import IntegrityError, transaction
from django.db.models import F

from cadrin.core.errors import Param, Problem
from cadrin.core.intake.choices import Choices
from cadrin.credentials.kept import holders_of_cards_passed_on
from cadrin.credentials.sealed_lists import keep_pin_list
from cadrin.enrolment.commands.cardholders import SavedCardholder, save_counted
from cadrin.enrolment.commands.refused_pins import counting_refused_pins
from cadrin.intake.actors import actor_of_intake, named_actor
from cadrin.intake.assessing import drafts_of_missing, judge_for
from cadrin.intake.judging import WRITTEN, Judge, Judged, RowState
from cadrin.intake.keeping import kept_of, put_back
from cadrin.intake.kept_choices import choices_of
from cadrin.intake.models import Intake, IntakeBlock
from cadrin.intake.photos import Archive
from cadrin.intake.states import INTAKE, IntakeState
from cadrin.intake.storing import PHOTOS, kept_file, rows_in
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.sealing import seal, unseal
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.people.commands.parts import CARDHOLDER
from cadrin.people.queries import columns_of, free_numbers
from cadrin.photos.commands import take_image

_TOLD_AT_MOST = 200
"""People who were changed since, by name."""


class Applying:
    """Writes the blocks of one intake, in order; what is the same for all of them is read once."""

    def __init__(self, intake: Intake, at: datetime) -> None:
        self.actor: Actor = actor_of_intake(intake)
        self.choices: Choices = choices_of(intake.choices)
        self.judge: Judge = judge_for(self.actor, intake, self.choices, at)
        self.floor: str = intake.summary.get("floor", "")
        data = kept_file(intake.pk, PHOTOS)
        self.archive = Archive(data) if data else None
        self.about = About(INTAKE, intake.pk)

    def step(self, intake_id: int, at: datetime) -> bool:
        """Write the next block, and say whether there was one; the last one ends the intake.

        Raises CadrinError when something stands against it now that did not before.
        """
        block = _block_at(intake_id, F("intake__done"))
        if block is None:
            return self._finish(intake_id, at)
        judged = self._with_photos(self._decided(block), at)
        pins = [pin for item in judged for pin in item.wanted.draft.pins]
        with counting_refused_pins(self.actor, pins, at), transaction.atomic():
            here = Intake.objects.filter(pk=intake_id, state=IntakeState.APPLYING)
            if not here.update(done=F("done") + 1) or not IntakeBlock.objects.filter(
                pk=block.pk, is_done=False
            ).update(is_done=True):
                transaction.set_rollback(True)
                return True  # it was stopped, or somebody else did this block
            if judged:
                self._write(block, judged, at)
        return True

    def _decided(self, block: IntakeBlock) -> list[Judged]:
        """Return what the rows of a block were found to come to."""
        outcomes = {
            told["row"] or told["id"]: told
            for told in orjson.loads(block.outcomes)
            if RowState(told["state"]) in WRITTEN
        }
        if not block.sealed:
            ids = [told["id"] for told in outcomes.values()]
            return drafts_of_missing(self.actor, self.choices, ids, self.judge)
        return self.judge.as_decided(block.first_row, rows_in(block), outcomes)

    def _with_photos(self, judged: list[Judged], at: datetime) -> list[Judged]:
        """Take the pictures of rows, before the transaction: finding a face takes a while."""
        for item in judged:
            if item.photo and self.archive and item.draft:
                image = take_image(self.actor, self.archive.picture(item.photo), at)
                item.draft = replace(item.draft, images=(image.token, *item.draft.images[1:]))
        return judged

    def _write(self, block: IntakeBlock, judged: Sequence[Judged], at: datetime) -> None:
        wanted = [item.wanted for item in self._numbered(judged)]
        there = [item.cardholder_id for item in judged if item.cardholder_id]
        cards = [card.identity for item in wanted for card in item.draft.cards]
        kept = kept_of(there, cards)
        saved = save_counted(self.actor, wanted, at, "rows.{}", also_about=(self.about,))
        ids = [item.id for item in saved]
        versions = {row["id"]: row["version"] for row in columns_of(ids, ("id", "version"))}
        before = {
            "new": sorted(set(ids) - set(there)),
            "versions": versions,
            "kept": kept,
        }
        pins = self._pins(judged, saved)
        made = {
            item.row: saved_as.id for item, saved_as in zip(judged, saved, strict=True) if item.row
        }
        IntakeBlock.objects.filter(pk=block.pk).update(
            before=_sealed(before),
            pins=_sealed(pins) if pins else "",
            outcomes=_with_ids(block.outcomes, made),
        )

    def _numbered(self, judged: Sequence[Judged]) -> Sequence[Judged]:
        """Give numbers to the newcomers of a block that are to get one, above those in the file."""
        asked = [item for item in judged if item.gets_number]
        numbers = free_numbers(self.judge.rules.numbers, len(asked), self.floor)
        for item, number in zip(asked, numbers, strict=True):
            assert item.draft
            details = replace(item.draft.details, number=number)
            item.draft, item.gets_number = replace(item.draft, details=details), False
        return judged

    def _pins(
        self, judged: Sequence[Judged], saved: Sequence[SavedCardholder]
    ) -> list[tuple[str, str, str]]:
        names = self.judge.rules.names
        return [
            (item.draft.details.number, item.draft.details.shown(names), pin.digits)
            for item, cardholder in zip(judged, saved, strict=True)
            for pin in cardholder.shown_pins
            if item.draft
        ]

    @transaction.atomic
    def _finish(self, intake_id: int, at: datetime) -> bool:
        intake = Intake.objects.get(pk=intake_id)
        if intake.state != IntakeState.APPLYING:
            return False
        rows = intake.summary.get("rows", {})
        told = {state.value: (None, rows.get(state.value, 0)) for state in WRITTEN}
        if pins := _pins_taken(intake_id):
            intake.result["pin_list"] = keep_pin_list(self.actor, pins, at)
        intake.state, intake.over_at = IntakeState.APPLIED, at
        intake.save(update_fields=["state", "over_at", "result"])
        record(self.actor, at, [Act("intake.applied", (self.about,), told)])
        return False


def _block_at(intake_id: int, place: Any) -> IntakeBlock | None:
    """Return a block by its place: whether one is done lies behind its texts, and to look at all of
    them would read the whole list for each block.
    """
    return IntakeBlock.objects.filter(intake_id=intake_id, place=place).first()


def _with_ids(outcomes: str, made: Mapping[int, int]) -> str:
    """Return what rows came to, with whom each of them enrolled."""
    lines = [told | {"id": made.get(told["row"], told["id"])} for told in orjson.loads(outcomes)]
    return orjson.dumps(lines).decode()


def _sealed(told: Any) -> str:
    return seal(orjson.dumps(told, option=orjson.OPT_NON_STR_KEYS).decode())


def _pins_taken(intake_id: int) -> list[Sequence[str]]:
    """Take the digits of an intake's generated PINs out of its blocks: they go onto a sealed list, and
    stay nowhere else.
    """
    blocks = IntakeBlock.objects.filter(intake_id=intake_id).exclude(pins="")
    sealed = list(blocks.order_by("place").values_list("pins", flat=True))
    blocks.update(pins="")
    return [line for text in sealed for line in orjson.loads(unseal(text))]


@transaction.atomic
def stop_because(intake_id: int, problem: Problem, at: datetime) -> None:
    """Leave off applying, because something stands against it now; what was written is put back."""
    intake = Intake.objects.get(pk=intake_id)
    if intake.state != IntakeState.APPLYING:
        return
    params: dict[str, Param] = {
        name: value for name, value in problem.params.items() if name != "holder_id"
    }
    intake.result = {"why": {"code": problem.code, "field": None, "params": params}}
    intake.state = IntakeState.STOPPING
    intake.save(update_fields=["state", "result"])


# -- taking back ----------------------------------------------------------------------------------


@transaction.atomic
def step_back(intake_id: int, at: datetime) -> bool:
    """Put back the last block that was written, and say whether there was one; the first ends it."""
    intake = Intake.objects.get(pk=intake_id)
    if intake.state not in (IntakeState.STOPPING, IntakeState.UNDOING):
        return False
    block = _block_at(intake_id, F("intake__done") - 1)
    if block is None:
        _end_back(intake, at)
        return False
    if block.before:
        _put_back(intake, orjson.loads(unseal(block.before)), at)
    block.is_done, block.before, block.pins = False, "", ""
    block.save(update_fields=["is_done", "before", "pins"])
    intake.done = max(0, intake.done - 1)
    intake.save(update_fields=["done", "result"])
    return True


def _end_back(intake: Intake, at: datetime) -> None:
    is_stopping = intake.state == IntakeState.STOPPING
    intake.state = IntakeState.OPEN if is_stopping else IntakeState.UNDONE
    if is_stopping:
        # what the register has now is judged anew
        intake.assessed, intake.done = 0, 0
    else:
        intake.over_at = at
    intake.save()
    action = "intake.stopped" if is_stopping else "intake.undone"
    told = {"left": (None, intake.result.get("left_count", 0))}
    record(named_actor(intake), at, [Act(action, (About(INTAKE, intake.pk),), told)])


def _put_back(intake: Intake, before: Mapping[str, Any], at: datetime) -> None:
    """Put back whom a block wrote, but for those who were changed since."""
    versions = {int(id_): version for id_, version in before["versions"].items()}
    now = {row["id"]: row["version"] for row in columns_of(versions, ("id", "version"))}
    passed_on = holders_of_cards_passed_on(before["kept"]["credentials"])
    ids = {
        id_ for id_, version in versions.items() if now.get(id_) == version and id_ not in passed_on
    }
    try:
        with transaction.atomic():
            put_back(ids, before["kept"])
    except IntegrityError:
        ids = {id_ for id_ in ids if _is_put_back(id_, before["kept"])}
    left = [id_ for id_ in versions if id_ not in ids and id_ in now]
    if left:
        names = [row["display_name"] for row in columns_of(left, ("display_name",))]
        intake.result["left"] = [*intake.result.get("left", []), *names][:_TOLD_AT_MOST]
        intake.result["left_count"] = intake.result.get("left_count", 0) + len(left)
    mark_for_delivery(Subject.CARDHOLDER, ids, is_withdrawal=True)
    new = ids & set(before["new"])
    acts = [
        Act(action, (*(About(CARDHOLDER, id_) for id_ in sorted(those)), About(INTAKE, intake.pk)))
        for action, those in (
            ("cardholder.taken_out", new),
            ("cardholder.put_back", ids - new),
        )
        if those
    ]
    record(named_actor(intake), at, acts)


def _is_put_back(id_: int, kept: Mapping[str, Any]) -> bool:
    """Put one person back; not where something that was theirs is somebody else's now."""
    try:
        with transaction.atomic():
            put_back({id_}, kept)
    except IntegrityError:
        return False
    return True
