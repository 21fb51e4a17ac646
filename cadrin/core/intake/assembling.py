"""What becomes of a person by a row: what the file says, put onto what is there, by column."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any

from cadrin.core.intake.choices import ForExisting
from cadrin.core.intake.targets import OWN, Target
from cadrin.core.people.details import Details, RegisterRules
from cadrin.core.validity import Standing

FIELD_OF = {
    Target.NUMBER: "number",
    Target.EXTERNAL_ID: "external_id",
    Target.FIRST_NAME: "first_name",
    Target.LAST_NAME: "last_name",
    Target.DISPLAY_NAME: "display_override",
    Target.TITLE: "title",
    Target.EMAIL: "email",
    Target.PHONE: "phones",
    Target.LANGUAGE: "language",
    Target.BORN_ON: "born_on",
    Target.DEPARTMENT: "department_id",
    Target.COMPANY: "company_id",
    Target.KIND: "kind_id",
    Target.STANDING: "standing",
    Target.STANDING_REASON: "standing_reason",
    Target.ACTIVATION: "activation_at",
    Target.EXPIRY: "expiry_at",
    Target.EXTENDED_TIME: "extended_time",
    Target.REMARKS: "remarks",
}
"""Where a target goes among a cardholder's details."""
_FIELD_OF_NAME = {target.value: field for target, field in FIELD_OF.items()}
PROBLEM_FIELD_OF = FIELD_OF | {
    Target.DEPARTMENT: "department",
    Target.COMPANY: "company",
    Target.KIND: "kind",
}
"""How problems name it."""


def names_in(full_name: str) -> tuple[str, str]:
    """Return first and last name of a name in one cell: what stands before a comma is the last name,
    else the last word is.

    >>> names_in("Lindqvist, Mara"), names_in("Anna Maria Reve"), names_in("Falk")
    (('Mara', 'Lindqvist'), ('Anna Maria', 'Reve'), ('', 'Falk'))
    """
    last, comma, first = full_name.partition(",")
    if comma:
        return first.strip(), last.strip()
    first, _, last = full_name.strip().rpartition(" ")
    return first.strip(), last


Said = Mapping[str, Any]
"""Target to what a row says of it, without what it leaves open."""
Policies = Mapping[str, ForExisting]


def details_with(
    before: Details, said: Said, policies: Policies, rules: RegisterRules, *, is_new: bool
) -> Details:
    """Return a person's details with what a row says; an empty cell says nothing."""
    values = dict(said)
    full_name = values.pop(Target.FULL_NAME, "")
    # for somebody who is there and is called so already, how it parts is not the file's to say
    if full_name and (is_new or full_name not in (before.shown(rules.names), _both(before))):
        first, last = names_in(full_name)
        values = {Target.FIRST_NAME: first, Target.LAST_NAME: last, **values}
        policy = policies.get(Target.FULL_NAME, ForExisting.OVERWRITE)
        policies = {Target.FIRST_NAME: policy, Target.LAST_NAME: policy, **policies}
    shown = values.pop(Target.DISPLAY_NAME, None)
    own, changed = dict(before.own), {}
    for target, value in values.items():
        policy = ForExisting.OVERWRITE if is_new else policies.get(target, ForExisting.OVERWRITE)
        if field := _FIELD_OF_NAME.get(target):
            changed[field] = _by(policy, getattr(before, field), value)
        elif target.startswith(OWN):
            id_ = int(target.removeprefix(OWN))
            own[id_] = _by(policy, own.get(id_, ""), value)
    after = replace(before, **changed, own={id_: value for id_, value in own.items() if value})
    if shown and shown != after.shown(rules.names):
        policy = policies.get(Target.DISPLAY_NAME, ForExisting.OVERWRITE)
        override = shown if is_new else _by(policy, before.display_override, shown)
        after = replace(after, display_override=override)
    if after.standing is not Standing.SUSPENDED and after.suspended_until:
        after = replace(after, suspended_until=None)
    return after


def _both(details: Details) -> str:
    return f"{details.first_name} {details.last_name}"


def _by(policy: ForExisting, before: Any, said: Any) -> Any:
    if policy is ForExisting.LEAVE or (policy is ForExisting.FILL and before):
        return before
    if isinstance(before, datetime) and isinstance(said, datetime):
        # what a list shows of an instant is the same instant
        is_same = said == before or said == before.replace(microsecond=0)
        return before if is_same else said
    return said


def chosen_among(ids: Sequence[int], kept: int | None) -> int | None:
    """Return which of several things of one name is meant: the one that is there already, or the only
    one; None where nobody can tell.
    """
    if kept in ids:
        return kept
    return ids[0] if len(ids) == 1 else None
