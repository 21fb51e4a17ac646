"""Read the register of people."""

import re
from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import Any

from django.db.models import Count, F, Q
from django.db.models.functions import Length

from cadrin.core.errors import NotFound
from cadrin.core.people.custom_fields import CustomField as CoreOwnField
from cadrin.core.people.custom_fields import FieldType
from cadrin.core.people.details import Details, NumberRule, RegisterRules, next_number
from cadrin.core.people.duplicates import PersonFacts, name_likeness, signs
from cadrin.core.people.names import DisplayRule, NameRule, fold, number_key
from cadrin.core.validity import Standing, State
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.rows import Rows
from cadrin.people.models import (
    Cardholder,
    Company,
    CustomField,
    Department,
    Kind,
    RegisterSettings,
    Term,
)
from cadrin.people.scoping import departments_seen, seen_by

AFTER_EVERY_LETTER = "\U0010ffff"
_MOST_CANDIDATES = 200
_MOST_COMPARED, _MOST_DOUBLES = 3000, 3


def get_cardholder(actor: Actor, cardholder_id: int) -> Cardholder:
    """Raises NotFound, for whoever is out of the actor's reach as well."""
    cardholder = Cardholder.objects.filter(seen_by(actor), pk=cardholder_id).first()
    if cardholder is None:
        raise NotFound.of("cardholder.not_found")
    return cardholder


def get_cardholders(actor: Actor, ids: Iterable[int]) -> list[Cardholder]:
    """Return cardholders, each once, in the order of ``ids``. Raises NotFound when one is gone or
    out of the actor's reach.
    """
    wanted = list(dict.fromkeys(ids))
    found = Cardholder.objects.filter(seen_by(actor)).in_bulk(wanted)
    if len(found) < len(wanted):
        raise NotFound.of("cardholder.not_found")
    return [found[id_] for id_ in wanted]


def free_number(rule: NumberRule) -> str:
    """Return the number offered for the next new cardholder."""
    return free_numbers(rule, 1)[0]


def free_numbers(rule: NumberRule, count: int) -> list[str]:
    """Return the numbers of the next new cardholders, in order."""
    if not count:
        return []
    prefix = rule.prefix.upper()
    longest = 20 - len(prefix)
    # not by a span of keys: SQLite would then sort all of them instead of beginning at the highest
    own = Cardholder.objects.filter(
        number_key__startswith=prefix,
        number_key__regex=rf"^{re.escape(prefix)}\d{{{rule.width},{longest}}}$",
    )
    # a longer number is a higher one, whatever its letters say
    by_height = own.annotate(length=Length("number_key")).order_by("-length", "-number_key")
    highest = by_height.values_list("number_key", flat=True).first()
    numbers = [next_number(highest, rule)]
    while len(numbers) < count:
        numbers.append(next_number(number_key(numbers[-1]), rule))
    return numbers


def number_span(first: str, last: str) -> Q:
    """Match the cardholder numbers from the first to the last, both included; an open
    end is empty.
    """
    match = Q(number_key__gte=number_key(first))
    return match & Q(number_key__lte=number_key(last)) if last.strip() else match


def rules(language: str = "en") -> RegisterRules:
    """Return what the site has decided about its register, own fields labelled in a language."""
    kept = settings()
    return RegisterRules(
        numbers=NumberRule(kept.number_prefix, kept.number_width, kept.number_start),
        names=NameRule(DisplayRule(kept.display_rule), kept.longest_name),
        region=kept.region,
        required=frozenset(kept.required),
        custom_fields=tuple(
            custom_field(one, language)
            for one in CustomField.objects.filter(removed_at=None).order_by("place", "id")
        ),
    )


def settings() -> RegisterSettings:
    return RegisterSettings.objects.filter(pk=1).first() or RegisterSettings(pk=1)


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


def having_terms(text: str) -> Q:
    """Match cardholders with, for each word typed, a term that begins with it."""
    match = Q()
    for word in fold(text).split()[:5]:
        terms = Term.objects.filter(text__gte=word, text__lt=word + AFTER_EVERY_LETTER)
        match &= Q(pk__in=terms.values("cardholder_id"))
    return match


def find_ids(actor: Actor, text: str, most: int = 20) -> list[int]:
    """Return whom the actor means by what is typed so far, best first: a whole word before the
    beginning of one.

    The rarest word is looked up in the terms, at most 200 hits of it, and the others are checked on
    those.
    """
    words = fold(text).split()[:5]
    if not words:
        return []
    longest = max(words, key=len)
    terms = Term.objects.filter(text__gte=longest, text__lt=longest + AFTER_EVERY_LETTER)
    if not actor.scope.is_whole:
        terms = terms.filter(cardholder__in=Cardholder.objects.filter(seen_by(actor)))
    hits = terms.order_by("text").values_list("cardholder_id", flat=True)
    candidates = list(dict.fromkeys(hits[:_MOST_CANDIDATES]))
    for word in words:
        if word != longest:
            kept = set(
                Term.objects.filter(
                    cardholder_id__in=candidates, text__gte=word, text__lt=word + AFTER_EVERY_LETTER
                ).values_list("cardholder_id", flat=True)
            )
            candidates = [id_ for id_ in candidates if id_ in kept]
    return candidates[:most]


def possible_duplicates(actor: Actor, details: Details, cardholder_id: int | None) -> Rows:
    """Return who may be the same human being, likeliest first, each with the signs that speak for
    it.
    """
    # whoever may not see birth dates must not find them out by trying
    born_on = details.born_on if Permission.BIRTH_DATES in actor.permissions else None
    facts = PersonFacts(
        details.number,
        details.first_name,
        details.last_name,
        details.email,
        born_on,
        details.department_id,
    )
    candidates = Q(number_key=number_key(details.number))
    if details.email:
        candidates |= Q(
            pk__in=Term.objects.filter(text=fold(details.email)).values("cardholder_id")
        )
    has_name = bool(details.first_name.strip() and details.last_name.strip())
    if has_name and born_on:
        candidates |= Q(born_on=born_on)
    if has_name and details.department_id:
        candidates |= Q(department_id=details.department_id)
    fields = ("number", "first_name", "last_name", "email", "born_on", "department_id")
    people = Cardholder.objects.filter(seen_by(actor), candidates, erased_at=None).exclude(
        pk=cardholder_id or 0
    )
    found = []
    for row in people.values("id", "display_name", *fields, department_name=F("department__name"))[
        :_MOST_COMPARED
    ]:
        other = PersonFacts(**{name: row[name] for name in fields})
        if told := signs(facts, other):
            found.append(dict(row) | {"signs": list(told), "likeness": name_likeness(facts, other)})
    return sorted(found, key=lambda row: (-len(row["signs"]), -row["likeness"]))[:_MOST_DOUBLES]


def in_state(state: State, at: datetime) -> Q:
    """Match cardholders for whom the core's `state_at` gives this state; a test holds the two
    together.
    """
    # said by what it is not: no index answers that, and nearly everybody is so, so the order's own
    # index is walked
    is_let = ~Q(standing__in=[Standing.BARRED, Standing.DEPARTED])
    by_calendar = is_let & (~Q(standing=Standing.SUSPENDED) | Q(suspended_until__lte=at))
    over = Q(expiry_at__lte=at)
    # a comparison with an absent instant is never true: say what an open end means
    not_over = Q(expiry_at=None) | Q(expiry_at__gt=at)
    match state:
        case State.SUSPENDED:
            return Q(standing=Standing.SUSPENDED) & (
                Q(suspended_until=None) | Q(suspended_until__gt=at)
            )
        case State.BARRED | State.DEPARTED:
            return Q(standing=state.value)
        case State.EXPIRED:
            return by_calendar & over
        case State.PENDING:
            return by_calendar & not_over & Q(activation_at__gt=at)
        case State.IN_FORCE:
            return by_calendar & not_over & (Q(activation_at=None) | Q(activation_at__lte=at))


def ending_within(at: datetime, days: int) -> Q:
    return Q(expiry_at__gt=at, expiry_at__lte=at + timedelta(days=days))


def starting_within(at: datetime, days: int) -> Q:
    return Q(activation_at__gt=at, activation_at__lte=at + timedelta(days=days))


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


def display_names(ids: Iterable[int]) -> dict[int, str]:
    return dict(Cardholder.objects.filter(pk__in=ids).values_list("id", "display_name"))


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
