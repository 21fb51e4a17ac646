"""Read departments, companies, kinds and custom fields: what is chosen for a cardholder."""

from typing import Any

from django.db.models import Count, F, Q

from cadrin.core.people.custom_fields import CustomField as CoreOwnField
from cadrin.core.people.custom_fields import FieldType
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.models import (
    Cardholder,
    Company,
    CustomField,
    Department,
    Kind,
)
from cadrin.people.scoping import departments_seen, seen_by


def custom_field(row: CustomField, language: str = "en") -> CoreOwnField:
    """Return an own field as the core takes it."""
    label = row.labels.get(language) or str(row)
    keys = tuple(choice["key"] for choice in row.choices)
    return CoreOwnField(row.pk, label, FieldType(row.type), row.is_required, row.is_unique, keys)


def custom_fields() -> Rows:
    """Return the own fields in their order, for the screen."""
    return list(
        CustomField.objects.filter(removed_at=None)
        .order_by("place", "id")
        .values("id", "labels", "help", "type", "choices", "is_required", "is_unique")
    )


def departments_below(department_id: int) -> set[int]:
    """Return a department and all below it."""
    children: dict[int | None, list[int]] = {}
    for id_, parent in Department.objects.values_list("id", "parent_id"):
        children.setdefault(parent, []).append(id_)
    found, todo = {department_id}, [department_id]
    while todo:
        new = [id_ for id_ in children.get(todo.pop(), []) if id_ not in found]
        found.update(new)
        todo += new
    return found


def departments(actor: Actor) -> Rows:
    """Return the tree within the actor's reach in reading order, each with its depth."""
    below: dict[int | None, list[dict[str, Any]]] = {}
    seen = departments_seen(actor)
    for row in Department.objects.order_by("number").values(
        "id", "number", "name", "parent_id", "is_retired", "version"
    ):
        if seen is None or row["id"] in seen:
            parent_id = row["parent_id"] if seen is None or row["parent_id"] in seen else None
            below.setdefault(parent_id, []).append(dict(row) | {"parent_id": parent_id})
    found = []
    todo = [row | {"depth": 0} for row in reversed(below.get(None, []))]
    while todo:
        row = todo.pop()
        found.append(row)
        todo += [
            child | {"depth": row["depth"] + 1} for child in reversed(below.get(row["id"], []))
        ]
    return found


def own_fields_as_defined() -> Rows:
    """Return the own fields in their order, those that were removed last."""
    fields = CustomField.objects.order_by(F("removed_at").asc(nulls_first=True), "place", "id")
    return list(fields.values())


def listed(actor: Actor, model: type[Company] | type[Kind]) -> Rows:
    """Return the rows of a list by name, each with how many people are in it."""
    field = "company" if model is Company else "kind"
    people = (
        Cardholder.objects.filter(seen_by(actor))
        .values_list(field)
        .annotate(Count("id"))
        .order_by()
    )
    counts = dict(people)
    rows = (
        model.objects.filter(_companies_seen(actor) if model is Company else Q())
        .order_by("name")
        .values()
    )
    return [{"short_name": "", "people": counts.get(row["id"], 0)} | dict(row) for row in rows]


def _companies_seen(actor: Actor) -> Q:
    return Q() if actor.scope.companies is None else Q(pk__in=actor.scope.companies)


def companies(actor: Actor) -> Rows:
    return list(
        Company.objects.filter(_companies_seen(actor))
        .order_by("name")
        .values("id", "name", "short_name", "is_retired")
    )


def kinds() -> Rows:
    return list(Kind.objects.order_by("id").values("id", "name", "is_retired"))


def is_retired(kind: str, id_: int) -> bool:
    """Say whether nobody new is put into a department, company or kind; other things never are."""
    model: Any = {"department": Department, "company": Company, "kind": Kind}.get(kind)
    return bool(model and model.objects.filter(pk=id_, is_retired=True).exists())
