"""Describe, change and remove card formats."""

from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.core.credentials.card.formats import CardFormat as Layout
from cadrin.core.errors import Invalid, NotFound, Problem, Stale
from cadrin.core.people.names import fold
from cadrin.core.records.card_formats import decode_format, encode_format
from cadrin.core.records.keys import Body
from cadrin.credentials.models import CardFormat
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import tell_controllers

FORMAT = "format"
LONGEST_NAME, LONGEST_SOURCE = 60, 200


class FormatDraft(NamedTuple):
    """A card format as an operator wants it; ``layout`` is written as `encode_format` writes it.

    ``version`` is the one it was read at; 0 for a new one.
    """

    name: str
    source: str
    layout: Body
    version: int = 0


def get_format(format_id: int) -> CardFormat:
    """Raises NotFound."""
    card_format = CardFormat.objects.filter(pk=format_id).first()
    if card_format is None:
        raise NotFound.of("format.not_found")
    return card_format


def read_layout(draft: FormatDraft) -> Layout | tuple[Problem, ...]:
    """Return the layout that is described, or everything that is wrong with it."""
    try:
        return decode_format(draft.layout)
    except Invalid as error:
        return tuple(problem.under("layout") for problem in error.problems)


def problems_with_format(draft: FormatDraft, format_id: int | None) -> tuple[Problem, ...]:
    """Return everything against saving the format, each beside its field.

    What the bits of cards that exist mean is never changed: they would be other cards.
    """
    name = draft.name.strip()
    problems = [] if name else [Problem("input.blank", "name")]
    for field, most in (("name", LONGEST_NAME), ("source", LONGEST_SOURCE)):
        if len(getattr(draft, field)) > most:
            problems.append(Problem("input.too_long", field, {"most": most}))
    others = CardFormat.objects.exclude(pk=format_id or 0)
    if name and any(fold(other.name) == fold(name) for other in others):
        problems.append(Problem("listed.taken", "name", {"name": name}))
    layout = read_layout(draft)
    if isinstance(layout, tuple):
        return (*problems, *layout)
    if twin := next((other for other in others if decode_format(other.layout) == layout), None):
        problems.append(Problem("format.same", "layout", {"name": twin.name}))
    if format_id is not None:
        known = get_format(format_id)
        if decode_format(known.layout) != layout and (count := known.cards.count()):
            problems.append(Problem("format.in_use", "layout", {"count": count}))
    return tuple(problems)


@transaction.atomic
def save_format(actor: Actor, format_id: int | None, draft: FormatDraft, at: datetime) -> int:
    """Make a card format, or save one, and give its id; every controller gets it.

    Raises Invalid, Stale, NotFound or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    card_format = CardFormat(version=0) if format_id is None else get_format(format_id)
    if card_format.version != draft.version:
        raise Stale(
            card_format.version, history_of(FORMAT, card_format.pk, after_version=draft.version)
        )
    if problems := problems_with_format(draft, format_id):
        raise Invalid(problems)
    after = {
        "name": draft.name.strip(),
        "source": draft.source.strip(),
        "layout": encode_format(decode_format(draft.layout)),
    }
    before = {} if format_id is None else {name: getattr(card_format, name) for name in after}
    changes = changes_between(before, after)
    if not changes:
        return card_format.pk
    for name, value in after.items():
        setattr(card_format, name, value)
    card_format.version += 1
    card_format.save()
    action = "format.made" if format_id is None else "format.changed"
    record(actor, at, [Act(action, (About(FORMAT, card_format.pk, card_format.version),), changes)])
    tell_controllers()
    return card_format.pk


@transaction.atomic
def remove_format(actor: Actor, format_id: int, at: datetime) -> None:
    """Remove a format of which there is no card. Raises Invalid, NotFound or NotPermitted."""
    actor.require(Permission.SET_UP)
    card_format = get_format(format_id)
    if count := card_format.cards.count():
        raise Invalid.of("format.in_use", None, count=count)
    name = card_format.name
    card_format.delete()
    record(actor, at, [Act("format.removed", (About(FORMAT, format_id),), {"name": (name, None)})])
    tell_controllers()
