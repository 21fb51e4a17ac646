"""A row of people and a row of cards: each card goes to the next person, and nothing counts until
all are issued. Where people have cards already, the row says what becomes of those.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.core.credentials.card.life import ALIVE, CardStatus
from cadrin.core.credentials.card.replacing import gives_way
from cadrin.core.errors import Invalid, Problem
from cadrin.core.people.details import RegisterRules
from cadrin.core.validity import Standing
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.matching import has_card
from cadrin.credentials.queries import cards_of, foreign_facility_codes
from cadrin.credentials.replacing import replaced
from cadrin.enrolment.commands.cardholders import save_many
from cadrin.enrolment.draft import Wanted
from cadrin.enrolment.problems import problems_with_drafts
from cadrin.enrolment.queries import drafts_for
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.rows import Rows
from cadrin.people.queries import number_span, rules
from cadrin.people.scoping import people_seen

MOST_IN_A_ROW = 300


class Pair(NamedTuple):
    """A person, and the card that is meant for them."""

    cardholder_id: int
    card: CardDraft


def people_in_a_row(
    actor: Actor,
    ids: Sequence[int] | None,
    department_ids: Sequence[int] | None,
    numbers: tuple[str, str] | None,
    became: CardStatus | None = None,
) -> Rows:
    """Return those of the chosen people who have no card that counts, in the order of their numbers
    or of the choice; where it is said what became of old cards, those who have one, each with
    ``old``: the identities of the cards that go.
    """
    found = people_seen(actor).filter(erased_at=None)
    if ids is not None:
        found = found.filter(pk__in=ids)
    if department_ids is not None:
        found = found.filter(department_id__in=department_ids)
    if numbers is not None:
        found = found.filter(number_span(*numbers))
    have_one = has_card(in_status=ALIVE)
    found = found.filter(have_one) if became else found.exclude(have_one)
    found = found.exclude(standing=Standing.DEPARTED)
    rows = list(found.order_by("number_key").values("id", "number", "display_name")[:MOST_IN_A_ROW])
    if ids is not None:
        place = {id_: n for n, id_ in enumerate(ids)}
        rows.sort(key=lambda row: place[row["id"]])
    cards = cards_of([row["id"] for row in rows]) if became else {}
    return [
        row | {"old": [card.identity for card in cards.get(row["id"], ()) if _gives_way(card)]}
        for row in rows
    ]


def problems_with_row(
    actor: Actor, pairs: Sequence[Pair], at: datetime, became: CardStatus | None = None
) -> tuple[Problem, ...]:
    """Return everything against issuing these cards to these people, each under its place in the
    row. Raises NotFound.
    """
    problems = (
        []
        if len(pairs) <= MOST_IN_A_ROW
        else [Problem("input.too_many", "pairs", {"most": MOST_IN_A_ROW})]
    )
    pairs = pairs[:MOST_IN_A_ROW]
    register_rules = rules()
    wanted = _with_their_cards(actor, pairs, register_rules, became)
    found = problems_with_drafts(actor, wanted, register_rules, at)
    for item, here in zip(wanted, found, strict=True):
        places = [n for n, pair in enumerate(pairs) if pair.cardholder_id == item.cardholder_id]
        had = len(item.draft.cards) - len(places)
        fields = {f"cards.{had + n}": f"pairs.{place}" for n, place in enumerate(places)}
        problems += [_in_the_row(problem, fields, f"pairs.{places[0]}") for problem in here]
    return tuple(problems)


def notes_on_row(pairs: Sequence[Pair]) -> tuple[Problem, ...]:
    """Say of each card of a row what does not stand against it and should be known: its facility
    code is no other card's here, so it may be misread, or another house's.
    """
    foreign = foreign_facility_codes(pair.card.identity for pair in pairs)
    return tuple(
        Problem(
            "card.foreign_facility",
            f"pairs.{place}.facility_code",
            {"facility_code": card.facility_code},
        )
        for place, (_, card) in enumerate(pairs)
        if (card.format_id, card.facility_code) in foreign
    )


def _with_their_cards(
    actor: Actor,
    pairs: Sequence[Pair],
    register_rules: RegisterRules,
    became: CardStatus | None,
) -> list[Wanted]:
    """Return the people of a row, in its order, each with what they have and what they are given."""
    ids = list(dict.fromkeys(pair.cardholder_id for pair in pairs))
    drafts = drafts_for(actor, ids, register_rules)
    given: dict[int, tuple[CardDraft, ...]] = dict.fromkeys(ids, ())
    for pair in pairs:
        given[pair.cardholder_id] += (pair.card,)
    return [
        Wanted(id_, replace(drafts[id_], cards=(*_kept(drafts[id_].cards, given[id_], became),)))
        for id_ in ids
    ]


def _gives_way(card: CardDraft) -> bool:
    return gives_way(card.status, is_temporary=card.is_temporary)


def _kept(
    had: Sequence[CardDraft], given: Sequence[CardDraft], became: CardStatus | None
) -> Iterator[CardDraft]:
    """Give what somebody has after a row: the old cards as what became of them, and last the new
    ones, the first of which takes over what the first of the old was bound to.
    """
    following = list(given)
    for card in had:
        if became is None or not _gives_way(card):
            yield card
            continue
        *stays, new = replaced(card, given[0].identity, became)
        yield from stays
        if following[0] is given[0]:
            following[0] = replace(new, issue_level=given[0].issue_level)
    yield from following


def _in_the_row(problem: Problem, fields: Mapping[str, str], person: str) -> Problem:
    """Say a problem with a draft where the row has it: at a card's field, or at the person."""
    path, _, field = (problem.field or "").rpartition(".")
    if path in fields:
        return Problem(problem.code, f"{fields[path]}.{field}", problem.params)
    return Problem(problem.code, person, problem.params)


def run_of(
    actor: Actor,
    first: CardDraft,
    people: Sequence[int],
    meant: Sequence[Pair],
    at: datetime,
    became: CardStatus | None = None,
) -> tuple[list[Pair], tuple[Problem, ...]]:
    """Return cards that follow one another, from the first on, for people without one, and what
    stands against them; ``meant`` are the pairs that stand in the row already.
    """
    run = [
        Pair(id_, replace(first, card_number=first.card_number + place))
        for place, id_ in enumerate(people[:MOST_IN_A_ROW])
    ]
    before = len(meant)
    found = problems_with_row(actor, [*meant, *run], at, became)
    return run, tuple(problem for problem in found if _place(problem) >= before)


def _place(problem: Problem) -> int:
    """Return the place in the row that a problem is about; one with the whole is about the last."""
    parts = (problem.field or "").split(".")
    return int(parts[1]) if len(parts) > 1 else MOST_IN_A_ROW


@transaction.atomic
def issue_row(
    actor: Actor, pairs: Sequence[Pair], at: datetime, became: CardStatus | None = None
) -> int:
    """Issue every card to its person, all or none, and give how many; ``became`` is what becomes of
    the cards that they had. Raises Invalid, NotFound or
    NotPermitted.
    """
    actor.require(Permission.EDIT)
    actor.require(Permission.ISSUE)
    if problems := problems_with_row(actor, pairs, at, became):
        raise Invalid(problems)
    save_many(actor, _with_their_cards(actor, pairs, rules(), became), at)
    return len(pairs)
