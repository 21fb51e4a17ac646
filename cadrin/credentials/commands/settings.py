"""Decide what the site asks of cards and PINs."""

from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.core.credentials.pin.duplicates import PinInUse
from cadrin.core.credentials.pin.rule import PinRule, problems_with_rule
from cadrin.core.errors import Invalid, Problem, Stale
from cadrin.credentials.pin_problems import mistaken_by
from cadrin.credentials.settings import card_settings, pin_rule
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import tell_controllers
from cadrin.people.queries import columns_of

CARD_SETTINGS = "card_settings"
MOST_CARDS = 100
MOST_NAMED = 20


class CardSettingsDraft(NamedTuple):
    """What the site asks of cards and PINs, as an operator wants it."""

    most_cards: int | None
    rule: PinRule
    version: int


def problems_with_card_settings(draft: CardSettingsDraft) -> tuple[Problem, ...]:
    """Return everything against these decisions, each beside its field."""
    problems = problems_with_rule(draft.rule)
    if draft.most_cards is not None and not 1 <= draft.most_cards <= MOST_CARDS:
        problems = (
            Problem("input.out_of_range", "most_cards", {"lowest": 1, "highest": MOST_CARDS}),
            *problems,
        )
    return problems


def _mistaken(pins: Sequence[PinInUse]) -> Problem:
    """Say who needs another PIN first; never whose theirs would be taken for, as one tells the
    other's.
    """
    holder_ids = {pin.holder_id for pin in pins}
    numbers = [row["number"] for row in columns_of(sorted(holder_ids), ("id", "number"))]
    named = ", ".join(numbers[:MOST_NAMED]) + ("…" if len(holder_ids) > MOST_NAMED else "")
    return Problem("pin_rule.mistaken", "duress", {"count": len(holder_ids), "numbers": named})


@transaction.atomic
def save_card_settings(actor: Actor, draft: CardSettingsDraft, at: datetime) -> None:
    """Decide what the site asks of cards and PINs from now on; those there are stay. Controllers
    are told.

    A rule for duress by which doors would take somebody's PIN for another's is refused until they
    have another PIN.

    Raises Invalid, Stale or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    kept = card_settings()
    if kept.version != draft.version:
        raise Stale(kept.version, history_of(CARD_SETTINGS, 1, after_version=draft.version))
    if problems := problems_with_card_settings(draft):
        raise Invalid(problems)
    before = {"most_cards": kept.most_cards, **asdict(pin_rule(kept))}
    after = {"most_cards": draft.most_cards, **asdict(draft.rule)}
    changes = changes_between(before, after)
    if not changes:
        return
    if "duress" in changes and (mistaken := mistaken_by(draft.rule)):
        raise Invalid((_mistaken(mistaken),))
    kept.most_cards, kept.pin_rule = draft.most_cards, asdict(draft.rule)
    kept.version += 1
    kept.save()
    record(
        actor, at, [Act("card_settings.changed", (About(CARD_SETTINGS, 1, kept.version),), changes)]
    )
    tell_controllers()
