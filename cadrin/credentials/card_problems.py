"""Everything against cardholders having these cards."""

from collections.abc import Container, Iterable, Mapping, Sequence

from django.db.models import prefetch_related_objects

from cadrin.core.credentials.card.alike import also_read_as
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.life import ALIVE, FREE, HELD_STATUSES, LIFE, CardStatus
from cadrin.core.credentials.card.raw_reads import CardNumbers
from cadrin.core.credentials.card.use_limit import FEWEST_USES, MOST_USES
from cadrin.core.errors import Param, Problem
from cadrin.core.schedules import problems_with_hours
from cadrin.core.texts import has_invisible
from cadrin.core.validity import problems_with_span
from cadrin.credentials.card_draft import CardDraft, CardIdentity
from cadrin.credentials.models import LONGEST_LABEL, Card
from cadrin.credentials.queries import cards_with_numbers, formats
from cadrin.credentials.settings import card_settings
from cadrin.people.commands.parts import Part

Formats = Mapping[int, CardFormat]
Known = Mapping[CardIdentity, Card]


def problems_with_cards(parts: Sequence[Part[CardDraft]]) -> list[tuple[Problem, ...]]:
    """Return everything against each cardholder having these cards, in order.

    A card that one of them gives up by the same act is still theirs for the others.
    """
    layouts, most = formats(), card_settings().most_cards
    alike = {
        draft.identity: also_read_as(CardKey(*draft.identity), layouts, draft.issue_level)
        for part in parts
        for draft in part.wanted
    }
    known = _cards_by_identity(
        {*alike, *(key for keys in alike.values() for key in keys)},
        {part.holder_id for part in parts},
    )
    wanted_before: set[CardIdentity] = set()
    found = []
    for part in parts:
        problems: list[Problem] = []
        alive = 0
        for place, draft in enumerate(part.wanted):
            here = [*problems_with_span(draft.span), *_problems_with_terms(draft)]
            alive += draft.status in ALIVE
            if most is not None and draft.status in ALIVE and alive > most:
                here.append(Problem("card.too_many", "card_number", {"most": most}))
            here += _problems_with_numbers(draft, layouts)
            card = known.get(draft.identity)
            held = _problems_with_holder(draft, card, part.holder_id)
            if draft.identity in wanted_before and not held:
                held = [Problem("card.twice", "card_number")]
            here += held
            wanted_before.add(draft.identity)
            if not (card and card.holder_id == part.holder_id):
                here += _problems_with_alike(alike[draft.identity], known, wanted_before)
            problems += [problem.under(f"cards.{place}") for problem in here]
        found.append(tuple(problems))
    return found


def _cards_by_identity(
    identities: Iterable[CardIdentity], own: Container[int]
) -> dict[CardIdentity, Card]:
    """Return the cards that there are; of others than their ``own`` holders it is known who has them."""
    wanted = set(identities)
    cards = [
        card
        for card in cards_with_numbers({number for _, _, number in wanted if number >= 0})
        if (card.format_id, card.facility_code, card.card_number) in wanted
    ]
    others = [card for card in cards if card.holder_id and card.holder_id not in own]
    prefetch_related_objects(others, "holder", "format")
    return {(card.format_id, card.facility_code, card.card_number): card for card in cards}


def _problems_with_numbers(draft: CardDraft, layouts: Formats) -> Iterable[Problem]:
    if draft.status not in HELD_STATUSES:
        yield Problem("card.status_has_no_holder", "status", {"status": draft.status.value})
    layout = layouts.get(draft.format_id)
    if layout is None:
        yield Problem("input.no_longer_there", "format")
        return
    yield from layout.problems_with(CardNumbers(draft.facility_code, draft.card_number))
    highest = layout.issue_level.highest if layout.issue_level else None
    if draft.issue_level is not None and highest is None:
        yield Problem("card.no_issue_level", "issue_level")
    elif draft.issue_level is not None and not 0 <= draft.issue_level <= (highest or 0):
        yield Problem("input.out_of_range", "issue_level", {"lowest": 0, "highest": highest})


def _problems_with_holder(draft: CardDraft, card: Card | None, holder_id: int) -> list[Problem]:
    """Say whether a card that there is may become this holder's, or stay so."""
    if card is None:
        return []
    if card.holder_id and card.holder_id != holder_id:
        params: dict[str, Param] = {
            "card": str(card),
            "holder": card.holder.display_name if card.holder else "",
            "holder_id": card.holder_id,
            "status": card.status,
        }
        return [Problem("card.already_issued", "card_number", params)]
    if card.holder_id and not _may_become(card, draft.status):
        return [Problem("card.cannot_become", "status", {"status": card.status})]
    if not card.holder_id and card.status not in FREE:
        told: dict[str, Param] = {"card": str(card), "status": card.status}
        return [Problem("card.cannot_be_issued", "card_number", told)]
    return []


def _may_become(card: Card, status: CardStatus) -> bool:
    return card.status == status or status in LIFE[CardStatus(card.status)].may_become


def _problems_with_alike(
    alike: Sequence[CardKey], known: Known, beside: set[CardIdentity]
) -> Iterable[Problem]:
    """Refuse bits that are another card's, of a format of the same length: a door could not tell
    them apart.
    """
    for key in alike:
        other = known.get(key)
        if other and other.holder:
            params = {
                "card": str(other),
                "format": other.format.name,
                "holder": other.holder.display_name,
                "holder_id": other.holder_id,
            }
            yield Problem("card.same_bits", "card_number", params)
        elif key in beside:
            yield Problem("card.same_bits_twice", "card_number")


def _problems_with_terms(draft: CardDraft) -> Iterable[Problem]:
    if len(draft.label) > LONGEST_LABEL:
        yield Problem("input.too_long", "label", {"most": LONGEST_LABEL})
    if has_invisible(draft.label):
        yield Problem("input.invisible_characters", "label")
    if draft.use_limit is not None and not FEWEST_USES <= draft.use_limit <= MOST_USES:
        yield Problem(
            "input.out_of_range", "use_limit", {"lowest": FEWEST_USES, "highest": MOST_USES}
        )
    if draft.is_temporary and draft.expiry_at is None:
        yield Problem("card.temporary_needs_end", "expiry_at")
    if draft.hours and (problems := problems_with_hours(draft.hours)):
        yield Problem(problems[0].code, "hours")
