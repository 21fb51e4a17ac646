"""Write the details of cardholders, with what they are found under, and word it for the journal."""

import dataclasses
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from cadrin.config.database.inserting import insert_objects
from cadrin.core.people.custom_fields import sort_key
from cadrin.core.people.details import Details, RegisterRules
from cadrin.core.people.names import number_key, sort_name
from cadrin.core.validity import Standing
from cadrin.journal.commands import About, Act, Changes, changes_between
from cadrin.people.commands.parts import CARDHOLDER
from cadrin.people.commands.problems import CHOSEN, chosen_among
from cadrin.people.commands.terms import PERSON, person_terms, set_terms
from cadrin.people.models import Cardholder, CustomFieldKey

FIELDS = tuple(field.name for field in dataclasses.fields(Details))
_NAMES = ("number", "first_name", "last_name", "display_override")
"""What others are worked out from."""
Written = tuple[Cardholder, Details]


def as_kept(details: Details) -> dict[str, Any]:
    """Return details as the journal compares them: a field each, a custom field by its path."""
    plain = {name: getattr(details, name) for name in FIELDS if name != "own"}
    custom = {f"own.{id_}": value for id_, value in details.own.items()}
    return plain | {"phones": list(details.phones)} | custom


NOTHING = {"standing": None} | {
    name: value for name, value in as_kept(Details("")).items() if not value
}
"""What the journal takes a new cardholder's details to have been: only what is told of it counts."""


def details_of(cardholder: Cardholder, rules: RegisterRules) -> Details:
    """Return the details that are stored, without the values of custom fields that were removed."""
    values = {name: getattr(cardholder, name) for name in FIELDS}
    custom = {
        field.id: cardholder.own[str(field.id)]
        for field in rules.custom_fields
        if str(field.id) in cardholder.own
    }
    return Details(
        **values
        | {
            "standing": Standing(cardholder.standing),
            "phones": tuple(cardholder.phones),
            "own": custom,
        }
    )


def write_details(wanted: Sequence[Written], rules: RegisterRules) -> list[Act]:
    """Put details into new or locked cardholders and save them; give the acts for the journal.

    The caller holds the transaction, has checked `problems_with_details_of`, and moves the version.
    """
    befores = {
        cardholder.pk: details_of(cardholder, rules) for cardholder, _ in wanted if cardholder.pk
    }
    differing = [
        (cardholder, details)
        for cardholder, details in wanted
        if cardholder.pk is None or befores[cardholder.pk] != details
    ]
    _save(differing, rules)
    found_anew = [
        (cardholder, details)
        for cardholder, details in differing
        if cardholder.pk not in befores
        or person_terms(befores[cardholder.pk], rules) != person_terms(details, rules)
    ]
    set_terms(PERSON, {who.pk: person_terms(details, rules) for who, details in found_anew})
    _set_custom_keys(
        [
            (cardholder, details)
            for cardholder, details in differing
            if (befores[cardholder.pk].own if cardholder.pk in befores else {}) != details.own
        ],
        rules,
    )
    return list(_acts(differing, befores, rules))


def _save(wanted: Sequence[Written], rules: RegisterRules) -> None:
    """Save all that are new in one statement, and what is changed alike in one each."""
    live = {str(field.id) for field in rules.custom_fields}
    new: list[Cardholder] = []
    alike: dict[str, tuple[dict[str, Any], list[int]]] = {}
    for cardholder, details in wanted:
        columns = _columns(cardholder, details, rules, live)
        changed = {
            name: value for name, value in columns.items() if getattr(cardholder, name) != value
        }
        for name, value in changed.items():
            setattr(cardholder, name, value)
        if cardholder.pk is None:
            new.append(cardholder)
        elif changed:
            alike.setdefault(repr(changed), (changed, []))[1].append(cardholder.pk)
    insert_objects(new)
    for changed, ids in alike.values():
        Cardholder.objects.filter(pk__in=ids).update(**changed)


def _columns(
    cardholder: Cardholder, details: Details, rules: RegisterRules, live: set[str]
) -> dict[str, Any]:
    """Return what is stored of details, by column."""
    removed = {id_: value for id_, value in cardholder.own.items() if id_ not in live}
    columns: dict[str, Any] = {
        **{name: getattr(details, name) for name in FIELDS},
        "phones": list(details.phones),
        "own": removed | {str(id_): value for id_, value in details.own.items()},
    }
    if any(getattr(cardholder, name) != columns[name] for name in _NAMES):
        columns |= {
            "number_key": number_key(details.number),
            "display_name": details.shown(rules.names),
            "sort_name": sort_name(details.first_name, details.last_name),
        }
    return columns


def _set_custom_keys(wanted: Sequence[Written], rules: RegisterRules) -> None:
    CustomFieldKey.objects.filter(
        cardholder_id__in=[cardholder.pk for cardholder, _ in wanted],
        field_id__in=[field.id for field in rules.custom_fields],
    ).delete()
    CustomFieldKey.objects.bulk_create(
        CustomFieldKey(
            cardholder_id=cardholder.pk,
            field_id=field.id,
            key=sort_key(field, details.own[field.id]),
            is_unique=field.is_unique,
        )
        for cardholder, details in wanted
        for field in rules.custom_fields
        if field.id in details.own
    )


def forget_custom_keys_of(cardholder_id: int) -> None:
    """Forget what a cardholder is found and kept apart by, of custom fields."""
    CustomFieldKey.objects.filter(cardholder_id=cardholder_id).delete()


def _acts(
    wanted: Sequence[Written], befores: Mapping[int, Details], rules: RegisterRules
) -> Iterable[Act]:
    """Word what was changed; words stand for ids, as the journal outlives what they stand for."""
    names = _names_of_chosen([*befores.values(), *(details for _, details in wanted)])
    # a custom field that is called like one of ours keeps its path
    labels = {
        field.path: field.label
        for field in rules.custom_fields
        if field.label not in (*FIELDS, *CHOSEN)
    }
    for cardholder, details in wanted:
        before = befores.get(cardholder.pk)
        changes = changes_between(as_kept(before) if before else NOTHING, as_kept(details))
        shown = _worded(changes, labels, names)
        raw = {name: pair for name, pair in changes.items() if name not in shown}
        about = (About(CARDHOLDER, cardholder.pk, cardholder.version + 1),)
        yield Act("cardholder.changed" if before else "cardholder.enrolled", about, shown, raw)


def _names_of_chosen(all_details: Sequence[Details]) -> dict[str, dict[int, str]]:
    return {
        field: {
            id_: chosen.name
            for id_, chosen in chosen_among(
                field, (getattr(details, f"{field}_id") for details in all_details)
            ).items()
        }
        for field in CHOSEN
    }


def _worded(
    changes: Changes, labels: Mapping[str, str], names: Mapping[str, Mapping[int, str]]
) -> Changes:
    worded = {labels.get(name, name): pair for name, pair in changes.items()}
    for field in CHOSEN:
        if ids := worded.pop(f"{field}_id", None):
            worded[field] = (names[field].get(ids[0]), names[field].get(ids[1]))
    return worded
