"""Everything against saving cardholders, each problem beside its field."""

from collections.abc import Sequence
from datetime import datetime

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.meeting import problems_where_they_meet
from cadrin.access.queries import group_ids_among
from cadrin.access.scoping import group_ids_hidden
from cadrin.biometrics.problems import problems_with_biometrics
from cadrin.core.errors import Problem
from cadrin.core.people.details import RegisterRules
from cadrin.core.validity import problems_with_span
from cadrin.credentials.card_problems import problems_with_cards
from cadrin.credentials.pin_problems import Judged, PinsWanted, problems_with_pins
from cadrin.credentials.plates import problems_with_plates
from cadrin.enrolment.draft import CardholderDraft, Wanted
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.parts import Part
from cadrin.people.commands.problems import DetailsWanted, problems_with_details_of
from cadrin.people.scoping import without_strangers
from cadrin.photos.commands import problems_with_images
from cadrin.sites.queries import site_day


def problems_with_draft(
    actor: Actor,
    draft: CardholderDraft,
    cardholder_id: int | None,
    rules: RegisterRules,
    at: datetime,
) -> tuple[Problem, ...]:
    """Return everything against saving one cardholder, each problem beside its field."""
    return problems_with_drafts(actor, [Wanted(cardholder_id, draft)], rules, at)[0]


def problems_with_drafts(
    actor: Actor,
    wanted: Sequence[Wanted],
    rules: RegisterRules,
    at: datetime,
    judged: Judged = Judged.BY_THE_RULE,
) -> list[tuple[Problem, ...]]:
    """Return everything against saving each of these cardholders together, in order.

    ``judged`` is how far PINs are, for whoever may issue them: for others their digits are never
    judged.
    """
    if Permission.ISSUE not in actor.permissions:
        judged = Judged.NOT_AT_ALL
    drafts = [item.draft for item in wanted]
    details = [DetailsWanted(item.holder_id, item.draft.details) for item in wanted]
    pins = [
        PinsWanted(
            item.holder_id, item.draft.pins, item.draft.own_numbers, item.draft.details.email
        )
        for item in wanted
    ]
    found = zip(
        problems_with_details_of(actor, details, rules, site_day(at)),
        problems_with_images([Part(item.holder_id, item.draft.images) for item in wanted]),
        (_portrait_missing(draft, rules) for draft in drafts),
        problems_with_cards([Part(item.holder_id, item.draft.cards) for item in wanted]),
        problems_with_pins(pins, judged),
        problems_with_plates([Part(item.holder_id, item.draft.plates) for item in wanted]),
        problems_with_biometrics(
            actor,
            [
                Part(item.holder_id, (item.draft.biometrics,) if item.draft.biometrics else ())
                for item in wanted
            ],
            at,
        ),
        _problems_with_memberships(
            [draft.memberships for draft in drafts], group_ids_hidden(actor)
        ),
        strict=True,
    )
    return [
        without_strangers(actor, (problem for part in parts for problem in part)) for parts in found
    ]


def _portrait_missing(draft: CardholderDraft, rules: RegisterRules) -> tuple[Problem, ...]:
    is_missing = "portrait" in rules.required and draft.images[0] is None
    return (Problem("cardholder.required", "images.0"),) if is_missing else ()


def _problems_with_memberships(
    wanted: Sequence[Sequence[MembershipDraft]], hidden: frozenset[int]
) -> list[tuple[Problem, ...]]:
    known = group_ids_among({draft.group_id for drafts in wanted for draft in drafts}) - hidden
    met = problems_where_they_meet([[(one.group_id, one.span) for one in each] for each in wanted])
    return [
        (*_problems_with_memberships_of(drafts, known), *meeting)
        for drafts, meeting in zip(wanted, met, strict=True)
    ]


def _problems_with_memberships_of(
    drafts: Sequence[MembershipDraft], known: set[int]
) -> list[Problem]:
    problems: list[Problem] = []
    for place, draft in enumerate(drafts):
        here = list(problems_with_span(draft.span))
        if draft.group_id not in known:
            here.append(Problem("input.no_longer_there", "group"))
        if any(other.group_id == draft.group_id for other in drafts[:place]):
            here.append(Problem("membership.twice", "group"))
        problems += [problem.under(f"memberships.{place}") for problem in here]
    return problems
