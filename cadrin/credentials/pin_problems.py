"""Everything against cardholders having these PINs.

Saying more to more people would let them find out anybody's PIN.
"""

from collections.abc import Iterable, Mapping, Sequence
from enum import StrEnum
from hmac import compare_digest
from typing import NamedTuple

from django.db.models import Q

from cadrin.core.credentials.pin.duplicates import PinInUse, mistaken_for_another, not_anothers
from cadrin.core.credentials.pin.hashing import keyed_hash
from cadrin.core.credentials.pin.rule import OwnNumbers, PinRule, problems_with_pin
from cadrin.core.errors import Problem
from cadrin.core.texts import has_invisible
from cadrin.credentials.letters import can_mail
from cadrin.credentials.models import LONGEST_LABEL, FormerPin, Pin
from cadrin.credentials.pin_draft import MOST_PINS, PinDraft
from cadrin.credentials.pins import pins_of
from cadrin.credentials.settings import has_pin_keys, pin_keys, pin_rule
from cadrin.operators.sealing import unseal


class PinsWanted(NamedTuple):
    """PINs as a cardholder shall have them, and what is known of whoever they are for.

    ``holder_id`` is 0 for a new one; ``own`` is what nobody's PIN may be.
    """

    holder_id: int
    drafts: tuple[PinDraft, ...]
    own: OwnNumbers
    email: str


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
    if not any(item.drafts for item in wanted):
        return [()] * len(wanted)
    judging = _Judging(pin_rule(), judged, pins_of(item.holder_id for item in wanted), wanted)
    return [tuple(_problems_with_pins_of(item, judging)) for item in wanted]


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
