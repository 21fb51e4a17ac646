"""Decide how the register numbers and names cardholders, and what it asks of them."""

from collections.abc import Iterable, Iterator
from datetime import datetime
from typing import NamedTuple

import phonenumbers
from django.db import connection, transaction

from cadrin.core.errors import Invalid, Problem, Stale
from cadrin.core.people.details import MAY_BE_REQUIRED
from cadrin.core.people.names import DisplayRule, NameRule
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.people.models import Cardholder
from cadrin.people.queries import settings

REGISTER = "register"
SHORTEST_NAME, LONGEST_NAME, WIDEST, HIGHEST_START = 8, 150, 10, 10**9


class SettingsDraft(NamedTuple):
    """The site's decisions as an operator wants them."""

    number_prefix: str
    number_width: int
    number_start: int
    display_rule: DisplayRule
    longest_name: int
    region: str
    required: tuple[str, ...]
    image_names: tuple[str, ...]
    version: int


def problems_with_settings(draft: SettingsDraft) -> tuple[Problem, ...]:
    """Return everything against these decisions, each beside its field."""
    return tuple(_problems(draft))


def _problems(draft: SettingsDraft) -> Iterator[Problem]:
    if len(draft.number_prefix) > 10:
        yield Problem("input.too_long", "number_prefix", {"most": 10})
    if draft.number_prefix[-1:].isdigit() or draft.number_prefix != draft.number_prefix.strip():
        yield Problem("settings.prefix_ends_in_digit", "number_prefix")
    for field, lowest, highest in (
        ("number_width", 1, WIDEST),
        ("number_start", 0, HIGHEST_START),
        ("longest_name", SHORTEST_NAME, LONGEST_NAME),
    ):
        if not lowest <= getattr(draft, field) <= highest:
            yield Problem("input.out_of_range", field, {"lowest": lowest, "highest": highest})
    if draft.region not in phonenumbers.SUPPORTED_REGIONS:
        yield Problem("settings.unknown_region", "region", {"region": draft.region[:10]})
    if unknown := set(draft.required) - set(MAY_BE_REQUIRED):
        yield Problem("input.invalid_choice", "required", {"name": sorted(unknown)[0][:20]})
    for place, name in enumerate(draft.image_names):
        if len(name) > 30:
            yield Problem("input.too_long", f"image_names.{place}", {"most": 30})
    if len(draft.image_names) > 2:
        yield Problem("input.too_many", "image_names", {"most": 2})


@transaction.atomic
def save_settings(actor: Actor, draft: SettingsDraft, at: datetime) -> None:
    """Save the decisions; display names follow the rule at once, and so do the records of
    controllers.

    Raises Invalid, Stale or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    kept = settings()
    if kept.version != draft.version:
        raise Stale(kept.version, history_of(REGISTER, 1, after_version=draft.version))
    if problems := problems_with_settings(draft):
        raise Invalid(problems)
    after = draft._asdict() | {
        "required": sorted(draft.required),
        "image_names": list(draft.image_names),
    }
    after.pop("version")
    changes = changes_between({name: getattr(kept, name) for name in after}, after)
    if not changes:
        return
    for name, value in after.items():
        setattr(kept, name, value)
    kept.version += 1
    kept.save()
    record(actor, at, [Act("register.set_up", (About(REGISTER, 1, kept.version),), changes)])
    renamed = list(renamed_by(NameRule(draft.display_rule, draft.longest_name)))
    with connection.cursor() as cursor:
        cursor.executemany("UPDATE people_cardholder SET display_name = %s WHERE id = %s", renamed)
    mark_for_delivery(Subject.CARDHOLDER, [id_ for _, id_ in renamed])


def renamed_by(rule: NameRule) -> Iterable[tuple[str, int]]:
    """Return the new display name and the id of everybody whose name the rule shows otherwise."""
    people = Cardholder.objects.filter(erased_at=None).values_list(
        "id", "first_name", "last_name", "display_override", "display_name"
    )
    for id_, first, last, override, name in people.iterator(5000):
        shown = rule.shown(first, last, override)
        if shown != name:
            yield shown, id_
