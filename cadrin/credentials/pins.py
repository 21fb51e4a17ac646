"""Set, make up and remove the PINs of cardholders. The digits are sealed; nothing that is written
shows them.
"""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import datetime, timedelta
from hmac import compare_digest

from cadrin.config.database.reading import IDS, ObjectsByIds
from cadrin.core.credentials.pin.duplicates import not_anothers
from cadrin.core.credentials.pin.generation import generate
from cadrin.core.credentials.pin.hashing import keyed_hash
from cadrin.core.credentials.pin.rule import OwnNumbers, PinRule
from cadrin.core.validity import ALWAYS, Span
from cadrin.credentials.letters import cancel_letters_with
from cadrin.credentials.models import FormerPin, Pin
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.settings import pin_keys, pin_rule
from cadrin.journal.commands import Act, changes_between
from cadrin.operators.sealing import seal
from cadrin.people.commands.parts import Part, holders_before

_pins = ObjectsByIds(Pin, lambda: Pin.objects.filter(holder_id__among=IDS).order_by("id"))


def pins_of(holder_ids: Iterable[int]) -> dict[int, list[Pin]]:
    """Return the PINs of cardholders, oldest first."""
    found: dict[int, list[Pin]] = {id_: [] for id_ in holder_ids}
    for pin in _pins(found):
        found[pin.holder_id].append(pin)
    return found


def with_generated(
    wanted: Sequence[tuple[Sequence[PinDraft], OwnNumbers]],
) -> list[tuple[PinDraft, ...]]:
    """Return the PINs of each with digits for those that are to be generated. The caller holds the
    transaction.
    """
    rule, key = pin_rule(), pin_keys().own
    taken = {
        alike
        for drafts, _ in wanted
        for draft in drafts
        if draft.entry
        for alike in not_anothers(draft.entry, rule)
    }

    def is_taken(pin: str) -> bool:
        hashes = [keyed_hash(key, alike) for alike in not_anothers(pin, rule)]
        return pin in taken or Pin.objects.filter(own_hash__in=hashes).exists()

    def generated(draft: PinDraft, own: OwnNumbers) -> PinDraft:
        if not draft.is_generated:
            return draft
        digits = generate(rule, is_taken, own)
        taken.update(not_anothers(digits, rule))
        return replace(draft, entry=digits, again=digits, is_generated=False, was_generated=True)

    return [tuple(generated(draft, own) for draft in drafts) for drafts, own in wanted]


def set_pins(parts: Sequence[Part[PinDraft]], at: datetime) -> list[Act]:
    """Make the PINs of each cardholder these; one that is missing is removed. Gives the acts for
    the journal.

    The caller holds the transaction and has checked `problems_with_pins`.
    """
    had = pins_of(holders_before(parts))
    acts: list[Act] = []
    new: list[Pin] = []
    for part in parts:
        kept = {draft.id for draft in part.wanted}
        for pin in had.get(part.holder_id, ()):
            if pin.pk not in kept:
                acts.append(_remove(part, pin, at))
        known = {pin.pk: pin for pin in had.get(part.holder_id, ())}
        for draft in part.wanted:
            if draft.id is None:
                new.append(_new_pin(part, draft, at))
                acts.append(Act("pin.set", (part.about,), dict(changes_between({}, draft.kept()))))
            else:
                acts += _change(part, known[draft.id], draft, at)
    Pin.objects.bulk_create(new)
    return acts


def _remove(part: Part[PinDraft], pin: Pin, at: datetime) -> Act:
    _remember(pin, at)
    cancel_letters_with(pin, at)
    pin.delete()
    return Act("pin.removed", (part.about,), {"label": (pin.label, None)})


def _new_pin(part: Part[PinDraft], draft: PinDraft, at: datetime) -> Pin:
    pin = Pin(holder_id=part.holder_id, **draft.kept())
    _put_digits(pin, draft.entry, at)
    return pin


def _change(part: Part[PinDraft], pin: Pin, draft: PinDraft, at: datetime) -> Iterable[Act]:
    before = {"label": pin.label, "opens_alone": pin.opens_alone}
    if not draft.entry and before == draft.kept():
        return
    if draft.entry:
        _remember(pin, at)
        cancel_letters_with(pin, at)
        _put_digits(pin, draft.entry, at)
    pin.label, pin.opens_alone = draft.label.strip(), draft.opens_alone
    pin.save()
    action = "pin.replaced" if draft.entry else "pin.changed"
    yield Act(action, (part.about,), dict(changes_between(before, draft.kept())))


def _put_digits(pin: Pin, digits: str, at: datetime) -> None:
    keys, rule = pin_keys(), pin_rule()
    pin.sealed = seal(digits)
    pin.own_hash, pin.door_hash = keyed_hash(keys.own, digits), keyed_hash(keys.doors, digits)
    pin.set_at = at
    pin.expiry_at = term_of_new(rule, at).end


def term_of_new(rule: PinRule, at: datetime) -> Span:
    """Return how long a PIN works that is set now: to the second, as doors know it."""
    return (
        Span(None, at.replace(microsecond=0) + timedelta(days=rule.holds_days))
        if rule.holds_days
        else ALWAYS
    )


def has_digits(pin: Pin, digits: str) -> bool:
    """Say whether these are the digits of a PIN."""
    return compare_digest(pin.own_hash, keyed_hash(pin_keys().own, digits))


def _remember(pin: Pin, at: datetime) -> None:
    FormerPin.objects.create(holder_id=pin.holder_id, own_hash=pin.own_hash, ended_at=at)
