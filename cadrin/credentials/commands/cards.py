"""Give cards to cardholders, take them back, and say what has become of them."""

from collections.abc import Iterable, Sequence
from datetime import datetime
from typing import NamedTuple

from cadrin.config.database.inserting import insert_objects
from cadrin.config.database.reading import IDS, ObjectsByIds
from cadrin.core.credentials.card.life import FREE, CardStatus, given_up
from cadrin.credentials.card_draft import CardDraft, CardIdentity, draft_of
from cadrin.credentials.models import Card, CardUse
from cadrin.credentials.queries import cards_with_numbers
from cadrin.journal.commands import About, Act, Changes, changes_between
from cadrin.people.commands.parts import Part, holders_before

CARD = "card"
"""What the journal calls a card."""


class _Step(NamedTuple):
    """What happens to one card of one cardholder: it becomes the draft, or is given up without."""

    part: Part[CardDraft]
    card: Card
    draft: CardDraft | None


_cards_of = ObjectsByIds(Card, lambda: Card.objects.filter(holder_id__among=IDS).order_by("id"))


def set_cards(parts: Sequence[Part[CardDraft]], at: datetime) -> list[Act]:
    """Make the cards of each cardholder these; one that is missing is given up. Gives the acts for
    the journal.

    The caller holds the transaction and has checked `problems_with_cards`.
    """
    steps = list(_steps(parts))
    said = [_give(step, at) if step.draft else _give_up(step.card) for step in steps]
    _save([step.card for step in steps])
    return [
        _act(step, action, changes) for step, (action, changes) in zip(steps, said, strict=True)
    ]


def _steps(parts: Sequence[Part[CardDraft]]) -> Iterable[_Step]:
    had: dict[int, dict[CardIdentity, Card]] = {part.holder_id: {} for part in parts}
    for card in _cards_of(holders_before(parts)):
        had[card.holder_id or 0][_identity(card)] = card
    free = _free_cards({draft.card_number for part in parts for draft in part.wanted})
    for part in parts:
        wanted = {draft.identity: draft for draft in part.wanted}
        for identity, card in had[part.holder_id].items():
            if identity not in wanted:
                yield _Step(part, card, None)
        for identity, draft in wanted.items():
            own = had[part.holder_id].get(identity)
            if own is None or draft_of(own).kept() != draft.kept():
                yield _Step(part, own or free.get(identity) or _new_card(identity), draft)


def _free_cards(numbers: set[int]) -> dict[CardIdentity, Card]:
    cards = cards_with_numbers(numbers) if numbers else []
    return {_identity(card): card for card in cards if card.holder_id is None}


def _identity(card: Card) -> CardIdentity:
    return card.format_id, card.facility_code, card.card_number


def _new_card(identity: CardIdentity) -> Card:
    format_id, facility_code, card_number = identity
    return Card(format_id=format_id, facility_code=facility_code, card_number=card_number)


Said = tuple[str, Changes]
"""What the journal says of a step: the action and the changes."""


def _give_up(card: Card) -> Said:
    before = card.status
    card.holder_id, card.status = None, given_up(CardStatus(before))
    action = "card.returned" if card.status in FREE else "card.given_up"
    return action, changes_between({"status": before}, {"status": card.status})


def _give(step: _Step, at: datetime) -> Said:
    """Put a draft into a card. Its uses are counted from when it got a limit, or another one."""
    part, card, draft = step
    assert draft
    after = draft.kept()
    if card.holder_id == part.holder_id:
        said: Said = "card.changed", changes_between({n: getattr(card, n) for n in after}, after)
    else:
        told = {name: value for name, value in after.items() if value not in (None, "", False)}
        said = "card.issued", changes_between({"status": card.status or None}, told)
        card.use_limit = None  # what it was used by whoever had it before is not counted
    if card.use_limit != draft.use_limit or not draft.use_limit:
        card.counted_from, card.used = at if draft.use_limit else None, 0
        if card.pk:
            CardUse.objects.filter(card=card).delete()
    card.holder_id = part.holder_id
    for name, value in after.items():
        setattr(card, name, value)
    return said


def _save(cards: Sequence[Card]) -> None:
    known = [card for card in cards if card.pk]
    insert_objects([card for card in cards if not card.pk])
    for card in known:
        card.save()


def _act(step: _Step, action: str, changes: Changes) -> Act:
    card, name = step.card, str(step.card)
    identity = list(_identity(card))
    was = {} if step.draft else {"kept": (draft_of(card).told(), None)}
    return Act(
        action,
        (step.part.about, About(CARD, card.pk)),
        {"card": (name, name), **changes},
        {"identity": (identity, identity), **was},
    )
