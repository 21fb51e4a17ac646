"""Define, change, remove and take back own fields. Values survive everything but a changed type,
which is refused.
"""

from collections import Counter
from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from django.db import transaction
from django.db.models import Count, Max

from cadrin.core.errors import Invalid, NotFound, Problem, Stale
from cadrin.core.people.custom_fields import FieldType
from cadrin.core.people.names import fold
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.models import Cardholder, CustomField, CustomFieldKey
from cadrin.people.scoping import seen_by

CUSTOM_FIELD = "own_field"  # as the journal has it since its first day
LANGUAGES = ("en", "de")
LONGEST_LABEL, LONGEST_HELP, MOST_CHOICES, MOST_FIELDS = 40, 200, 100, 60


class ChoiceDraft(NamedTuple):
    """One choice; its ``key`` is what cardholders keep, and never changes."""

    key: str
    labels: dict[str, str]


class OwnFieldDraft(NamedTuple):
    """An own field as an operator wants it; labels and help by language."""

    labels: dict[str, str]
    help: dict[str, str]
    type: FieldType
    choices: tuple[ChoiceDraft, ...] = ()
    is_required: bool = False
    is_unique: bool = False
    version: int = 0


def value_counts(actor: Actor) -> dict[int, int]:
    """Return how many of the cardholders whom the actor may see have a value, by own field."""
    keys = CustomFieldKey.objects.all()
    if not actor.scope.is_whole:
        keys = keys.filter(cardholder__in=Cardholder.objects.filter(seen_by(actor)))
    return dict(keys.values_list("field_id").annotate(Count("id")).order_by())


def get_own_field(field_id: int) -> CustomField:
    """Raises NotFound."""
    field = CustomField.objects.filter(pk=field_id).first()
    if field is None:
        raise NotFound.of("own_field.not_found")
    return field


def problems_with_own_field(draft: OwnFieldDraft, field: CustomField | None) -> tuple[Problem, ...]:
    """Return everything against saving the field, each beside its own field."""
    return (
        *_problems_with_words(draft, field),
        *_problems_with_choices(draft),
        *(_problems_with_values(draft, field) if field else ()),
    )


def _problems_with_words(draft: OwnFieldDraft, field: CustomField | None) -> Iterable[Problem]:
    others = list(CustomField.objects.filter(removed_at=None).exclude(pk=field.pk if field else 0))
    if field is None and len(others) >= MOST_FIELDS:
        yield Problem("input.too_many", "labels.en", {"most": MOST_FIELDS})
    for language in LANGUAGES:
        label, path = draft.labels.get(language, "").strip(), f"labels.{language}"
        if len(label) > LONGEST_LABEL:
            yield Problem("input.too_long", path, {"most": LONGEST_LABEL})
        if label and any(fold(other.labels.get(language, "")) == fold(label) for other in others):
            yield Problem("own_field.label_taken", path, {"name": label})
        if len(draft.help.get(language, "")) > LONGEST_HELP:
            yield Problem("input.too_long", f"help.{language}", {"most": LONGEST_HELP})
    if not draft.labels.get("en", "").strip():
        yield Problem("input.blank", "labels.en")


def _problems_with_choices(draft: OwnFieldDraft) -> Iterable[Problem]:
    if draft.type is FieldType.CHOICE and not draft.choices:
        yield Problem("own_field.no_choices", "choices")
    if draft.type is not FieldType.CHOICE and draft.choices:
        yield Problem("own_field.choices_of_none", "choices")
    if len(draft.choices) > MOST_CHOICES:
        yield Problem("input.too_many", "choices", {"most": MOST_CHOICES})
    keys = Counter(choice.key for choice in draft.choices)
    names = Counter(fold(choice.labels.get("en", "")) for choice in draft.choices)
    for place, choice in enumerate(draft.choices):
        path, label = f"choices.{place}", choice.labels.get("en", "").strip()
        if not label:
            yield Problem("input.blank", path)
        if len(label) > LONGEST_LABEL or len(choice.key) > LONGEST_LABEL:
            yield Problem("input.too_long", path, {"most": LONGEST_LABEL})
        if keys[choice.key] > 1 or names[fold(label)] > 1:
            yield Problem("own_field.choice_twice", path)


def _problems_with_values(draft: OwnFieldDraft, field: CustomField) -> Iterable[Problem]:
    values = CustomFieldKey.objects.filter(field=field)
    if draft.type != field.type and (count := values.count()):
        yield Problem("own_field.has_values", "type", {"count": count})
    gone = {choice["key"] for choice in field.choices} - {choice.key for choice in draft.choices}
    if (
        draft.type == field.type
        and gone
        and (count := values.filter(key__in=[fold(key) for key in gone]).count())
    ):
        yield Problem("own_field.choice_in_use", "choices", {"count": count})
    if draft.is_unique and not field.is_unique:
        doubled = values.values("key").annotate(times=Count("id")).filter(times__gt=1).count()
        if doubled:
            yield Problem("own_field.not_unique", "is_unique", {"count": doubled})


@transaction.atomic
def save_custom_field(
    actor: Actor, field_id: int | None, draft: OwnFieldDraft, at: datetime
) -> int:
    """Define an own field, or save one, and give its id. Raises Invalid, Stale, NotFound or
    NotPermitted.
    """
    actor.require(Permission.SET_UP)
    field = None if field_id is None else get_own_field(field_id)
    if field and field.version != draft.version:
        raise Stale(field.version, history_of(CUSTOM_FIELD, field.pk, after_version=draft.version))
    if problems := problems_with_own_field(draft, field):
        raise Invalid(problems)
    if field is None:
        last = CustomField.objects.aggregate(last=Max("place"))["last"]
        field = CustomField(version=0, place=0 if last is None else last + 1)
    after = {
        "labels": {language: draft.labels.get(language, "").strip() for language in LANGUAGES},
        "help": {language: draft.help.get(language, "").strip() for language in LANGUAGES},
        "type": draft.type.value,
        "choices": [{"key": choice.key, "labels": choice.labels} for choice in draft.choices],
        "is_required": draft.is_required,
        "is_unique": draft.is_unique,
    }
    changes = changes_between(
        {} if field.pk is None else {name: getattr(field, name) for name in after}, after
    )
    if field.pk and field.is_unique != draft.is_unique:
        CustomFieldKey.objects.filter(field=field).update(is_unique=draft.is_unique)
    for name, value in after.items():
        setattr(field, name, value)
    field.version += 1
    field.save()
    action = "own_field.made" if field_id is None else "own_field.changed"
    record(actor, at, [Act(action, (About(CUSTOM_FIELD, field.pk, field.version),), changes)])
    return field.pk


@transaction.atomic
def remove_own_field(actor: Actor, field_id: int, at: datetime) -> None:
    """Take an own field from the register; keeping its values. Raises NotFound or NotPermitted."""
    _set_removed(actor, field_id, at, at, "own_field.removed")


@transaction.atomic
def take_back_own_field(actor: Actor, field_id: int, at: datetime) -> None:
    """Put a removed own field back, with its values. Raises Invalid when its label is taken,
    NotFound, NotPermitted.
    """
    field = get_own_field(field_id)
    for other in CustomField.objects.filter(removed_at=None).exclude(pk=field_id):
        if fold(str(other)) == fold(str(field)):
            raise Invalid.of("own_field.label_taken", None, name=str(field))
    _set_removed(actor, field_id, None, at, "own_field.taken_back")


def _set_removed(
    actor: Actor, field_id: int, removed_at: datetime | None, at: datetime, action: str
) -> None:
    actor.require(Permission.SET_UP)
    field = get_own_field(field_id)
    if (field.removed_at is None) == (removed_at is None):
        raise NotFound.of("own_field.not_found")
    field.removed_at, field.version = removed_at, field.version + 1
    field.save()
    changes = {
        "name": (str(field), str(field)),
        "values": (None, value_counts(actor).get(field_id, 0)),
    }
    record(actor, at, [Act(action, (About(CUSTOM_FIELD, field.pk, field.version),), changes)])


@transaction.atomic
def order_own_fields(actor: Actor, ids: list[int], at: datetime) -> None:
    """Put the own fields in this order; those not named follow. Raises NotPermitted."""
    actor.require(Permission.SET_UP)
    for place, id_ in enumerate(ids):
        CustomField.objects.filter(pk=id_).update(place=place)
    CustomField.objects.exclude(pk__in=ids).update(place=len(ids))
    record(actor, at, [Act("own_field.ordered", tuple(About(CUSTOM_FIELD, id_) for id_ in ids))])
