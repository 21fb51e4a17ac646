"""A cardholder with everything that is theirs, as an operator wants it, and what doors would make of it."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import NamedTuple

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.plan import holder_of
from cadrin.biometrics.drafts import BiometricDraft
from cadrin.core.access.plan import Holder
from cadrin.core.access.plan import Membership as CoreMembership
from cadrin.core.credentials.card.card import Card as CoreCard
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.use_limit import UseLimit
from cadrin.core.credentials.pin.pin import Pin as CorePin
from cadrin.core.credentials.pin.rule import OwnNumbers
from cadrin.core.credentials.plate.plate import Plate as CorePlate
from cadrin.core.people.details import Details
from cadrin.core.people.names import NameRule
from cadrin.core.schedules import problems_with_hours
from cadrin.credentials.card_draft import CardDraft, schedule_of_card
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.plates import tidy_plates
from cadrin.photos.commands import SLOTS, Tokens

NOT_COUNTED_YET = datetime.fromtimestamp(0, UTC)
Limits = Mapping[tuple[int, int, int], UseLimit]


@dataclass(frozen=True, slots=True)
class CardholderDraft:
    """A cardholder's file as an operator wants it. ``version`` is the one it was read at; 0 for a
    new one.
    """

    details: Details
    cards: tuple[CardDraft, ...] = ()
    memberships: tuple[MembershipDraft, ...] = ()
    version: int = 0
    images: Tokens = (None,) * SLOTS
    pins: tuple[PinDraft, ...] = ()
    plates: tuple[str, ...] = ()
    biometrics: BiometricDraft | None = None
    """Consents, fingers and being let in by card alone; None leaves them as they are."""

    @property
    def own_numbers(self) -> OwnNumbers:
        """Return what somebody who knows the cardholder would try as a PIN."""
        cards = (f"{card.card_number}" for card in self.cards)
        joined = (f"{card.facility_code}{card.card_number:05}" for card in self.cards)
        return OwnNumbers(self.details.born_on, (self.details.number, *cards, *joined))

    def holder(self, id_: int, names: NameRule, limits: Limits | None = None) -> Holder:
        """Return what doors would make of it; ``limits`` are the use limits that are counted
        already, by card.
        """
        return holder_of(
            id_,
            self.details,
            self.details.shown(names),
            (_core_card(card, (limits or {}).get(card.identity)) for card in self.cards),
            (
                CoreMembership(membership.group_id, membership.span)
                for membership in self.memberships
            ),
            # a PIN that is not saved yet has no hash, and none is needed to see which doors it
            # opens
            (CorePin(draft.id or 0, "", draft.opens_alone) for draft in self.pins),
            map(CorePlate, tidy_plates(self.plates)),
        )


class Wanted(NamedTuple):
    """A cardholder as an operator wants them; ``cardholder_id`` is None for a new one.

    One who ``gets_number`` is given the next free one.
    """

    cardholder_id: int | None
    draft: CardholderDraft
    gets_number: bool = False

    @property
    def holder_id(self) -> int:
        return self.cardholder_id or 0


def _core_card(draft: CardDraft, limit: UseLimit | None) -> CoreCard:
    kept = draft.kept()
    return CoreCard(
        CardKey(*draft.identity),
        draft.status,
        draft.span,
        kept["suspended_until"],
        schedule_of_card(kept["hours"]) if not problems_with_hours(draft.hours) else None,
        _use_limit(draft, limit),
        draft.is_watched,
        draft.issue_level,
    )


def _use_limit(draft: CardDraft, known: UseLimit | None) -> UseLimit | None:
    """Return the limit as it is counted already; a new one, or another, counts from when it is
    saved.
    """
    if known and known.most == draft.use_limit:
        return known
    return UseLimit(draft.use_limit, NOT_COUNTED_YET) if draft.use_limit else None
