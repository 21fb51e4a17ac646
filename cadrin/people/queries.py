"""Read the register of people."""

import re
from collections.abc import Iterable, Iterator, Sequence
from datetime import datetime, timedelta
from typing import Any

from django.db.models import Q, QuerySet
from django.db.models.expressions import RawSQL
from django.db.models.functions import Length

from cadrin.config.database.conditions import condition_of
from cadrin.config.database.instants import Turn, Window, turns
from cadrin.config.database.reading import IDS, ObjectsByIds, RowsByIds
from cadrin.core.errors import NotFound
from cadrin.core.people.details import NumberRule, RegisterRules, next_number
from cadrin.core.people.names import DisplayRule, NameRule, number_key, words_meant
from cadrin.core.validity import Standing, State
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.duplicates import _MOST_CANDIDATES
from cadrin.people.lists import custom_field
from cadrin.people.models import (
    Cardholder,
    CustomField,
    RegisterSettings,
    Term,
)
from cadrin.people.scoping import seen_by

AFTER_EVERY_LETTER = "\U0010ffff"
_OF_A_ROW = (
    "id", "first_name", "last_name", "title", "email", "phones", "language", "own", "remarks",
    "standing", "department_name", "company_name", "kind_name",
)  # fmt: skip
_NAME_OF = {
    "department_name": "department__name",
    "company_name": "company__name",
    "kind_name": "kind__name",
}
_details = RowsByIds(
    lambda: Cardholder.objects.filter(pk__among=IDS).values_list(
        *(_NAME_OF.get(name, name) for name in _OF_A_ROW)
    )
)


_cardholders = ObjectsByIds(Cardholder, lambda: Cardholder.objects.filter(pk__among=IDS))


def get_cardholder(actor: Actor, cardholder_id: int) -> Cardholder:
    """Raises NotFound, for whoever is out of the actor's reach as well."""
    cardholder = seen_among(actor, [cardholder_id]).get(cardholder_id)
    if cardholder is None:
        raise NotFound.of("cardholder.not_found")
    return cardholder


def has_external_id() -> RawSQL:
    """Match the cardholders whom another system knows by an id."""
    return condition_of(Cardholder, "external_id_is_one_cardholders")


def seen_among(actor: Actor, ids: Iterable[int]) -> dict[int, Cardholder]:
    """Return those of the cardholders whom the actor may see, by id."""
    if actor.scope.is_whole:
        return {cardholder.pk: cardholder for cardholder in _cardholders(ids)}
    return Cardholder.objects.filter(seen_by(actor), pk__in=list(ids)).in_bulk()


def get_cardholders(actor: Actor, ids: Iterable[int]) -> list[Cardholder]:
    """Return cardholders, each once, in the order of ``ids``. Raises NotFound when one is gone or
    out of the actor's reach.
    """
    wanted = list(dict.fromkeys(ids))
    found = seen_among(actor, wanted)
    if len(found) < len(wanted):
        raise NotFound.of("cardholder.not_found")
    return [found[id_] for id_ in wanted]


def cardholders_there(ids: Iterable[int]) -> list[Cardholder]:
    """Return those of the cardholders who are there, whoever may see them."""
    return list(Cardholder.objects.filter(pk__in=list(ids)))


def details_of_rows(ids: Iterable[int]) -> dict[int, dict[str, Any]]:
    """Return what a list shows of cardholders' details, by id, with the names of what was chosen
    for them.
    """
    return {row[0]: dict(zip(_OF_A_ROW, row, strict=True)) for row in _details(ids)}


def free_number(rule: NumberRule) -> str:
    """Return the number offered for the next new cardholder."""
    return free_numbers(rule, 1)[0]


def free_numbers(rule: NumberRule, count: int, above: str = "") -> list[str]:
    """Return the numbers of the next new cardholders, in order; higher than ``above``, a number of
    the site's own that is about to be taken.
    """
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
    highest = max(highest or "", above, key=lambda key: (len(key), key)) or None
    free: list[str] = []
    while len(free) < count:
        following: list[str] = []
        while len(free) + len(following) < count:
            following.append(next_number(highest, rule))
            highest = number_key(following[-1])
        # one written with more zeros than the rule has stands higher than it counts
        keys = map(number_key, following)
        taken = set(
            Cardholder.objects.filter(number_key__in=keys).values_list("number_key", flat=True)
        )
        free += [number for number in following if number_key(number) not in taken]
    return free


def number_span(first: str, last: str) -> Q:
    """Match the cardholder numbers from the first to the last, both included; an open
    end is empty.
    """
    match = Q(number_key__gte=number_key(first))
    return match & Q(number_key__lte=number_key(last)) if last.strip() else match


_settings = ObjectsByIds(RegisterSettings, lambda: RegisterSettings.objects.filter(pk__among=IDS))
_custom_fields = ObjectsByIds(
    CustomField, lambda: CustomField.objects.filter(removed_at=None).order_by("place", "id")
)


def rules(language: str = "en") -> RegisterRules:
    """Return what the site has decided about its register, own fields labelled in a language."""
    kept = settings()
    return RegisterRules(
        numbers=NumberRule(kept.number_prefix, kept.number_width, kept.number_start),
        names=NameRule(DisplayRule(kept.display_rule), kept.longest_name),
        region=kept.region,
        required=frozenset(kept.required),
        custom_fields=tuple(custom_field(item, language) for item in _custom_fields()),
    )


def cardholder_count() -> int:
    """Return how many there are, whoever may see them."""
    return Cardholder.objects.count()


def settings() -> RegisterSettings:
    return next(iter(_settings([1])), None) or RegisterSettings(pk=1)


def having_terms(text: str) -> Q:
    """Match cardholders with, for each word typed, a term that begins with it."""
    match = Q()
    for beginnings in words_meant(text):
        terms = Term.objects.filter(_begins_with(beginnings))
        match &= Q(pk__in=terms.values("cardholder_id"))
    return match


def _begins_with(beginnings: Iterable[str]) -> Q:
    match = Q()
    for word in beginnings:
        match |= Q(text__gte=word, text__lt=word + AFTER_EVERY_LETTER)
    return match


def find_ids(actor: Actor, text: str, most: int = 20) -> list[int]:
    """Return whom the actor means by what is typed so far, best first: a whole word before the
    beginning of one.

    The rarest word is looked up in the terms, at most 200 hits of it, and the others are checked on
    those.
    """
    words = words_meant(text)
    if not words:
        return []
    longest = max(words, key=lambda beginnings: min(map(len, beginnings)))
    terms = Term.objects.filter(_begins_with(longest))
    if not actor.scope.is_whole:
        terms = terms.filter(cardholder__in=Cardholder.objects.filter(seen_by(actor)))
    hits = terms.order_by("text").values_list("cardholder_id", flat=True)
    candidates = list(dict.fromkeys(hits[:_MOST_CANDIDATES]))
    for word in words:
        if word != longest:
            kept = set(
                Term.objects.filter(_begins_with(word), cardholder_id__in=candidates).values_list(
                    "cardholder_id", flat=True
                )
            )
            candidates = [id_ for id_ in candidates if id_ in kept]
    return candidates[:most]


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


def display_names(ids: Iterable[int]) -> dict[int, str]:
    return dict(Cardholder.objects.filter(pk__in=ids).values_list("id", "display_name"))


_AT_DOORS = (
    "id", "number", "display_name", "standing", "activation_at", "expiry_at", "suspended_until",
    "extended_time",
)  # fmt: skip
_at_doors = RowsByIds(lambda: Cardholder.objects.filter(pk__among=IDS).values_list(*_AT_DOORS))


def people_at_doors(ids: Iterable[int]) -> Iterable[tuple[Any, ...]]:
    """Return what doors know of cardholders themselves, a row each: `_AT_DOORS`."""
    return _at_doors(ids)


def ids_there(ids: Iterable[int | None]) -> set[int]:
    """Return those of the ids that are a cardholder's."""
    wanted = [id_ for id_ in ids if id_ is not None]
    return set(Cardholder.objects.filter(pk__in=wanted).values_list("id", flat=True))


def people_matching(match: Q) -> QuerySet[Cardholder]:
    """Return cardholders that a condition matches, for a condition on what is theirs."""
    return Cardholder.objects.filter(match)


def claims_of(ids: QuerySet[Any]) -> QuerySet[Cardholder, tuple[int, str, datetime | None]]:
    """Return the standing and the expiry of cardholders, by which controllers are filled."""
    return Cardholder.objects.filter(pk__in=ids).values_list("id", "standing", "expiry_at")


def count_matching(match: Q, among: Iterable[int]) -> int:
    """Count those of the cardholders whom a condition matches."""
    return Cardholder.objects.filter(match, pk__in=among).count()


def columns_of(ids: Iterable[int], names: Sequence[str]) -> Rows:
    """Return these columns of cardholders, a row each; those that are not there are left out."""
    return list(Cardholder.objects.filter(pk__in=ids).values(*names))


def by_id(ids: Iterable[int]) -> dict[int, Cardholder]:
    """Return cardholders by id, for whoever acts for an operator who was asked before."""
    return Cardholder.objects.in_bulk(list(ids))


def ids_of_numbers(actor: Actor, numbers: Iterable[str]) -> dict[str, int]:
    """Return the cardholders within reach by their numbers, as these were written."""
    wanted = {number.strip().casefold(): number for number in numbers if number.strip()}
    written = {
        form for number in wanted.values() for form in (number.strip(), number.strip().upper())
    }
    seen = Cardholder.objects.filter(seen_by(actor), number__in=written)
    found = seen.values_list("number", "id")
    return {wanted[number.casefold()]: id_ for number, id_ in found if number.casefold() in wanted}


def turns_of_people(window: Window) -> Iterator[Turn]:
    """Yield when cardholders begin, end, or are suspended no more."""
    columns = ("activation_at", "expiry_at", "suspended_until")
    return turns(Cardholder.objects.all(), "id", columns, window)
