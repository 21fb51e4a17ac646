"""Set, make up and remove the PINs of cardholders. The digits are sealed; nothing that is written
shows them.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from enum import StrEnum
from hmac import compare_digest

from django.db.models import Q

from cadrin.core.credentials.pin.duplicates import PinInUse, mistaken_for_another, not_anothers
from cadrin.core.credentials.pin.generation import generate
from cadrin.core.credentials.pin.hashing import keyed_hash
from cadrin.core.credentials.pin.rule import NOTHING_KNOWN, OwnNumbers, PinRule, problems_with_pin
from cadrin.core.errors import Problem
from cadrin.core.texts import has_invisible
from cadrin.core.validity import ALWAYS, Span
from cadrin.credentials.letters import can_mail, cancel_letters_with
from cadrin.credentials.models import LONGEST_LABEL, FormerPin, Pin
from cadrin.credentials.settings import has_pin_keys, pin_keys, pin_rule
from cadrin.journal.commands import About, Act, changes_between
from cadrin.operators.sealing import seal, unseal

PIN = "pin"
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


def pins_of(holder_id: int) -> list[Pin]:
    return list(Pin.objects.filter(holder_id=holder_id).order_by("id"))


class Judged(StrEnum):
    """How far the digits of a PIN are judged: saying more to more people would let them find out
    anybody's PIN.
    """

    NOT_AT_ALL = "not_at_all"  # for whoever may not issue PINs
    BY_THE_RULE = "by_the_rule"  # before saving
    AMONG_ALL = "among_all"  # on saving, where tries are counted


CHOOSE_ANOTHER = "pin.choose_another"
"""All that is ever said of a PIN that somebody has or had: not whose, and not which of both."""


def problems_with_pins(
    drafts: Sequence[PinDraft], holder_id: int | None, own: OwnNumbers, email: str, judged: Judged
) -> tuple[Problem, ...]:
    """Return everything against a cardholder having these PINs, each beside its field."""
    if not drafts:
        return ()
    rule, known = pin_rule(), {pin.pk: pin for pin in pins_of(holder_id or 0)}
    problems = (
        [Problem("pin.too_many", "pins", {"most": MOST_PINS})] if len(drafts) > MOST_PINS else []
    )
    for place, draft in enumerate(drafts):
        here = (
            [Problem("input.too_long", "label", {"most": LONGEST_LABEL})]
            if len(draft.label) > LONGEST_LABEL
            else []
        )
        if has_invisible(draft.label):
            here.append(Problem("input.invisible_characters", "label"))
        if draft.id is not None and draft.id not in known:
            here.append(Problem("input.no_longer_there", "entry"))
        elif draft.id is None and not draft.is_new:
            here.append(Problem("pin.missing", "entry"))
        if draft.is_mailed and draft.is_new and not email.strip():
            here.append(Problem("pin.no_email", "is_mailed"))
        if draft.is_mailed and draft.is_new and not can_mail():
            here.append(Problem("pin.no_mail_server", "is_mailed"))
        if draft.entry and judged is not Judged.NOT_AT_ALL:
            here += [
                problem.under("entry") for problem in problems_with_pin(draft.entry, rule, own)
            ]
            if not compare_digest(draft.again.encode(), draft.entry.encode()):
                here.append(Problem("pin.differs", "again"))
        if judged is not Judged.AMONG_ALL:
            pass
        elif draft.entry:
            beside = [*drafts[:place], *drafts[place + 1 :]]
            if _is_known_already(draft, holder_id, rule, beside) or _was_had_lately(
                draft.entry, holder_id, rule
            ):
                here.append(Problem(CHOOSE_ANOTHER, "entry"))
        elif (
            draft.opens_alone
            and draft.id in known
            and not known[draft.id].opens_alone
            and not rule.is_unique
        ):
            digits = unseal(known[draft.id].sealed)
            if _is_known_already(PinDraft(draft.id, "", True, digits), holder_id, rule, []):
                here.append(Problem(CHOOSE_ANOTHER, "entry"))
        problems += [problem.under(f"pins.{place}") for problem in here]
    return tuple(problems)


def _is_known_already(
    draft: PinDraft, holder_id: int | None, rule: PinRule, beside: Iterable[PinDraft]
) -> bool:
    alike = not_anothers(draft.entry, rule)
    if any(other.entry in alike for other in beside):
        return True
    if not has_pin_keys():  # and so no PIN
        return False
    key = pin_keys().own
    hashes = [keyed_hash(key, pin) for pin in alike]
    others = Pin.objects.filter(own_hash__in=hashes).exclude(pk=draft.id or 0)
    # what doors could take it for, as `mistaken_for_another` says
    if not rule.is_unique and not draft.opens_alone:
        others = others.filter(Q(holder_id=holder_id or 0) | Q(opens_alone=True))
    return others.exists()


def mistaken_by(rule: PinRule) -> tuple[PinInUse, ...]:
    """Return the PINs that doors would take for another one if this were the rule, oldest first."""
    pins = Pin.objects.order_by("id").values_list("id", "holder_id", "sealed", "opens_alone")
    return mistaken_for_another(
        (PinInUse(id_, who, unseal(kept), alone) for id_, who, kept, alone in pins), rule
    )


def _was_had_lately(digits: str, holder_id: int | None, rule: PinRule) -> bool:
    if not rule.remembered or holder_id is None or not has_pin_keys():
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
    drafts: Sequence[PinDraft], own: OwnNumbers = NOTHING_KNOWN
) -> tuple[PinDraft, ...]:
    """Return the drafts with digits for those that are to be made up. The caller holds the
    transaction.
    """
    if not any(draft.is_generated for draft in drafts):
        return tuple(drafts)
    rule, key = pin_rule(), pin_keys().own
    made: list[PinDraft] = []
    for draft in drafts:
        if draft.is_generated:
            beside = {
                pin
                for other in (*drafts, *made)
                if other.entry
                for pin in not_anothers(other.entry, rule)
            }

            def is_taken(pin: str, beside: set[str] = beside) -> bool:
                hashes = [keyed_hash(key, one) for one in not_anothers(pin, rule)]
                return pin in beside or Pin.objects.filter(own_hash__in=hashes).exists()

            digits = generate(rule, is_taken, own)
            draft = replace(
                draft, entry=digits, again=digits, is_generated=False, was_generated=True
            )
        made.append(draft)
    return tuple(made)


def set_pins(
    holder_id: int, drafts: Sequence[PinDraft], version: int, topic: str, at: datetime
) -> list[Act]:
    """Make a cardholder's PINs these; one that is missing is removed. Gives the acts for the
    journal.

    The caller holds the transaction and has checked `problems_with_pins`.
    """
    had = {pin.pk: pin for pin in pins_of(holder_id)}
    if not had and not drafts:
        return []
    about = (About(topic, holder_id, version),)
    acts = []
    kept = {draft.id for draft in drafts}
    for id_, pin in had.items():
        if id_ not in kept:
            _remember(pin, at)
            cancel_letters_with(pin, at)
            pin.delete()
            acts.append(Act("pin.removed", about, {"label": (pin.label, None)}))
    for draft in drafts:
        pin = had[draft.id] if draft.id is not None else Pin(holder_id=holder_id)
        before = {} if draft.id is None else {"label": pin.label, "opens_alone": pin.opens_alone}
        after = {"label": draft.label.strip(), "opens_alone": draft.opens_alone}
        if not draft.entry and before == after:
            continue
        if draft.entry:
            if draft.id is not None:
                _remember(pin, at)
            _put_digits(pin, draft.entry, at)
        pin.label, pin.opens_alone = draft.label.strip(), draft.opens_alone
        pin.save()
        action = "pin.set" if draft.id is None else "pin.replaced" if draft.entry else "pin.changed"
        acts.append(Act(action, about, dict(changes_between(before, after))))
    return acts


def _put_digits(pin: Pin, digits: str, at: datetime) -> None:
    keys, rule = pin_keys(), pin_rule()
    cancel_letters_with(pin, at)
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
