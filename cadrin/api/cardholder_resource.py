"""From a cardholder to what scripts see, and back."""

from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Any

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.core.errors import NotFound
from cadrin.core.people.details import Details
from cadrin.core.validity import Standing
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.queries import card_ids_of
from cadrin.enrolment.commands.cardholders import ShownPin
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import drafts_for
from cadrin.enrolment.rest.shapes import card_draft, shown_card
from cadrin.operators.actor import Actor
from cadrin.people.commands.problems import CHOSEN
from cadrin.people.queries import get_cardholders, rules


def cardholders_out(actor: Actor, ids: Sequence[int]) -> list[dict[str, Any]]:
    """Return cardholders as far as the actor may see them, in order. Raises NotFound."""
    register_rules = rules()
    drafts, card_ids = drafts_for(actor, ids, register_rules), card_ids_of(ids)
    return [
        {
            "id": cardholder.pk,
            "version": cardholder.version,
            "display_name": cardholder.display_name,
            "is_erased": cardholder.erased_at is not None,
            "shown_pins": [],
            **_draft_out(drafts[cardholder.pk], card_ids),
        }
        for cardholder in get_cardholders(actor, ids)
    ]


def cardholder_out(actor: Actor, id_: int, shown_pins: Sequence[ShownPin] = ()) -> dict[str, Any]:
    """Return one cardholder, with the PINs that were generated just now. Raises NotFound."""
    (found,) = cardholders_out(actor, [id_])
    return found | {"shown_pins": [pin._asdict() for pin in shown_pins]}


def _draft_out(draft: CardholderDraft, card_ids: dict[tuple[int, int, int], int]) -> dict[str, Any]:
    details = asdict(draft.details)
    custom = details.pop("own")
    for name in CHOSEN:
        details[name] = details.pop(f"{name}_id")
    return details | {
        "phones": list(draft.details.phones),
        "custom_fields": {str(id_): value for id_, value in custom.items()},
        "cards": [{"id": card_ids.get(card.identity), **shown_card(card)} for card in draft.cards],
        "pins": [
            {"id": pin.id, "label": pin.label, "opens_alone": pin.opens_alone} for pin in draft.pins
        ],
        "plates": list(draft.plates),
        "memberships": [
            {"group": membership.group_id, **membership.kept()} for membership in draft.memberships
        ],
    }


def draft_in(values: dict[str, Any], now: CardholderDraft | None = None) -> CardholderDraft:
    """Return the cardholder that was sent; pictures stay as they are ``now``."""
    parts = ("version", "custom_fields", "cards", "pins", "plates", "memberships", *CHOSEN)
    plain = {name: value for name, value in values.items() if name not in parts}
    details = Details(
        **plain
        | {f"{name}_id": values[name] for name in CHOSEN}
        | {
            "standing": Standing(values["standing"]),
            "phones": tuple(values["phones"]),
            "own": {int(id_): value for id_, value in values["custom_fields"].items()},
        }
    )
    sent = CardholderDraft(
        details,
        tuple(map(card_draft, values["cards"])),
        tuple(MembershipDraft(**_with_id(row, "group")) for row in values["memberships"]),
        values["version"] or 0,
        pins=tuple(map(_pin_draft, values["pins"])),
        plates=tuple(values["plates"]),
    )
    return sent if now is None else replace(sent, images=now.images)


def _with_id(row: dict[str, Any], name: str) -> dict[str, Any]:
    return {f"{name}_id": row[name]} | {n: value for n, value in row.items() if n != name}


def _pin_draft(values: dict[str, Any]) -> PinDraft:
    rest = {name: value for name, value in values.items() if name != "digits"}
    return PinDraft(**rest, entry=values["digits"], again=values["digits"])


def field_out(field: str) -> str:
    """Return what a field of a draft is called in a cardholder.

    >>> field_out("pins.0.entry"), field_out("own.7"), field_out("cards.0.status")
    ('pins.0.digits', 'custom_fields.7', 'cards.0.status')
    """
    if field.startswith("pins.") and field.endswith((".entry", ".again")):
        return f"{field.rpartition('.')[0]}.digits"
    return f"custom_fields.{field[4:]}" if field.startswith("own.") else field


def draft_now(actor: Actor, id_: int) -> CardholderDraft:
    """Return a cardholder as they are, to be changed in part. Raises NotFound."""
    return drafts_for(actor, [id_], rules())[id_]


def with_card(draft: CardholderDraft, card: CardDraft) -> CardholderDraft:
    """Return a cardholder with one card more, or with another in place of the same one."""
    others = tuple(kept for kept in draft.cards if kept.identity != card.identity)
    is_known = len(others) < len(draft.cards)
    cards = (
        tuple(card if kept.identity == card.identity else kept for kept in draft.cards)
        if is_known
        else (*draft.cards, card)
    )
    return replace(draft, cards=cards)


def without_card(draft: CardholderDraft, identity: tuple[int, int, int]) -> CardholderDraft:
    """Return a cardholder without a card. Raises NotFound when it is not theirs."""
    others = tuple(card for card in draft.cards if card.identity != identity)
    if len(others) == len(draft.cards):
        raise NotFound.of("card.not_found")
    return replace(draft, cards=others)
