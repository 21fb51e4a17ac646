"""Give cards to cardholders, take them back, and say what has become of them."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from cadrin.core.credentials.card.alike import also_read_as
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.formats import CardNumbers
from cadrin.core.credentials.card.life import ALIVE, FREE, HELD_STATUSES, LIFE, CardStatus, given_up
from cadrin.core.credentials.card.use_limit import FEWEST_USES, MOST_USES
from cadrin.core.errors import Problem
from cadrin.core.schedules import Hours, Schedule, problems_with_hours
from cadrin.core.texts import has_invisible
from cadrin.core.validity import Span, problems_with_span
from cadrin.credentials.models import LONGEST_LABEL, Card, CardUse
from cadrin.credentials.queries import find_card, formats
from cadrin.credentials.settings import card_settings
from cadrin.journal.commands import About, Act, changes_between

CARD = "card"
"""What a cardholder may have only so many of."""


@dataclass(frozen=True, slots=True)
class CardDraft:
    """A card as an operator wants a cardholder to have it. ``hours`` are its own, in ``zone``; none
    are any time.
    """

    format_id: int
    facility_code: int
    card_number: int
    status: CardStatus = CardStatus.ISSUED
    activation_at: datetime | None = None
    expiry_at: datetime | None = None
    suspended_until: datetime | None = None
    label: str = ""
    is_watched: bool = False
    is_temporary: bool = False
    issue_level: int | None = None
    use_limit: int | None = None
    hours: tuple[Hours, ...] = ()
    zone: str = "UTC"

    @property
    def identity(self) -> tuple[int, int, int]:
        return self.format_id, self.facility_code, self.card_number

    @property
    def span(self) -> Span:
        return Span(self.activation_at, self.expiry_at)

    def kept(self) -> dict[str, Any]:
        """Return everything but the identity, by the names of the columns it is kept in."""
        is_suspended = self.status is CardStatus.SUSPENDED
        hours = [[h.weekday, h.start_minute, h.end_minute] for h in sorted(self.hours)]
        return {
            "status": self.status.value,
            "activation_at": self.activation_at,
            "expiry_at": self.expiry_at,
            "suspended_until": self.suspended_until if is_suspended else None,
            "label": self.label.strip(),
            "is_watched": self.is_watched,
            "is_temporary": self.is_temporary,
            "issue_level": self.issue_level,
            "use_limit": self.use_limit,
            "hours": {"zone": self.zone, "hours": hours} if hours else None,
        }


def draft_of(card: Card) -> CardDraft:
    """Return a card as it is stored."""
    hours = card.hours or {"zone": "UTC", "hours": []}
    return CardDraft(
        card.format_id,
        card.facility_code,
        card.card_number,
        CardStatus(card.status),
        card.activation_at,
        card.expiry_at,
        card.suspended_until,
        card.label,
        card.is_watched,
        card.is_temporary,
        card.issue_level,
        card.use_limit,
        tuple(Hours(*window) for window in hours["hours"]),
        hours["zone"],
    )


def problems_with_cards(drafts: Sequence[CardDraft], holder_id: int | None) -> tuple[Problem, ...]:
    """Return everything against a cardholder having these cards; ``holder_id`` is None for a new
    one.
    """
    known, problems, seen = formats(), [], set()
    most, alive = card_settings().most_cards, 0
    existing = {
        (card.format_id, card.facility_code, card.card_number): card
        for card in Card.objects.filter(
            card_number__in=[draft.card_number for draft in drafts if draft.card_number >= 0]
        ).select_related("holder")
    }
    for place, draft in enumerate(drafts):
        here: list[Problem] = [*problems_with_span(draft.span), *_problems_with_terms(draft)]
        alive += draft.status in ALIVE
        if most is not None and draft.status in ALIVE and alive > most:
            here.append(Problem("card.too_many", "card_number", {"most": most}))
        card_format = known.get(draft.format_id)
        if card_format is None:
            here.append(Problem("input.no_longer_there", "format"))
        else:
            here += card_format.problems_with(CardNumbers(draft.facility_code, draft.card_number))
            highest = card_format.issue_level.highest if card_format.issue_level else None
            if draft.issue_level is not None and highest is None:
                here.append(Problem("card.no_issue_level", "issue_level"))
            elif draft.issue_level is not None and not 0 <= draft.issue_level <= (highest or 0):
                here.append(
                    Problem("input.out_of_range", "issue_level", {"lowest": 0, "highest": highest})
                )
        if draft.status not in HELD_STATUSES:
            here.append(
                Problem("card.status_has_no_holder", "status", {"status": draft.status.value})
            )
        if draft.identity in seen:
            here.append(Problem("card.twice", "card_number"))
        seen.add(draft.identity)
        card = existing.get(draft.identity)
        if card and card.holder_id != holder_id and card.holder:
            name = {
                "holder": card.holder.display_name,
                "holder_id": card.holder_id,
                "status": card.status,
            }
            here.append(Problem("card.already_issued", "card_number", {"card": str(card), **name}))
        elif card and card.holder_id is not None and not _may_become(card, draft.status):
            here.append(Problem("card.cannot_become", "status", {"status": card.status}))
        elif card and card.holder_id is None and card.status not in FREE:
            here.append(
                Problem(
                    "card.cannot_be_issued",
                    "card_number",
                    {"card": str(card), "status": card.status},
                )
            )
        if not (card and card.holder_id == holder_id):
            alike = also_read_as(CardKey(*draft.identity), known, draft.issue_level)
            here += _problems_with_alike(alike, seen)
        problems += [problem.under(f"cards.{place}") for problem in here]
    return tuple(problems)


def _may_become(card: Card, status: CardStatus) -> bool:
    return card.status == status or status in LIFE[CardStatus(card.status)].may_become


def _problems_with_alike(
    alike: Sequence[CardKey], beside: Collection[tuple[int, int, int]]
) -> Iterable[Problem]:
    """Refuse bits that are another card's, of a format of the same length: a door could not tell
    them apart.
    """
    for key in alike:
        other = find_card(key)
        if other and other.holder:
            name = {"holder": other.holder.display_name, "holder_id": other.holder_id}
            yield Problem(
                "card.same_bits",
                "card_number",
                {"card": str(other), "format": other.format.name, **name},
            )
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


def schedule_of_card(hours: Mapping[str, Any] | None) -> Schedule | None:
    """Read the hours of a card as they are kept."""
    return (
        Schedule(hours["zone"], tuple(Hours(*window) for window in hours["hours"]))
        if hours
        else None
    )


def set_cards(
    holder_id: int,
    drafts: Sequence[CardDraft],
    holder_version: int,
    holder_topic: str,
    at: datetime,
) -> list[Act]:
    """Make a cardholder's cards these; one that is missing is given up. Gives the acts for the
    journal.

    The caller holds the transaction and has checked `problems_with_cards`.
    """
    acts = []
    had = {
        (card.format_id, card.facility_code, card.card_number): card
        for card in Card.objects.filter(holder_id=holder_id)
    }
    wanted = {draft.identity: draft for draft in drafts}

    def act(
        action: str, card: Card, before: Mapping[str, object], after: Mapping[str, object]
    ) -> Act:
        about = (About(holder_topic, holder_id, holder_version), About(CARD, card.pk))
        identity = [card.format_id, card.facility_code, card.card_number]
        changes = {"card": (str(card), str(card))} | dict(changes_between(before, after))
        return Act(action, about, changes, {"identity": (identity, identity)})

    for identity, card in had.items():
        if identity not in wanted:
            before = card.status
            card.holder_id, card.status = None, given_up(CardStatus(before))
            card.save(update_fields=["holder", "status"])
            action = "card.returned" if card.status in FREE else "card.given_up"
            acts.append(act(action, card, {"status": before}, {"status": card.status}))
    for identity, draft in wanted.items():
        after = draft.kept()
        if identity in had:
            card = had[identity]
            before_all = {name: getattr(card, name) for name in after}
            if before_all == after:
                continue
            _write(card, holder_id, draft, at)
            acts.append(act("card.changed", card, before_all, after))
        else:
            format_id, facility_code, card_number = identity
            card = Card.objects.filter(
                format_id=format_id, facility_code=facility_code, card_number=card_number
            ).first() or Card(
                format_id=format_id, facility_code=facility_code, card_number=card_number
            )
            before_status = card.status or None
            card.use_limit = None  # what it was used by whoever had it before is not counted
            _write(card, holder_id, draft, at)
            said = {name: value for name, value in after.items() if value not in (None, "", False)}
            acts.append(act("card.issued", card, {"status": before_status}, said))
    return acts


def _write(card: Card, holder_id: int, draft: CardDraft, at: datetime) -> None:
    """Write a card. Its uses are counted from when it got a limit, or another one."""
    if card.use_limit != draft.use_limit or not draft.use_limit:
        card.counted_from, card.used = at if draft.use_limit else None, 0
        if card.pk:
            CardUse.objects.filter(card=card).delete()
    card.holder_id = holder_id
    for name, value in draft.kept().items():
        setattr(card, name, value)
    card.save()
