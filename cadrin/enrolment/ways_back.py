"""How each act on a cardholder is taken back: what their file was before it.

Each raises Invalid where something later stands against it.
"""

from collections.abc import Callable, Mapping
from dataclasses import replace
from datetime import date, datetime
from typing import Any

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.errors import Invalid
from cadrin.core.people.details import Details
from cadrin.core.schedules import Hours
from cadrin.core.undo import Changes, as_before
from cadrin.core.validity import Standing
from cadrin.credentials.card_draft import CardDraft, draft_of
from cadrin.credentials.queries import find_card
from cadrin.enrolment.draft import CardholderDraft
from cadrin.people.commands.details import as_kept

INSTANTS = ("suspended_until", "activation_at", "expiry_at")


def _changed_since(*fields: str) -> Invalid:
    return Invalid.of("journal.changed_since", None, fields=", ".join(fields))


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date) else value


def _details(file: CardholderDraft, changes: Changes) -> CardholderDraft:
    now = {name: _plain(value) for name, value in as_kept(file.details).items()}
    # words for people stand beside the ids that are kept; a field that was empty is not among the
    # own ones
    kept = {name: pair for name, pair in changes.items() if name in now or name.startswith("own.")}
    values, since = as_before(now, kept)
    if since:
        raise _changed_since(*since)
    own = {
        int(name[4:]): value for name, value in values.items() if name.startswith("own.") and value
    }
    plain = {name: value for name, value in values.items() if not name.startswith("own.")}
    for name in INSTANTS:
        plain[name] = datetime.fromisoformat(plain[name]) if plain[name] else None
    plain["born_on"] = date.fromisoformat(plain["born_on"]) if plain["born_on"] else None
    plain |= {
        "standing": Standing(plain["standing"]),
        "phones": tuple(plain["phones"] or ()),
        "own": own,
    }
    return replace(file, details=Details(**plain))


def _instant(pair: tuple[Any, Any] | None, which: int) -> datetime | None:
    written = pair[which] if pair else None
    return datetime.fromisoformat(written) if written else None


def _membership(changes: Changes, which: int) -> MembershipDraft:
    start, end = (_instant(changes.get(field), which) for field in ("activation_at", "expiry_at"))
    by_rule = changes.get("is_by_rule", (False, False))[which] or False
    return MembershipDraft(changes["group_id"][0], start, end, by_rule)


def _without_membership(file: CardholderDraft, changes: Changes) -> CardholderDraft:
    added = _membership(changes, 1)
    if added not in file.memberships:
        raise _changed_since("group")
    return replace(
        file,
        memberships=tuple(membership for membership in file.memberships if membership != added),
    )


def _with_membership(file: CardholderDraft, changes: Changes) -> CardholderDraft:
    removed = _membership(changes, 0)
    if any(membership.group_id == removed.group_id for membership in file.memberships):
        raise _changed_since("group")
    return replace(file, memberships=(*file.memberships, removed))


def _membership_as_before(file: CardholderDraft, changes: Changes) -> CardholderDraft:
    group_id = changes["group_id"][0]
    now = next(
        (membership for membership in file.memberships if membership.group_id == group_id), None
    )
    if now is None or any(
        _plain(getattr(now, field)) != pair[1]
        for field, pair in changes.items()
        if field in INSTANTS
    ):
        raise _changed_since("group")
    spans: dict[str, Any] = {
        field: _instant(pair, 0) for field, pair in changes.items() if field in INSTANTS
    }
    before = replace(now, **spans)
    return replace(
        file,
        memberships=tuple(
            before if membership == now else membership for membership in file.memberships
        ),
    )


def _card_in(file: CardholderDraft, changes: Changes) -> CardDraft | None:
    identity = tuple(changes["identity"][0])
    return next((card for card in file.cards if card.identity == identity), None)


def _without_card(file: CardholderDraft, changes: Changes) -> CardholderDraft:
    card = _card_in(file, changes)
    if card is None or card.status.value != changes["status"][1]:
        raise _changed_since("card")
    return replace(file, cards=tuple(item for item in file.cards if item != card))


def _with_card(file: CardholderDraft, changes: Changes) -> CardholderDraft:
    format_id, facility_code, number = changes["identity"][0]
    card = find_card(CardKey(format_id, facility_code, number))
    if card is None or card.holder_id is not None:
        raise _changed_since("card")
    status = changes["status"][0] if "status" in changes else card.status
    back = replace(draft_of(card), status=CardStatus(status))
    return replace(file, cards=(*file.cards, back))


def _card_as_before(file: CardholderDraft, changes: Changes) -> CardholderDraft:
    card = _card_in(file, changes)
    now = card.kept() if card else {}
    fields = {field: pair for field, pair in changes.items() if field in now}
    if card is None or any(_plain(now[field]) != after for field, (_, after) in fields.items()):
        raise _changed_since("card")
    before: dict[str, Any] = {
        field: _instant(pair, 0) if field in INSTANTS else pair[0] for field, pair in fields.items()
    }
    if "status" in before:
        before["status"] = CardStatus(before["status"])
    if "hours" in before:
        kept = before["hours"] or {"zone": card.zone, "hours": []}
        before |= {"zone": kept["zone"], "hours": tuple(Hours(*window) for window in kept["hours"])}
    return replace(
        file, cards=tuple(replace(item, **before) if item == card else item for item in file.cards)
    )


def _image_as_before(file: CardholderDraft, changes: Changes) -> CardholderDraft:
    images = list(file.images)
    for field, (before, after) in changes.items():
        name, _, slot = field.partition(".")
        if name == "image" and slot:
            if images[int(slot)] != after:
                raise _changed_since("image")
            images[int(slot)] = before
    return replace(file, images=tuple(images))


def _without_plate(file: CardholderDraft, changes: Changes) -> CardholderDraft:
    added = changes["plate"][1]
    if added not in file.plates:
        raise _changed_since("plate")
    return replace(file, plates=tuple(plate for plate in file.plates if plate != added))


def _with_plate(file: CardholderDraft, changes: Changes) -> CardholderDraft:
    removed = changes["plate"][0]
    if removed in file.plates:
        raise _changed_since("plate")
    return replace(file, plates=(*file.plates, removed))


WAYS_BACK: Mapping[str, Callable[[CardholderDraft, Changes], CardholderDraft]] = {
    "cardholder.changed": _details,
    "membership.added": _without_membership,
    "membership.removed": _with_membership,
    "membership.changed": _membership_as_before,
    "card.issued": _without_card,
    "card.returned": _with_card,
    "card.given_up": _with_card,
    "card.changed": _card_as_before,
    "plate.added": _without_plate,
    "plate.removed": _with_plate,
    "photo.added": _image_as_before,
    "photo.changed": _image_as_before,
    "photo.removed": _image_as_before,
}
