"""Cardholders as they were, by taking back what the journal tells of them since."""

from collections.abc import Iterable
from dataclasses import replace
from datetime import datetime

from cadrin.access.plan import holders
from cadrin.core.access.plan import Holder
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.errors import Invalid
from cadrin.core.schedules import Hours
from cadrin.core.undo import Changes
from cadrin.credentials.card_draft import CardDraft
from cadrin.enrolment.draft import CardholderDraft, Limits
from cadrin.enrolment.queries import stored_cardholders
from cadrin.enrolment.ways_back import INSTANTS, WAYS_BACK
from cadrin.journal.queries import Told, told_since
from cadrin.people.commands.parts import CARDHOLDER
from cadrin.people.queries import cardholders_there, rules

_OF_DETAILS = (
    "number",
    "standing",
    "activation_at",
    "expiry_at",
    "suspended_until",
    "extended_time",
)
"""The details that doors ask for."""
_AS_NOW = {
    "pin": "pins",
    "finger": "biometrics",
    "face": "biometrics",
    "consent": "biometrics",
    "card_alone": "biometrics",
}
"""What is taken to have been as it is now, by how the acts begin that say that it was not."""

_NOT_TOLD_ANY_MORE = frozenset({"cardholder.merged", "cardholder.erased"})
"""What is told of two cannot be told apart, and of who was erased nothing is left."""


def holders_then(ids: Iterable[int], at: datetime) -> tuple[dict[int, Holder], frozenset[str]]:
    """Return cardholders as doors saw them at an instant, without those who were not there yet, and
    what was changed since and is taken to have been as it is now.
    """
    wanted = list(ids)
    now, register_rules = holders(wanted), rules()
    told: dict[int, list[Told]] = {}
    for one in told_since(CARDHOLDER, at, wanted):
        told.setdefault(one.object_id, []).append(one)
    files = stored_cardholders(cardholders_there(told), register_rules)
    unknown: set[str] = set()
    for id_, acts in told.items():
        if any(one.action in _NOT_TOLD_ANY_MORE for one in acts):
            unknown.add("people")
            continue
        file: CardholderDraft | None = files.get(id_)
        if file is None or any(one.action == "cardholder.enrolled" for one in acts):
            now.pop(id_, None)
            continue
        for one in acts:
            kind, _, _ = one.action.partition(".")
            if kind in _AS_NOW:
                unknown.add(_AS_NOW[kind])
            try:
                file = _before(file, one)
            except (Invalid, KeyError):
                unknown.add("cards" if kind == "card" else "people")
        limits: Limits = {card.key: card.limit for card in now[id_].cards if card.limit}
        then = file.holder(id_, register_rules.names, limits)
        had = now[id_]
        now[id_] = replace(
            then, pins=had.pins, fingers=had.fingers, faces=had.faces,
            card_alone=had.card_alone, consents=had.consents,
        )  # fmt: skip
    return now, frozenset(unknown)


def _before(file: CardholderDraft, told: Told) -> CardholderDraft:
    """Return a file as it was before an act, as far as doors are concerned. Raises Invalid, or KeyError
    where the entry does not say enough.
    """
    changes: Changes = told.changes | told.raw
    match told.action:
        case "cardholder.changed":
            changes = {name: pair for name, pair in changes.items() if name in _OF_DETAILS}
        case "card.returned" | "card.given_up" if "kept" in changes:
            return replace(file, cards=(*file.cards, _given_up(changes)))
        case action if action.startswith("photo."):
            return file
    way_back = WAYS_BACK.get(told.action)
    return file if way_back is None else way_back(file, changes)


def _given_up(changes: Changes) -> CardDraft:
    """Return a card as it was when it was given up; whoever has it now may have other dates."""
    kept = dict(changes["kept"][0])
    status = CardStatus(changes["status"][0] if "status" in changes else kept["status"])
    hours = kept.pop("hours") or {"zone": "UTC", "hours": []}
    format_id, facility_code, number = changes["identity"][0]
    for name in INSTANTS:
        kept[name] = datetime.fromisoformat(kept[name]) if kept[name] else None
    kept["status"] = status
    return CardDraft(
        format_id,
        facility_code,
        number,
        **kept,
        hours=tuple(Hours(*window) for window in hours["hours"]),
        zone=hours["zone"],
    )
