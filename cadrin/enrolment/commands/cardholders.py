"""Save a cardholder's whole file: details, cards and memberships in one act, or nothing."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.access.commands.memberships import set_memberships
from cadrin.core.errors import Invalid, NotPermitted, Problem
from cadrin.core.people.details import tidy
from cadrin.credentials.commands.cards import (
    set_cards,
)
from cadrin.credentials.letters import post_pin
from cadrin.credentials.pins import (
    Judged,
    has_digits,
    pins_of,
    set_pins,
    with_generated,
)
from cadrin.credentials.plates import set_plates
from cadrin.credentials.settings import make_ready_for_pins
from cadrin.enrolment.commands.refused_pins import counting_refused_pins
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.problems import problems_with_draft
from cadrin.enrolment.queries import with_what_is_hidden
from cadrin.journal.commands import Act, record, take_rights_away
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.people.commands.cardholders import (
    CARDHOLDER,
    lock_cardholder,
    set_terms,
    write_details,
)
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.people.scoping import only_seen
from cadrin.photos.commands import set_images

NEEDED_FOR = {
    "card": Permission.ISSUE,
    "pin": Permission.ISSUE,
    "plate": Permission.ISSUE,
    "membership": Permission.ACCESS,
}


class ShownPin(NamedTuple):
    """A PIN that was made up, as it is shown this once."""

    label: str
    digits: str


class SavedCardholder(NamedTuple):
    id: int
    shown_pins: tuple[ShownPin, ...] = ()


def save_cardholder(
    actor: Actor, cardholder_id: int | None, draft: CardholderDraft, at: datetime
) -> int:
    """Enrol a cardholder, or save one, and give its id; as `save_and_show`, which shows the PINs
    made up as well.
    """
    return save_and_show(actor, cardholder_id, draft, at).id


def save_and_show(
    actor: Actor, cardholder_id: int | None, draft: CardholderDraft, at: datetime
) -> SavedCardholder:
    """Enrol a cardholder, or save one. Raises Invalid, Stale, NotFound or NotPermitted.

    A file in which nothing differs is left alone: no new version, no entry, nothing to deliver.
    """
    with counting_refused_pins(actor, draft.pins, at):
        return write_cardholder(actor, cardholder_id, draft, at)


@transaction.atomic
def write_cardholder(
    actor: Actor, cardholder_id: int | None, draft: CardholderDraft, at: datetime
) -> SavedCardholder:
    """Save a file as `save_and_show`, as part of a command that counts refused PINs over all it
    does.
    """
    actor.require(Permission.ENROL if cardholder_id is None else Permission.EDIT)
    cardholder = (
        Cardholder()
        if cardholder_id is None
        else lock_cardholder(actor, cardholder_id, draft.version)
    )
    if cardholder.erased_at:
        raise Invalid.of("cardholder.erased")
    register_rules = rules()
    if draft.pins:
        make_ready_for_pins()
    if problems := problems_with_draft(
        actor, draft, cardholder_id, register_rules, at, Judged.AMONG_ALL
    ):
        raise Invalid(problems)
    draft = with_what_is_hidden(actor, cardholder_id, draft)
    version = 1 if cardholder_id is None else draft.version + 1
    details = tidy(draft.details, register_rules)
    if Permission.BIRTH_DATES not in actor.permissions:
        # who may not see it cannot have changed it
        details = replace(details, born_on=cardholder.born_on)
    about_details = write_details(cardholder, details, register_rules, version)
    acts = [about_details] if about_details else []
    acts += set_images(cardholder.pk, draft.images, version, CARDHOLDER)
    acts += set_cards(cardholder.pk, draft.cards, version, CARDHOLDER, at)
    draft = replace(
        draft, pins=with_generated(draft.pins, replace(draft, details=details).own_numbers)
    )
    acts += set_pins(cardholder.pk, draft.pins, version, CARDHOLDER, at)
    acts += set_plates(cardholder.pk, draft.plates, version, CARDHOLDER)
    acts += set_memberships(cardholder.pk, draft.memberships, version)
    _require_for(actor, acts)
    if acts:
        Cardholder.objects.filter(pk=cardholder.pk).update(version=version)
        set_terms(cardholder.pk, "card", {str(card.card_number) for card in draft.cards})
        record(actor, at, acts)
        mark_for_delivery(Subject.CARDHOLDER, [cardholder.pk], is_withdrawal=take_rights_away(acts))
    if not only_seen(actor, [cardholder.pk]):
        raise Invalid.of("scope.would_be_gone", "memberships")
    return SavedCardholder(cardholder.pk, tuple(_shown_once(cardholder, draft, at)))


def _shown_once(cardholder: Cardholder, draft: CardholderDraft, at: datetime) -> Iterable[ShownPin]:
    """Return the PINs that were made up, or put them into the mail: nothing shows them a second
    time.
    """
    kept = pins_of(cardholder.pk)
    for pin in draft.pins:
        if pin.is_mailed and pin.entry:
            post_pin(
                cardholder, next(one for one in kept if has_digits(one, pin.entry)), pin.entry, at
            )
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
