"""A row of people and a row of cards: each card goes to the next person, and nothing counts until
all are issued.
"""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.core.credentials.card.alike import also_read_as
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.life import ALIVE
from cadrin.core.errors import Invalid, Problem
from cadrin.credentials.commands.cards import CardDraft
from cadrin.credentials.queries import formats
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.problems import problems_with_draft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.rows import Rows
from cadrin.people.models import Cardholder
from cadrin.people.queries import get_cardholder, number_span, rules
from cadrin.people.scoping import seen_by

MOST_IN_A_ROW = 300


class Pair(NamedTuple):
    """A person, and the card that is meant for them."""

    cardholder_id: int
    card: CardDraft


def people_without_card(
    actor: Actor,
    ids: Sequence[int] | None,
    department_ids: Sequence[int] | None,
    numbers: tuple[str, str] | None,
) -> Rows:
    """Return those of the chosen people who have no card that counts, in the order of their numbers
    or of the choice.
    """
    found = Cardholder.objects.filter(seen_by(actor), erased_at=None)
    if ids is not None:
        found = found.filter(pk__in=ids)
    if department_ids is not None:
        found = found.filter(department_id__in=department_ids)
    if numbers is not None:
        found = found.filter(number_span(*numbers))
    found = found.exclude(cards__status__in=[status.value for status in ALIVE]).exclude(
        standing="departed"
    )
    rows = list(found.order_by("number_key").values("id", "number", "display_name")[:MOST_IN_A_ROW])
    if ids is not None:
        place = {id_: n for n, id_ in enumerate(ids)}
        rows.sort(key=lambda row: place[row["id"]])
    return rows


def problems_with_row(actor: Actor, pairs: Sequence[Pair], at: datetime) -> tuple[Problem, ...]:
    """Return everything against issuing these cards to these people, each under its place in the
    row.
    """
    problems = (
        []
        if len(pairs) <= MOST_IN_A_ROW
        else [Problem("input.too_many", "pairs", {"most": MOST_IN_A_ROW})]
    )
    seen: dict[tuple[int, int, int], int] = {}
    register_rules, known = rules(), formats()
    for place, pair in enumerate(pairs[:MOST_IN_A_ROW]):
        here = []
        if pair.card.identity in seen:
            here.append(Problem("card.twice", "card_number"))
        elif any(
            key in seen
            for key in also_read_as(CardKey(*pair.card.identity), known, pair.card.issue_level)
        ):
            here.append(Problem("card.same_bits_twice", "card_number"))
        seen[pair.card.identity] = place
        file = stored_cardholder(get_cardholder(actor, pair.cardholder_id), register_rules)
        draft = replace(file, cards=(*file.cards, pair.card))
        under = f"cards.{len(file.cards)}."
        for problem in problems_with_draft(actor, draft, pair.cardholder_id, register_rules, at):
            field = (
                (problem.field or "").removeprefix(under)
                if (problem.field or "").startswith(under)
                else None
            )
            here.append(Problem(problem.code, field, problem.params))
        problems += [problem.under(f"pairs.{place}") for problem in here]
    return tuple(problems)


@transaction.atomic
def issue_row(actor: Actor, pairs: Sequence[Pair], at: datetime) -> int:
    """Issue every card to its person, all or none, and give how many. Raises Invalid, NotFound or
    NotPermitted.
    """
    actor.require(Permission.EDIT)
    actor.require(Permission.ISSUE)
    if problems := problems_with_row(actor, pairs, at):
        raise Invalid(problems)
    register_rules = rules()
    for pair in pairs:
        file = stored_cardholder(get_cardholder(actor, pair.cardholder_id), register_rules)
        save_cardholder(
            actor, pair.cardholder_id, replace(file, cards=(*file.cards, pair.card)), at
        )
    return len(pairs)
