"""Everything against saving a cardholder, each problem beside its field."""

from collections.abc import Sequence
from datetime import datetime

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import AccessGroup
from cadrin.access.scoping import group_ids_hidden
from cadrin.core.errors import Problem
from cadrin.core.people.details import RegisterRules
from cadrin.core.validity import problems_with_span
from cadrin.credentials.commands.cards import (
    problems_with_cards,
)
from cadrin.credentials.pins import (
    Judged,
    problems_with_pins,
)
from cadrin.credentials.plates import problems_with_plates
from cadrin.enrolment.draft import CardholderDraft
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.cardholders import (
    problems_with_cardholder,
)
from cadrin.people.scoping import without_strangers
from cadrin.photos.commands import problems_with_images
from cadrin.sites.queries import site_day


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
