"""What operators decide about an intake: how it is read, what it does, and when."""

from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any

import orjson
from django.db import transaction
from django.db.models import Q

from cadrin.core.errors import Invalid, NotFound, Problem, Stale
from cadrin.core.intake.choices import Choices, Missing
from cadrin.core.intake.reading import kind_of
from cadrin.core.intake.table import FileKind
from cadrin.core.intake.targets import OWN, SEVERAL_COLUMNS, Target
from cadrin.core.validity import Standing
from cadrin.intake.actors import as_kept
from cadrin.intake.assessing import assess_if_short
from cadrin.intake.commands.taking import head_again, may_take, read_again, with_mapping
from cadrin.intake.judging import WRITTEN
from cadrin.intake.kept_choices import as_plain, choices_of, for_another_file
from cadrin.intake.models import Intake, IntakeBlock, IntakeMapping, IntakePiece
from cadrin.intake.photos import Archive
from cadrin.intake.states import INTAKE, MAY_BECOME, OVER, IntakeState
from cadrin.intake.storing import PHOTOS, blocks_of, keep_file
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission

KEPT_FOR = timedelta(days=30)
"""How long the file and the rows of an intake are kept, and it can be undone."""
LEFT_FOR = timedelta(hours=2)
"""After which a file that was never read to its end is forgotten."""
MOST_CELLS = 20_000
LONGEST_MAPPING_NAME = 60


def intakes_seen(actor: Actor) -> Q:
    """Match the intakes an actor may see: whoever sees a part of the house, their own alone, as the
    others' rows may be about people out of their reach.
    """
    if actor.scope.is_whole:
        return Q()
    return Q(operator_id=actor.operator_id, operator__isnull=False) | Q(
        operator=None, operator_name=actor.name
    )


def get_intake(actor: Actor, intake_id: int) -> Intake:
    """Raises NotFound, for one that is not the actor's to see as well."""
    actor.require(Permission.ENROL)
    intake = Intake.objects.filter(intakes_seen(actor), pk=intake_id).first()
    if intake is None:
        raise NotFound.of("intake.not_found")
    return intake


def _get_open(actor: Actor, intake_id: int, version: int) -> Intake:
    intake = get_intake(actor, intake_id)
    if intake.state != IntakeState.OPEN:
        raise Invalid.of("intake.not_open", None, state=intake.state)
    if intake.version != version:
        raise Stale(intake.version, [])
    return intake


def save_choices(
    actor: Actor, intake_id: int, version: int, choices: Choices, at: datetime
) -> None:
    """Decide about an intake, and work out what it then comes to. Raises Invalid, Stale, NotFound or
    NotPermitted.
    """
    intake = _get_open(actor, intake_id, version)
    if problems := _problems_with(actor, choices):
        raise Invalid(problems)
    before = choices_of(intake.choices)
    if choices.reading != before.reading:
        read_again(actor, intake, choices.reading, at)
    elif choices.header_row != before.header_row:
        head_again(actor, intake, choices, at)
    else:
        _keep(actor, intake, choices, at)
    assess_if_short(actor, intake_id, at)


def _keep(actor: Actor, intake: Intake, choices: Choices, at: datetime) -> None:
    with transaction.atomic():
        kept = Intake.objects.filter(
            pk=intake.pk, version=intake.version, state=IntakeState.OPEN
        ).update(
            choices=as_plain(choices),
            version=intake.version + 1,
            summary={},
            done=0,
            result={},
            applies_itself=False,
            changed_by=actor.name,
            changed_at=at,
        )
        if not kept:
            raise Stale(intake.version + 1, [])


def _problems_with(actor: Actor, choices: Choices) -> list[Problem]:
    problems = []
    targets = [choice.target for choice in choices.columns.values()]
    for n, choice in sorted(choices.columns.items()):
        target = choice.target
        if not target.startswith(OWN) and target not in set(Target):
            problems.append(Problem("input.invalid_choice", f"columns.{n}"))
        elif not may_take(actor, target):
            problems.append(Problem("intake.may_not_take", f"columns.{n}"))
        elif targets.count(target) > 1 and target not in SEVERAL_COLUMNS:
            problems.append(Problem("intake.column_twice", f"columns.{n}"))
    secret = choices.column_for(Target.PIN)
    if secret is not None and (
        choices.columns[secret].replaced or any(column == secret for _, column in choices.cells)
    ):
        # what is decided is kept readable: no PIN is
        problems.append(Problem("intake.pin_is_not_mended", "cells"))
    if len(choices.cells) > MOST_CELLS or len(choices.same_as) > MOST_CELLS:
        problems.append(Problem("input.too_many", "cells", {"most": MOST_CELLS}))
    defaults = choices.defaults
    if (defaults.group_ids or defaults.with_proposed_groups) and (
        Permission.ACCESS not in actor.permissions
    ):
        problems.append(Problem("intake.may_not_take", "defaults.group_ids"))
    if defaults.first_card is not None or defaults.pins:
        if Permission.ISSUE not in actor.permissions:
            problems.append(Problem("intake.may_not_take", "defaults.first_card"))
        elif defaults.first_card is not None and defaults.format_id is None:
            problems.append(Problem("intake.no_format", "defaults.format_id"))
    if defaults.standing and defaults.standing not in set(Standing):
        problems.append(Problem("input.invalid_choice", "defaults.standing"))
    if choices.missing is not Missing.NOTHING and Permission.EDIT not in actor.permissions:
        problems.append(Problem("intake.may_not_edit", "missing"))
    return problems


def leave_out(
    actor: Actor, intake_id: int, version: int, column: int, code: str, at: datetime
) -> None:
    """Leave out every row with a kind of fault. Raises Invalid, Stale, NotFound or NotPermitted."""
    intake = _get_open(actor, intake_id, version)
    choices = choices_of(intake.choices)
    rows = {
        told["row"]
        for block in blocks_of(intake.pk)
        if block.outcomes
        for told in orjson.loads(block.outcomes)
        if any(fault[:2] == [column, code] for fault in told["faults"])
    }
    _keep(actor, intake, replace(choices, left_out=choices.left_out | rows), at)
    assess_if_short(actor, intake_id, at)


def add_photos(actor: Actor, intake_id: int, data: bytes, at: datetime) -> None:
    """Let an archive of photos come with a list. Raises Invalid, NotFound or NotPermitted."""
    actor.require(Permission.EDIT)
    intake = get_intake(actor, intake_id)
    intake = _get_open(actor, intake_id, intake.version)
    if kind_of(data) is not FileKind.PHOTOS:
        raise Invalid.of("intake.no_photos", "file")
    if not any(Archive(data).photos()):
        raise Invalid.of("intake.no_photos", "file")
    keep_file(intake.pk, PHOTOS, data)
    _keep(actor, intake, choices_of(intake.choices), at)
    assess_if_short(actor, intake_id, at)


@transaction.atomic
def apply_intake(actor: Actor, intake_id: int, version: int, at: datetime) -> None:
    """Let the worker write an intake, all or nothing. Raises Invalid where something is undecided."""
    intake = _get_open(actor, intake_id, version)
    if problems := problems_with_applying(intake):
        raise Invalid(problems)
    intake.operator_id, intake.operator_name = actor.operator_id, actor.name
    intake.address, intake.acts_as = actor.address, as_kept(actor)
    intake.result = {}
    _become(intake, IntakeState.APPLYING)
    record(actor, at, [Act("intake.begun", (About(INTAKE, intake.pk),))])


def apply_if_ready(actor: Actor, intake_id: int, at: datetime) -> None:
    """Let an intake that applies itself be written, where nothing is left to decide about it."""
    intake = Intake.objects.get(pk=intake_id)
    if (
        intake.applies_itself
        and intake.state == IntakeState.OPEN
        and not problems_with_applying(intake)
    ):
        apply_intake(actor, intake_id, intake.version, at)


def problems_with_applying(intake: Intake) -> list[Problem]:
    """Return why an intake cannot be applied as it is."""
    if intake.assessed != intake.version:
        return [Problem("intake.not_assessed")]
    summary = intake.summary
    problems = [Problem(summary["undecided"])] if summary.get("undecided") else []
    if summary["faults"]:
        count = summary["rows"].get("faulty", 0)
        problems.append(Problem("intake.has_faults", None, {"count": count}))
    elif not sum(summary["rows"].get(state.value, 0) for state in WRITTEN):
        problems.append(Problem("intake.changes_nothing"))
    return problems


def _become(intake: Intake, state: IntakeState) -> None:
    if state not in MAY_BECOME[IntakeState(intake.state)]:
        raise Invalid.of("intake.not_open", None, state=intake.state)
    intake.state = state
    if state is IntakeState.APPLYING:
        intake.done = 0
        IntakeBlock.objects.filter(intake=intake, is_done=True).update(
            is_done=False, before="", pins=""
        )
    intake.save()


@transaction.atomic
def stop_intake(actor: Actor, intake_id: int, at: datetime) -> None:
    """Leave off applying; what was written so far is put back, and the intake is open again."""
    _become(get_intake(actor, intake_id), IntakeState.STOPPING)


@transaction.atomic
def undo_intake(actor: Actor, intake_id: int, at: datetime) -> None:
    """Take a whole intake back, but for whoever was changed since. Raises Invalid, NotFound or
    NotPermitted.
    """
    actor.require(Permission.EDIT)
    intake = get_intake(actor, intake_id)
    if intake.forgotten_at:
        raise Invalid.of("intake.forgotten")
    _become(intake, IntakeState.UNDOING)
    record(actor, at, [Act("intake.undo_begun", (About(INTAKE, intake.pk),))])


@transaction.atomic
def discard_intake(actor: Actor, intake_id: int, at: datetime) -> None:
    """Throw away an intake that was never applied, with its file."""
    intake = get_intake(actor, intake_id)
    intake.over_at = intake.forgotten_at = at
    _become(intake, IntakeState.DISCARDED)
    _forget(intake)
    record(actor, at, [Act("intake.discarded", (About(INTAKE, intake.pk),))])


def forget_intakes(at: datetime) -> int:
    """Remove the files and rows of intakes that are long over, or lie untouched, and return how many.

    What they did stays on record.
    """
    old = Q(state__in=OVER, over_at__lt=at - KEPT_FOR) | Q(
        state=IntakeState.OPEN, changed_at__lt=at - KEPT_FOR
    )
    due = list(Intake.objects.filter(old, forgotten_at=None)[:5])
    for intake in due:
        with transaction.atomic():
            if intake.state == IntakeState.OPEN:
                intake.state, intake.over_at = IntakeState.DISCARDED, at
            intake.forgotten_at = at
            intake.save()
            _forget(intake)
    left = Intake.objects.filter(state=IntakeState.READING, at__lt=at - LEFT_FOR)
    return len(due) + left.delete()[0]


def _forget(intake: Intake) -> None:
    IntakePiece.objects.filter(intake=intake).delete()
    IntakeBlock.objects.filter(intake=intake).delete()


# -- mappings -------------------------------------------------------------------------------------


@transaction.atomic
def save_mapping(actor: Actor, intake_id: int, name: str, at: datetime) -> int:
    """Keep the choices of an intake under a name, in place of those of that name, and return its id."""
    intake = get_intake(actor, intake_id)
    name = " ".join(name.split())
    if not name:
        raise Invalid.of("input.blank", "name")
    if len(name) > LONGEST_MAPPING_NAME:
        raise Invalid.of("input.too_long", "name", most=LONGEST_MAPPING_NAME)
    choices = for_another_file(choices_of(intake.choices))
    mapping, is_new = IntakeMapping.objects.update_or_create(
        name=name,
        defaults={"headings": intake.reading["headings"], "choices": as_plain(choices)},
    )
    told: dict[str, Any] = {"name": (None if is_new else name, name)}
    record(actor, at, [Act("intake.mapping_saved", (About(INTAKE, intake.pk),), told)])
    return mapping.pk


def use_mapping(actor: Actor, intake_id: int, version: int, mapping_id: int, at: datetime) -> None:
    """Decide about an intake as a mapping has it. Raises Invalid, Stale, NotFound or NotPermitted."""
    intake = _get_open(actor, intake_id, version)
    mapping = IntakeMapping.objects.filter(pk=mapping_id).first()
    if mapping is None:
        raise NotFound.of("intake.no_mapping")
    choices = mapped(actor, intake, mapping)
    if problems := _problems_with(actor, choices):
        raise Invalid(problems)
    intake.reading["mapping"] = mapping.name
    intake.save(update_fields=["reading"])
    _keep(actor, intake, choices, at)
    assess_if_short(actor, intake_id, at)


def mapped(actor: Actor, intake: Intake, mapping: IntakeMapping) -> Choices:
    """Return the choices of a mapping for the file of an intake."""
    return with_mapping(
        actor,
        choices_of(intake.choices),
        intake.reading["headings"],
        choices_of(mapping.choices),
        mapping.headings,
    )


@transaction.atomic
def remove_mapping(actor: Actor, mapping_id: int, at: datetime) -> None:
    """Forget a mapping. Raises NotFound or NotPermitted."""
    actor.require(Permission.ENROL)
    mapping = IntakeMapping.objects.filter(pk=mapping_id).first()
    if mapping is None:
        raise NotFound.of("intake.no_mapping")
    told = {"name": (mapping.name, None)}
    mapping.delete()
    record(actor, at, [Act("intake.mapping_removed", (), told)])
