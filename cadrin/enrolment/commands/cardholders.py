"""Save a cardholder's whole file: details, cards and memberships in one act, or nothing."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.access.commands.memberships import MembershipDraft, set_memberships
from cadrin.access.models import AccessGroup, Membership
from cadrin.access.plan import holder_of
from cadrin.access.scoping import group_ids_hidden
from cadrin.core.access.plan import Holder
from cadrin.core.access.plan import Membership as CoreMembership
from cadrin.core.credentials.card.card import Card as CoreCard
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.use_limit import UseLimit
from cadrin.core.credentials.pin.pin import Pin as CorePin
from cadrin.core.credentials.pin.rule import OwnNumbers
from cadrin.core.credentials.plate.plate import Plate as CorePlate
from cadrin.core.errors import Invalid, NotPermitted, Problem
from cadrin.core.people.details import Details, RegisterRules, tidy
from cadrin.core.people.names import NameRule
from cadrin.core.schedules import problems_with_hours
from cadrin.core.validity import problems_with_span
from cadrin.credentials.commands.cards import (
    CardDraft,
    draft_of,
    problems_with_cards,
    schedule_of_card,
    set_cards,
)
from cadrin.credentials.letters import post_pin
from cadrin.credentials.models import Card
from cadrin.credentials.pins import (
    Judged,
    PinDraft,
    has_digits,
    pins_of,
    problems_with_pins,
    set_pins,
    with_generated,
)
from cadrin.credentials.plates import plates_of, problems_with_plates, set_plates, tidy_plates
from cadrin.credentials.settings import make_ready_for_pins
from cadrin.enrolment.commands.refused_pins import counting_refused_pins
from cadrin.journal.commands import Act, record, take_rights_away
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.people.commands.cardholders import (
    CARDHOLDER,
    details_of,
    lock_cardholder,
    problems_with_cardholder,
    set_terms,
    write_details,
)
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.people.scoping import only_seen, without_strangers
from cadrin.photos.commands import SLOTS, Tokens, images_of, problems_with_images, set_images
from cadrin.sites.queries import site_day

NOT_COUNTED_YET = datetime.fromtimestamp(0, UTC)
NEEDED_FOR = {
    "card": Permission.ISSUE,
    "pin": Permission.ISSUE,
    "plate": Permission.ISSUE,
    "membership": Permission.ACCESS,
}


Limits = Mapping[tuple[int, int, int], UseLimit]


@dataclass(frozen=True, slots=True)
class CardholderDraft:
    """A cardholder's file as an operator wants it. ``version`` is the one it was read at; 0 for a
    new one.
    """

    details: Details
    cards: tuple[CardDraft, ...] = ()
    memberships: tuple[MembershipDraft, ...] = ()
    version: int = 0
    images: Tokens = (None,) * SLOTS
    pins: tuple[PinDraft, ...] = ()
    plates: tuple[str, ...] = ()

    @property
    def own_numbers(self) -> OwnNumbers:
        """Return what somebody who knows the cardholder would try as a PIN."""
        cards = (f"{card.card_number}" for card in self.cards)
        joined = (f"{card.facility_code}{card.card_number:05}" for card in self.cards)
        return OwnNumbers(self.details.born_on, (self.details.number, *cards, *joined))

    def holder(self, id_: int, names: NameRule, limits: Limits | None = None) -> Holder:
        """Return what doors would make of it; ``limits`` are the use limits that are counted
        already, by card.
        """
        return holder_of(
            id_,
            self.details,
            self.details.shown(names),
            (_core_card(card, (limits or {}).get(card.identity)) for card in self.cards),
            (
                CoreMembership(membership.group_id, membership.span)
                for membership in self.memberships
            ),
            # a PIN that is not saved yet has no hash, and none is needed to see which doors it
            # opens
            (CorePin(draft.id or 0, "", draft.opens_alone) for draft in self.pins),
            map(CorePlate, tidy_plates(self.plates)),
        )


def _core_card(draft: CardDraft, limit: UseLimit | None) -> CoreCard:
    kept = draft.kept()
    return CoreCard(
        CardKey(*draft.identity),
        draft.status,
        draft.span,
        kept["suspended_until"],
        schedule_of_card(kept["hours"]) if not problems_with_hours(draft.hours) else None,
        _use_limit(draft, limit),
        draft.is_watched,
        draft.issue_level,
    )


def _use_limit(draft: CardDraft, known: UseLimit | None) -> UseLimit | None:
    """Return the limit as it is counted already; a new one, or another, counts from when it is
    saved.
    """
    if known and known.most == draft.use_limit:
        return known
    return UseLimit(draft.use_limit, NOT_COUNTED_YET) if draft.use_limit else None


def stored_cardholder(cardholder: Cardholder, register_rules: RegisterRules) -> CardholderDraft:
    """Return a cardholder's file as it is stored."""
    cards = Card.objects.filter(holder=cardholder).order_by("id")
    memberships = Membership.objects.filter(cardholder=cardholder).order_by("id")
    return CardholderDraft(
        details_of(cardholder, register_rules),
        tuple(map(draft_of, cards)),
        tuple(MembershipDraft(m.group_id, m.activation_at, m.expiry_at) for m in memberships),
        cardholder.version,
        images_of(cardholder.pk),
        tuple(PinDraft(pin.pk, pin.label, pin.opens_alone) for pin in pins_of(cardholder.pk)),
        plates_of(cardholder.pk),
    )


def cardholder_for(
    actor: Actor, cardholder: Cardholder, register_rules: RegisterRules
) -> CardholderDraft:
    """Return a cardholder's file as far as the actor may see it."""
    file = stored_cardholder(cardholder, register_rules)
    if Permission.BIRTH_DATES not in actor.permissions:
        file = replace(file, details=replace(file.details, born_on=None))
    hidden = group_ids_hidden(actor)
    return replace(
        file, memberships=tuple(one for one in file.memberships if one.group_id not in hidden)
    )


def with_what_is_hidden(
    actor: Actor, cardholder_id: int | None, draft: CardholderDraft
) -> CardholderDraft:
    """Return a draft together with what the actor could not see, and so cannot have meant to take
    away.
    """
    hidden = group_ids_hidden(actor)
    if not hidden or cardholder_id is None:
        return draft
    kept = Membership.objects.filter(cardholder_id=cardholder_id, group_id__in=hidden).order_by(
        "id"
    )
    more = (MembershipDraft(m.group_id, m.activation_at, m.expiry_at) for m in kept)
    return replace(draft, memberships=(*draft.memberships, *more))


def problems_with_draft(
    actor: Actor,
    draft: CardholderDraft,
    cardholder_id: int | None,
    rules: RegisterRules,
    at: datetime,
    judged: Judged = Judged.BY_THE_RULE,
) -> tuple[Problem, ...]:
    """Return everything against saving the file, each beside its field; ``cardholder_id`` is None
    for a new one.

    ``judged`` is how far PINs are, for whoever may issue them: for others their digits are never
    judged.
    """
    if Permission.ISSUE not in actor.permissions:
        judged = Judged.NOT_AT_ALL
    problems = (
        *problems_with_cardholder(actor, draft.details, cardholder_id, rules, site_day(at)),
        *problems_with_images(draft.images, cardholder_id),
        *_portrait_missing(draft, rules),
        *problems_with_cards(draft.cards, cardholder_id),
        *problems_with_pins(
            draft.pins, cardholder_id, draft.own_numbers, draft.details.email, judged
        ),
        *problems_with_plates(draft.plates, cardholder_id),
        *_problems_with_memberships(draft.memberships, group_ids_hidden(actor)),
    )
    return without_strangers(actor, problems)


def _portrait_missing(draft: CardholderDraft, rules: RegisterRules) -> tuple[Problem, ...]:
    is_missing = "portrait" in rules.required and draft.images[0] is None
    return (Problem("cardholder.required", "images.0"),) if is_missing else ()


def _problems_with_memberships(
    drafts: Sequence[MembershipDraft], hidden: frozenset[int]
) -> tuple[Problem, ...]:
    wanted = [draft.group_id for draft in drafts if draft.group_id not in hidden]
    known = set(AccessGroup.objects.filter(pk__in=wanted).values_list("id", flat=True))
    problems: list[Problem] = []
    for place, draft in enumerate(drafts):
        here = list(problems_with_span(draft.span))
        if draft.group_id not in known:
            here.append(Problem("input.no_longer_there", "group"))
        if any(other.group_id == draft.group_id for other in drafts[:place]):
            here.append(Problem("membership.twice", "group"))
        problems += [problem.under(f"memberships.{place}") for problem in here]
    return tuple(problems)


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
