"""The one writer of cardholders: whatever an act makes of them goes through here.

Many cost little more than their rows: each part of all of them is written together.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

import orjson

from cadrin.access.commands.memberships import MembershipDraft, set_memberships
from cadrin.biometrics.commands import (
    forget_templates,
    note_departures,
    set_biometrics,
    withdraw_consents,
)
from cadrin.biometrics.drafts import BiometricDraft
from cadrin.core.people.details import Details
from cadrin.core.people.names import terms_of_cards
from cadrin.core.records.reaching import may_reach_doors
from cadrin.core.validity import Standing
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.commands.cards import set_cards
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.pins import set_pins
from cadrin.credentials.plates import set_plates
from cadrin.enrolment.ruled import settle
from cadrin.journal.commands import About, Act, record, take_rights_away
from cadrin.operators.actor import Actor
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.people.commands.cardholders import move_versions
from cadrin.people.commands.details import write_details
from cadrin.people.commands.parts import CARDHOLDER, Part, T
from cadrin.people.commands.terms import CARD, set_terms
from cadrin.people.queries import rules
from cadrin.photos.commands import Tokens, set_images

if TYPE_CHECKING:
    from cadrin.people.models import Cardholder


MOST_IN_ONE_ENTRY = 300
"""Cardholders that one entry of the journal is about at most, when the same happened to them."""


@dataclass(frozen=True, slots=True)
class Writing:
    """What is to be written of a new or locked cardholder; a part that is None stays as it is."""

    cardholder: Cardholder
    details: Details | None = None
    images: Tokens | None = None
    cards: tuple[CardDraft, ...] | None = None
    pins: tuple[PinDraft, ...] | None = None
    plates: tuple[str, ...] | None = None
    memberships: tuple[MembershipDraft, ...] | None = None
    biometrics: BiometricDraft | None = None
    withdrawn_consents: tuple[int, ...] | None = None
    forgets_templates: bool = False


def write(
    actor: Actor, writings: Sequence[Writing], at: datetime, also_about: tuple[About, ...] = ()
) -> list[Act]:
    """Write cardholders, their journal and what is to be delivered of it, and return the acts.

    A cardholder of whom nothing differs is left alone: no new version, no entry, no mark. The
    caller holds the transaction, has locked the cardholders and judged what is wanted.
    ``also_about`` is what each entry is about beside its cardholders.
    """
    writings = settle(writings)
    details = [
        (writing.cardholder, writing.details) for writing in writings if writing.details is not None
    ]
    acts = write_details(details, rules())
    acts += set_images(_parts(writings, lambda item: item.images))
    cards = _parts(writings, lambda item: item.cards)
    card_acts = set_cards(cards, at)
    acts += card_acts
    acts += set_pins(_parts(writings, lambda item: item.pins), at)
    acts += set_plates(_parts(writings, lambda item: item.plates))
    acts += set_memberships(_parts(writings, lambda item: item.memberships))
    acts += _write_biometrics(actor, writings, acts, at)
    changed = _cardholders_of(acts)
    move_versions(changed)
    with_other_cards = _cardholders_of(card_acts)
    set_terms(
        CARD,
        {
            part.holder_id: terms_of_cards(
                (card.facility_code, card.card_number) for card in part.wanted
            )
            for part in cards
            if part.holder_id in with_other_cards
        },
    )
    record(actor, at, _together(acts, also_about))
    _mark(acts)
    return acts


def _write_biometrics(
    actor: Actor, writings: Sequence[Writing], acts: Sequence[Act], at: datetime
) -> list[Act]:
    """Write fingers and consents; whoever departs, or withdraws their consent, loses templates in
    the same act.
    """
    standings = {
        about.object_id: act.changes["standing"][1]
        for act in acts
        if "standing" in act.changes
        for about in act.about
        if about.kind == CARDHOLDER
    }
    departed = {id_ for id_, standing in standings.items() if standing == Standing.DEPARTED}
    note_departures(departed, standings.keys() - departed, at)
    done = set_biometrics(
        actor, _parts(writings, lambda item: (item.biometrics,) if item.biometrics else None), at
    )
    done += withdraw_consents(_parts(writings, lambda item: item.withdrawn_consents), at)
    losing = [
        Part[None](writing.cardholder.pk, (), writing.cardholder.version + 1)
        for writing in writings
        if writing.withdrawn_consents
        or writing.forgets_templates
        or writing.cardholder.pk in departed
    ]
    return done + (forget_templates(losing, at) if losing else [])


def _mark(acts: Sequence[Act]) -> None:
    withdrawn = _cardholders_of(act for act in acts if take_rights_away([act]))
    reaching = _cardholders_of(act for act in acts if may_reach_doors(act.action, act.changes))
    mark_for_delivery(Subject.CARDHOLDER, withdrawn, is_withdrawal=True)
    mark_for_delivery(Subject.CARDHOLDER, reaching - withdrawn)


def _parts(
    writings: Sequence[Writing], part: Callable[[Writing], tuple[T, ...] | None]
) -> list[Part[T]]:
    return [
        Part(writing.cardholder.pk, wanted, writing.cardholder.version + 1)
        for writing in writings
        if (wanted := part(writing)) is not None
    ]


def _cardholders_of(acts: Iterable[Act]) -> set[int]:
    return {about.object_id for act in acts for about in act.about if about.kind == CARDHOLDER}


def _together(acts: Iterable[Act], also_about: tuple[About, ...]) -> Iterable[Act]:
    """Join acts that did the same to several cardholders into one entry about all of them."""
    alike: dict[bytes, list[Act]] = {}
    for act in acts:
        others = [[*about] for about in act.about if about.kind != CARDHOLDER]
        key = orjson.dumps([act.action, act.changes, act.raw, others])
        alike.setdefault(key, []).append(act)
    for same in alike.values():
        for start in range(0, len(same), MOST_IN_ONE_ENTRY):
            yield _joined(same[start : start + MOST_IN_ONE_ENTRY], also_about)


def _joined(same: Sequence[Act], also_about: tuple[About, ...]) -> Act:
    people = (about for act in same for about in act.about if about.kind == CARDHOLDER)
    others = (about for about in same[0].about if about.kind != CARDHOLDER)
    return same[0]._replace(about=(*people, *others, *also_about))
