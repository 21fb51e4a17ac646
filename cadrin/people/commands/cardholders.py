"""Write cardholders. Each act is one transaction, with its journal entry and its delivery mark."""

import dataclasses
from collections.abc import Iterable, Mapping
from datetime import date
from typing import Any

from cadrin.core.errors import Param, Problem, Stale
from cadrin.core.people.contacts import phone_key
from cadrin.core.people.custom_fields import FieldType, read_value, sort_key
from cadrin.core.people.details import Details, RegisterRules, problems_with_details
from cadrin.core.people.names import fold, number_key, terms_of
from cadrin.core.validity import Standing
from cadrin.journal.commands import About, Act, Changes, changes_between
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.models import Cardholder, Company, CustomFieldKey, Department, Kind, Term
from cadrin.people.queries import get_cardholder
from cadrin.people.scoping import departments_seen

CARDHOLDER = "cardholder"
CHOSEN = {"department": Department, "company": Company, "kind": Kind}
FIELDS = tuple(field.name for field in dataclasses.fields(Details))


def lock_cardholder(actor: Actor, cardholder_id: int, version: int) -> Cardholder:
    """Read a cardholder to change it, within the writer's transaction.

    Raises NotFound when it is gone or out of the actor's reach.
    Raises Stale, with what was changed since by whom, when ``version`` is old.
    """
    cardholder = get_cardholder(actor, cardholder_id)
    if cardholder.version != version:
        # which groups somebody came into at other sites is not told to whoever is kept to one
        without = "membership." if actor.scope.sites is not None else ""
        since = history_of(CARDHOLDER, cardholder_id, after_version=version, without=without)
        raise Stale(cardholder.version, [seen_act(actor, act) for act in since])
    return cardholder


def seen_act(actor: Actor, act: Mapping[str, Any]) -> Mapping[str, Any]:
    """Return an act of the journal as far as the actor may see it: birth dates are not
    everybody's.
    """
    if Permission.BIRTH_DATES in actor.permissions:
        return act
    return {
        **act,
        "changes": {field: pair for field, pair in act["changes"].items() if field != "born_on"},
    }


def problems_with_cardholder(
    actor: Actor, details: Details, cardholder_id: int | None, rules: RegisterRules, today: date
) -> tuple[Problem, ...]:
    """Return everything that is wrong with details, against the register too. ``cardholder_id`` is
    None for a new one.

    Whoever is kept to departments or companies can put nobody outside of them.
    """
    problems = [
        *problems_with_details(details, rules, today),
        *_own_values_taken(details, cardholder_id, rules),
    ]
    within = {"department": departments_seen(actor), "company": actor.scope.companies, "kind": None}
    twin = (
        Cardholder.objects.filter(number_key=number_key(details.number))
        .exclude(pk=cardholder_id or 0)
        .first()
    )
    if twin:
        problems.append(
            Problem(
                "cardholder.number_taken",
                "number",
                {"number": twin.number, "name": twin.display_name, "holder_id": twin.pk},
            )
        )
    before = (
        Cardholder.objects.filter(pk=cardholder_id or 0)
        .values(*(f"{name}_id" for name in CHOSEN))
        .first()
        or {}
    )
    for field, model in CHOSEN.items():
        id_ = getattr(details, f"{field}_id")
        reach = within[field]
        if id_ is None:
            problems += [Problem("scope.needed", field)] if reach is not None else []
            continue
        chosen = model.objects.filter(pk=id_).first()  # type: ignore[attr-defined]
        if chosen is None or (reach is not None and id_ not in reach):
            problems.append(Problem("input.no_longer_there", field))
        elif chosen.is_retired and before.get(f"{field}_id") != id_:
            problems.append(Problem("input.retired", field, {"name": chosen.name}))
    return tuple(problems)


def _own_values_taken(
    details: Details, cardholder_id: int | None, rules: RegisterRules
) -> Iterable[Problem]:
    for own in rules.custom_fields:
        value = read_value(own, details.own.get(own.id, ""))
        if not own.is_unique or not value or isinstance(value, Problem):
            continue
        taken = CustomFieldKey.objects.filter(field_id=own.id, key=sort_key(own, value)).exclude(
            cardholder_id=cardholder_id or 0
        )
        if twin := taken.select_related("cardholder").first():
            holder = twin.cardholder
            params: dict[str, Param] = {
                "label": own.label,
                "name": holder.display_name,
                "holder_id": holder.pk,
            }
            yield Problem("own.taken", own.path, params)


def details_of(cardholder: Cardholder, rules: RegisterRules) -> Details:
    """Return the details that are stored, without the values of own fields that were removed."""
    values = {name: getattr(cardholder, name) for name in FIELDS}
    own = {
        one.id: cardholder.own[str(one.id)]
        for one in rules.custom_fields
        if str(one.id) in cardholder.own
    }
    return Details(
        **values
        | {
            "standing": Standing(cardholder.standing),
            "phones": tuple(cardholder.phones),
            "own": own,
        }
    )


def write_details(
    cardholder: Cardholder, details: Details, rules: RegisterRules, version: int
) -> Act | None:
    """Put details into a new or locked cardholder and save it; give the act for the journal, None
    if nothing differs.

    The caller holds the transaction, has checked `problems_with_cardholder`, and moves the version.
    """
    is_new = cardholder.pk is None
    after = as_kept(details)
    changes = changes_between({} if is_new else as_kept(details_of(cardholder, rules)), after)
    if not changes:
        return None
    for name in FIELDS:
        if name != "own":
            setattr(cardholder, name, getattr(details, name))
    cardholder.phones = list(details.phones)
    live = {str(one.id) for one in rules.custom_fields}
    removed = {id_: value for id_, value in cardholder.own.items() if id_ not in live}
    cardholder.own = removed | {str(id_): value for id_, value in details.own.items()}
    cardholder.number_key = number_key(details.number)
    cardholder.display_name = details.shown(rules.names)
    cardholder.sort_name = fold(f"{details.last_name} {details.first_name}")[:310]
    cardholder.save()
    set_terms(cardholder.pk, "person", person_terms(details, rules))
    _set_own_keys(cardholder.pk, details, rules)
    action = "cardholder.enrolled" if is_new else "cardholder.changed"
    shown = _for_the_journal(changes, rules)
    raw = {name: pair for name, pair in changes.items() if name not in shown}
    return Act(action, (About(CARDHOLDER, cardholder.pk, version),), shown, raw)


def as_kept(details: Details) -> dict[str, Any]:
    """Return details as the journal compares them: a field each, an own field by its path."""
    plain = {name: getattr(details, name) for name in FIELDS if name != "own"}
    own = {f"own.{id_}": value for id_, value in details.own.items()}
    return plain | {"phones": list(details.phones)} | own


def person_terms(details: Details, rules: RegisterRules) -> set[str]:
    """Return the words a cardholder is found under by their details, own fields of text
    included.
    """
    texts = {FieldType.TEXT, FieldType.NUMBER}
    own = [details.own.get(one.id, "") for one in rules.custom_fields if one.type in texts]
    words = terms_of(
        details.first_name,
        details.last_name,
        details.display_override,
        details.number,
        details.email,
        *own,
    )
    return {*words, *(phone_key(phone) for phone in details.phones)}


def _set_own_keys(cardholder_id: int, details: Details, rules: RegisterRules) -> None:
    CustomFieldKey.objects.filter(
        cardholder_id=cardholder_id, field_id__in=[one.id for one in rules.custom_fields]
    ).delete()
    CustomFieldKey.objects.bulk_create(
        CustomFieldKey(
            cardholder_id=cardholder_id,
            field_id=own.id,
            key=sort_key(own, details.own[own.id]),
            is_unique=own.is_unique,
        )
        for own in rules.custom_fields
        if own.id in details.own
    )


def _for_the_journal(changes: Changes, rules: RegisterRules) -> Changes:
    """Write names for ids: the journal outlives what they stand for."""
    # an own field that is called like one of ours keeps its path
    labels = {
        own.path: own.label for own in rules.custom_fields if own.label not in (*FIELDS, *CHOSEN)
    }
    named = {labels.get(name, name): pair for name, pair in changes.items()}
    for field, model in CHOSEN.items():
        if ids := named.pop(f"{field}_id", None):
            chosen = model.objects.filter(pk__in=[id_ for id_ in ids if id_])  # type: ignore[attr-defined]
            names = dict(chosen.values_list("id", "name"))
            named[field] = (names.get(ids[0]), names.get(ids[1]))
    return named


def set_terms(cardholder_id: int, source: str, texts: Iterable[str]) -> None:
    """Set the words one source finds a cardholder under, in place of those it set before."""
    Term.objects.filter(cardholder_id=cardholder_id, source=source).delete()
    Term.objects.bulk_create(
        Term(cardholder_id=cardholder_id, source=source, text=text[:254])
        for text in sorted(set(texts))
    )
