"""Make, change, move, merge and retire departments."""

from datetime import datetime
from typing import NamedTuple

from django.db import transaction
from django.db.models import F

from cadrin.core.errors import Invalid, NotFound, Problem, Stale
from cadrin.core.people.departments import MOST_DEEP, depth_of, is_below
from cadrin.core.people.names import number_key
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.parts import CARDHOLDER
from cadrin.people.models import Cardholder, Department

DEPARTMENT = "department"
LONGEST_NUMBER, LONGEST_NAME = 20, 80


class DepartmentDraft(NamedTuple):
    """A department as an operator wants it. ``version`` is the one it was read at; 0 for
    a new one.
    """

    number: str
    name: str
    parent_id: int | None = None
    is_retired: bool = False
    version: int = 0


def get_department(department_id: int) -> Department:
    """Raises NotFound."""
    department = Department.objects.filter(pk=department_id).first()
    if department is None:
        raise NotFound.of("department.not_found")
    return department


def parents() -> dict[int, int | None]:
    return dict(Department.objects.values_list("id", "parent_id"))


def problems_with_department(
    draft: DepartmentDraft, department_id: int | None
) -> tuple[Problem, ...]:
    """Return everything against saving the department, each beside its field."""
    problems = [
        Problem("input.blank", field)
        for field in ("number", "name")
        if not getattr(draft, field).strip()
    ]
    for field, most in (("number", LONGEST_NUMBER), ("name", LONGEST_NAME)):
        if len(getattr(draft, field)) > most:
            problems.append(Problem("input.too_long", field, {"most": most}))
    wanted = number_key(draft.number)
    others = Department.objects.exclude(pk=department_id or 0).values_list("number", "name")
    if twin := next((name for number, name in others if number_key(number) == wanted), None):
        problems.append(Problem("department.number_taken", "number", {"name": twin}))
    tree = parents()
    if draft.parent_id is None:
        return tuple(problems)
    if draft.parent_id not in tree:
        problems.append(Problem("input.no_longer_there", "parent_id"))
    elif department_id is not None and is_below(draft.parent_id, department_id, tree):
        problems.append(Problem("department.below_itself", "parent_id"))
    elif depth_of(draft.parent_id, tree) + 1 + _height(department_id, tree) >= MOST_DEEP:
        problems.append(Problem("department.too_deep", "parent_id", {"most": MOST_DEEP}))
    return tuple(problems)


def _height(department_id: int | None, tree: dict[int, int | None]) -> int:
    """Return how many levels lie below a department."""
    if department_id is None:
        return 0
    below = [depth_of(id_, tree) for id_ in tree if is_below(id_, department_id, tree)]
    return max(below) - depth_of(department_id, tree)


@transaction.atomic
def save_department(
    actor: Actor, department_id: int | None, draft: DepartmentDraft, at: datetime
) -> int:
    """Make a department, or save one, and give its id. Whoever is in it goes where it goes.

    Raises Invalid, Stale, NotFound or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    department = Department(version=0) if department_id is None else get_department(department_id)
    if department.version != draft.version:
        raise Stale(
            department.version, history_of(DEPARTMENT, department.pk, after_version=draft.version)
        )
    if problems := problems_with_department(draft, department_id):
        raise Invalid(problems)
    after = {
        "number": draft.number.strip(),
        "name": draft.name.strip(),
        "is_retired": draft.is_retired,
    }
    before_all = {name: getattr(department, name) for name in after} if department.pk else {}
    changes = dict(changes_between(before_all, after))
    if department.parent_id != draft.parent_id:
        names = dict(Department.objects.values_list("id", "name"))
        before = names.get(department.parent_id) if department.parent_id else None
        changes["parent"] = (before, names.get(draft.parent_id) if draft.parent_id else None)
    if not changes:
        return department.pk
    for name, value in after.items():
        setattr(department, name, value)
    department.parent_id, department.version = draft.parent_id, department.version + 1
    department.save()
    action = "department.made" if department_id is None else "department.changed"
    record(
        actor, at, [Act(action, (About(DEPARTMENT, department.pk, department.version),), changes)]
    )
    return department.pk


def move_version(department_id: int, version: int) -> None:
    """Move the version of a department that was not moved yet: something that goes with it was
    changed.
    """
    Department.objects.filter(pk=department_id, version=version).update(version=version + 1)


@transaction.atomic
def merge_departments(actor: Actor, department_id: int, into_id: int, at: datetime) -> int:
    """Put everybody in one department, and all below it, into another, and remove it. Gives how
    many people moved.

    Raises Invalid, NotFound or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    department, into = get_department(department_id), get_department(into_id)
    if is_below(into_id, department_id, parents()):
        raise Invalid.of("department.below_itself", "into")
    people = Cardholder.objects.filter(department_id=department_id)
    ids = list(people.values_list("id", flat=True))
    people.update(department=into, version=F("version") + 1)
    Department.objects.filter(parent_id=department_id).update(parent=into, version=F("version") + 1)
    versions = Cardholder.objects.filter(pk__in=ids).values_list("id", "version")
    moved = tuple(About(CARDHOLDER, id_, version) for id_, version in versions)
    pair = (department.name, into.name)
    acts = [
        Act(
            "department.merged",
            (About(DEPARTMENT, into_id), About(DEPARTMENT, department_id)),
            {"name": pair},
        )
    ]
    if moved:
        raw = {"department_id": (department_id, into_id)}
        acts.append(Act("cardholder.changed", moved, {"department": pair}, raw))
    department.delete()
    record(actor, at, acts)
    return len(ids)
