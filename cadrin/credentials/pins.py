"""Set, make up and remove the PINs of cardholders. The digits are sealed; nothing that is written
shows them.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from enum import StrEnum
from hmac import compare_digest
from typing import Any, NamedTuple

from django.db.models import Q

from cadrin.core.credentials.pin.duplicates import PinInUse, mistaken_for_another, not_anothers
from cadrin.core.credentials.pin.generation import generate
from cadrin.core.credentials.pin.hashing import keyed_hash
from cadrin.core.credentials.pin.rule import OwnNumbers, PinRule, problems_with_pin
from cadrin.core.errors import Problem
from cadrin.core.texts import has_invisible
from cadrin.core.validity import ALWAYS, Span
from cadrin.credentials.letters import can_mail, cancel_letters_with
from cadrin.credentials.models import LONGEST_LABEL, FormerPin, Pin
from cadrin.credentials.settings import has_pin_keys, pin_keys, pin_rule
from cadrin.journal.commands import Act, changes_between
from cadrin.operators.sealing import seal, unseal
from cadrin.people.commands.parts import Part, holders_before

MOST_PINS = 10


@dataclass(frozen=True, slots=True)
class PinDraft:
    """A PIN as an operator wants a cardholder to have it; ``id`` is None for a new one.

    Without ``entry`` the one that is there stays. ``again`` is what was typed the second time.
    ``is_generated`` asks the house to make one up, ``is_mailed`` to send it to the cardholder
    instead of showing it.
    """

    id: int | None = None
    label: str = ""
    opens_alone: bool = False
    entry: str = ""
    again: str = ""
    is_generated: bool = False
    is_mailed: bool = False
    was_generated: bool = False

    @property
    def is_new(self) -> bool:
        return bool(self.entry) or self.is_generated

    def kept(self) -> dict[str, Any]:
        """Return everything but the digits, by the names of the columns it is kept in."""
        return {"label": self.label.strip(), "opens_alone": self.opens_alone}


class PinsWanted(NamedTuple):
    """PINs as a cardholder shall have them, and what is known of whoever they are for.

    ``holder_id`` is 0 for a new one; ``own`` is what nobody's PIN may be.
    """

    holder_id: int
    drafts: tuple[PinDraft, ...]
    own: OwnNumbers
    email: str


def pins_of(holder_ids: Iterable[int]) -> dict[int, list[Pin]]:
    """Return the PINs of cardholders, oldest first."""
    found: dict[int, list[Pin]] = {id_: [] for id_ in holder_ids}
    for pin in Pin.objects.filter(holder_id__in=found).order_by("id"):
        found[pin.holder_id].append(pin)
    return found


class Judged(StrEnum):
    """How far the digits of a PIN are judged: saying more to more people would let them find out
    anybody's PIN.
    """

    NOT_AT_ALL = "not_at_all"  # for whoever may not issue PINs
    BY_THE_RULE = "by_the_rule"  # before saving
    AMONG_ALL = "among_all"  # on saving, where tries are counted


CHOOSE_ANOTHER = "pin.choose_another"
"""All that is ever said of a PIN that somebody has or had: not whose, and not which of both."""


def problems_with_pins(wanted: Sequence[PinsWanted], judged: Judged) -> list[tuple[Problem, ...]]:
    """Return everything against each cardholder having these PINs, each beside its field."""
    if not any(one.drafts for one in wanted):
        return [()] * len(wanted)
    judging = _Judging(pin_rule(), judged, pins_of(one.holder_id for one in wanted), wanted)
    return [tuple(_problems_with_pins_of(one, judging)) for one in wanted]


class _Judging(NamedTuple):
    """What PINs are judged by: ``wanted`` are all that are saved together."""

    rule: PinRule
    judged: Judged
    known: Mapping[int, Sequence[Pin]]
    wanted: Sequence[PinsWanted]


def _problems_with_pins_of(wanted: PinsWanted, by: _Judging) -> Iterable[Problem]:
    if len(wanted.drafts) > MOST_PINS:
        yield Problem("pin.too_many", "pins", {"most": MOST_PINS})
    known = {pin.pk: pin for pin in by.known[wanted.holder_id]}
    for place, draft in enumerate(wanted.drafts):
        here = [*_problems_with_terms(draft, known, wanted.email)]
        if draft.entry and by.judged is not Judged.NOT_AT_ALL:
            here += _problems_with_entry(draft, by.rule, wanted.own)
        if by.judged is Judged.AMONG_ALL and _is_to_be_another(draft, wanted, known, by):
            here.append(Problem(CHOOSE_ANOTHER, "entry"))
        for problem in here:
            yield problem.under(f"pins.{place}")


def _problems_with_terms(
    draft: PinDraft, known: Mapping[int, Pin], email: str
) -> Iterable[Problem]:
    if len(draft.label) > LONGEST_LABEL:
        yield Problem("input.too_long", "label", {"most": LONGEST_LABEL})
    if has_invisible(draft.label):
        yield Problem("input.invisible_characters", "label")
    if draft.id is not None and draft.id not in known:
        yield Problem("input.no_longer_there", "entry")
    elif draft.id is None and not draft.is_new:
        yield Problem("pin.missing", "entry")
    if draft.is_mailed and draft.is_new and not email.strip():
        yield Problem("pin.no_email", "is_mailed")
    if draft.is_mailed and draft.is_new and not can_mail():
        yield Problem("pin.no_mail_server", "is_mailed")


def _problems_with_entry(draft: PinDraft, rule: PinRule, own: OwnNumbers) -> Iterable[Problem]:
    for problem in problems_with_pin(draft.entry, rule, own):
        yield problem.under("entry")
    if not compare_digest(draft.again.encode(), draft.entry.encode()):
        yield Problem("pin.differs", "again")


def _is_to_be_another(
    draft: PinDraft, wanted: PinsWanted, known: Mapping[int, Pin], by: _Judging
) -> bool:
    """Say whether somebody has or had this PIN, so that another one is to be chosen."""
    if draft.entry:
        return (
            _is_wanted_beside(draft, wanted, by)
            or _is_known_already(draft, wanted.holder_id, by.rule)
            or _was_had_lately(draft.entry, wanted.holder_id, by.rule)
        )
    before = known.get(draft.id or 0)
    begins_to_open_alone = draft.opens_alone and before and not before.opens_alone
    if not before or not begins_to_open_alone or by.rule.is_unique:
        return False
    digits = unseal(before.sealed)
    return _is_known_already(PinDraft(draft.id, "", True, digits), wanted.holder_id, by.rule)


def _is_wanted_beside(draft: PinDraft, wanted: PinsWanted, by: _Judging) -> bool:
    """Say whether a PIN that is saved by the same act could be taken for this one."""
    alike = not_anothers(draft.entry, by.rule)
    return any(
        other.entry in alike
        and (whose is wanted or by.rule.is_unique or draft.opens_alone or other.opens_alone)
        for whose in by.wanted
        for other in whose.drafts
        if other is not draft
    )


def _is_known_already(draft: PinDraft, holder_id: int, rule: PinRule) -> bool:
    if not has_pin_keys():  # and so no PIN
        return False
    key = pin_keys().own
    hashes = [keyed_hash(key, pin) for pin in not_anothers(draft.entry, rule)]
    others = Pin.objects.filter(own_hash__in=hashes).exclude(pk=draft.id or 0)
    # what doors could take it for, as `mistaken_for_another` says
    if not rule.is_unique and not draft.opens_alone:
        others = others.filter(Q(holder_id=holder_id) | Q(opens_alone=True))
    return others.exists()


def mistaken_by(rule: PinRule) -> tuple[PinInUse, ...]:
    """Return the PINs that doors would take for another one if this were the rule, oldest first."""
    pins = Pin.objects.order_by("id").values_list("id", "holder_id", "sealed", "opens_alone")
    return mistaken_for_another(
        (PinInUse(id_, who, unseal(kept), alone) for id_, who, kept, alone in pins), rule
    )


def _was_had_lately(digits: str, holder_id: int, rule: PinRule) -> bool:
    if not rule.remembered or not has_pin_keys():
        return False
    own_hash = keyed_hash(pin_keys().own, digits)
    former = (
        FormerPin.objects.filter(holder_id=holder_id)
        .order_by("-id")
        .values_list("own_hash", flat=True)
    )
    present = Pin.objects.filter(holder_id=holder_id, own_hash=own_hash)
    return own_hash in former[: rule.remembered] or present.exists()


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
