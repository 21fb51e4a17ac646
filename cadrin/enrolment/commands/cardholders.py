"""Save cardholders with everything that is theirs in one act, or nothing; one is the case of one."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import datetime
from typing import TYPE_CHECKING, NamedTuple

from django.db import transaction

from cadrin.core.errors import Invalid, NotPermitted, Problem
from cadrin.core.people.details import RegisterRules, tidy
from cadrin.credentials.letters import Addressee, post_pin
from cadrin.credentials.pin_problems import Judged
from cadrin.credentials.pins import has_digits, pins_of, with_generated
from cadrin.credentials.settings import make_ready_for_pins
from cadrin.enrolment.commands.drafts import Whose, drop_draft
from cadrin.enrolment.commands.refused_pins import counting_refused_pins
from cadrin.enrolment.draft import CardholderDraft, Wanted
from cadrin.enrolment.problems import problems_with_drafts
from cadrin.enrolment.queries import with_what_is_hidden
from cadrin.enrolment.writer import Writing, write
from cadrin.journal.commands import About, Act
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.cardholders import lock_cardholders, new_cardholder
from cadrin.people.queries import free_numbers, rules
from cadrin.people.scoping import only_seen

if TYPE_CHECKING:
    from cadrin.people.models import Cardholder


NEEDED_FOR = {
    "card": Permission.ISSUE,
    "pin": Permission.ISSUE,
    "plate": Permission.ISSUE,
    "finger": Permission.BIOMETRICS,
    "face": Permission.BIOMETRICS,
    "consent": Permission.BIOMETRICS,
    "card_alone": Permission.BIOMETRICS,
    "membership": Permission.ACCESS,
}
ONE_ALONE, EACH_OF_MANY = "", "cardholders.{}"
"""Where the fields of a cardholder stand in a refusal."""


class ShownPin(NamedTuple):
    """A PIN that was generated, as it is shown this once."""

    label: str
    digits: str


class SavedCardholder(NamedTuple):
    id: int
    shown_pins: tuple[ShownPin, ...] = ()


def save_cardholder(
    actor: Actor, cardholder_id: int | None, draft: CardholderDraft, at: datetime
) -> int:
    """Enrol a cardholder, or save one, and give its id; as `save_and_show`, which shows the PINs
    that were generated as well.
    """
    return save_and_show(actor, cardholder_id, draft, at).id


def save_and_show(
    actor: Actor,
    cardholder_id: int | None,
    draft: CardholderDraft,
    at: datetime,
    typed: Whose | None = None,
) -> SavedCardholder:
    """Enrol a cardholder, or save one, and forget what was ``typed`` of them before. Raises Invalid,
    Stale, NotFound or NotPermitted.
    """
    return save_many(actor, [Wanted(cardholder_id, draft)], at, ONE_ALONE, typed)[0]


def save_many(
    actor: Actor,
    wanted: Sequence[Wanted],
    at: datetime,
    under: str = EACH_OF_MANY,
    typed: Whose | None = None,
) -> list[SavedCardholder]:
    """Enrol and save cardholders in one act, all or none, and give what became of each, in order.

    One in whom nothing differs is left alone: no
    new version, no entry, nothing to deliver. Raises Invalid, each problem ``under`` its
    cardholder's place, Stale, NotFound or NotPermitted.
    """
    with counting_refused_pins(actor, (pin for item in wanted for pin in item.draft.pins), at):
        return save_counted(actor, wanted, at, under, typed=typed)


@transaction.atomic
def save_counted(
    actor: Actor,
    wanted: Sequence[Wanted],
    at: datetime,
    under: str = ONE_ALONE,
    also_about: tuple[About, ...] = (),
    typed: Whose | None = None,
) -> list[SavedCardholder]:
    """Save as `save_many`, as part of a command that counts refused PINs over all it does.

    ``also_about`` is what each entry of the journal is about beside its cardholders.
    """
    versions = {item.cardholder_id: item.draft.version for item in wanted if item.cardholder_id}
    if len(versions) < len(wanted):
        actor.require(Permission.ENROL)
    if versions:
        actor.require(Permission.EDIT)
    locked = lock_cardholders(actor, versions)
    if any(cardholder.erased_at for cardholder in locked.values()):
        raise Invalid.of("cardholder.erased")
    register_rules = rules()
    if any(item.draft.pins for item in wanted):
        make_ready_for_pins()
    wanted = _numbered(wanted, register_rules)
    _refuse(problems_with_drafts(actor, wanted, register_rules, at, Judged.AMONG_ALL), under)
    cardholders = [
        locked[item.cardholder_id] if item.cardholder_id else new_cardholder() for item in wanted
    ]
    drafts = _with_generated_pins(
        [
            _tidied(actor, cardholder, item.draft, register_rules)
            for cardholder, item in zip(
                cardholders, with_what_is_hidden(actor, wanted), strict=True
            )
        ]
    )
    _require_for(actor, write(actor, list(map(_writing, cardholders, drafts)), at, also_about))
    if len(only_seen(actor, (cardholder.pk for cardholder in cardholders))) < len(cardholders):
        raise Invalid.of("scope.would_be_gone", "memberships")
    if typed:
        drop_draft(actor, typed)
    return [
        SavedCardholder(cardholder.pk, tuple(_shown_once(cardholder, draft, at)))
        for cardholder, draft in zip(cardholders, drafts, strict=True)
    ]


def _refuse(found: Sequence[Sequence[Problem]], under: str) -> None:
    problems = [
        problem.under(under.format(place)) if under else problem
        for place, here in enumerate(found)
        for problem in here
    ]
    if problems:
        raise Invalid(problems)


def _numbered(wanted: Sequence[Wanted], register_rules: RegisterRules) -> list[Wanted]:
    """Give the next free numbers to those that are to get one."""

    count = sum(item.gets_number for item in wanted)
    numbers = iter(free_numbers(register_rules.numbers, count))
    return [
        item._replace(
            draft=replace(item.draft, details=replace(item.draft.details, number=next(numbers)))
        )
        if item.gets_number
        else item
        for item in wanted
    ]


def _tidied(
    actor: Actor, cardholder: Cardholder, draft: CardholderDraft, register_rules: RegisterRules
) -> CardholderDraft:
    details = tidy(draft.details, register_rules)
    if Permission.BIRTH_DATES not in actor.permissions:
        # who may not see it cannot have changed it
        details = replace(details, born_on=cardholder.born_on)
    return replace(draft, details=details)


def _with_generated_pins(drafts: Sequence[CardholderDraft]) -> list[CardholderDraft]:
    if not any(pin.is_generated for draft in drafts for pin in draft.pins):
        return list(drafts)
    pins = with_generated([(draft.pins, draft.own_numbers) for draft in drafts])
    return [
        replace(draft, pins=with_digits) for draft, with_digits in zip(drafts, pins, strict=True)
    ]


def _writing(cardholder: Cardholder, draft: CardholderDraft) -> Writing:
    return Writing(
        cardholder,
        draft.details,
        draft.images,
        draft.cards,
        draft.pins,
        draft.plates,
        draft.memberships,
        draft.biometrics,
    )


def _shown_once(cardholder: Cardholder, draft: CardholderDraft, at: datetime) -> Iterable[ShownPin]:
    """Return the PINs that were generated, or put them into the mail: nothing shows them a second
    time.
    """
    for pin in draft.pins:
        if pin.is_mailed and pin.entry:
            kept = pins_of([cardholder.pk])[cardholder.pk]
            written = next(item for item in kept if has_digits(item, pin.entry))
            to = Addressee(
                cardholder.pk, cardholder.display_name, cardholder.email, cardholder.language
            )
            post_pin(to, written, pin.entry, at)
        elif pin.was_generated:
            yield ShownPin(pin.label.strip(), pin.entry)


def _require_for(actor: Actor, acts: Sequence[Act]) -> None:
    missing = {
        needed
        for act in acts
        if (needed := NEEDED_FOR.get(act.action.partition(".")[0]))
        and needed not in actor.permissions
    }
    if missing:
        raise NotPermitted(
            Problem("operator.not_permitted", None, {"permission": p.value})
            for p in sorted(missing)
        )
