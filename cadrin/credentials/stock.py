"""The stock of cards: boxes, what became of them, and the cards that can be issued."""

from collections.abc import Mapping
from datetime import datetime
from typing import NamedTuple

from django.db import connection, transaction
from django.db.models import Count, F, OuterRef, Q, Subquery, TextField
from django.db.models.functions import Cast, Coalesce

from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.life import FREE, LIFE, CardStatus
from cadrin.core.credentials.card.stock import CardRange, count_of, problems_with_range
from cadrin.core.errors import Invalid, NotFound, Problem
from cadrin.credentials.commands.cards import CARD
from cadrin.credentials.models import Box, Card, CardFormat
from cadrin.credentials.queries import find_card, formats
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.rows import Rows

BOX = "box"
LONGEST = {"kept_where": 60, "remarks": 200}
MOST_SHOWN = 50


class BoxDraft(NamedTuple):
    """A box as an operator wants to enter it; a single card is a box of one.

    ``leaves_out`` says that cards of the range that there are already stay as they are, and only
    the others are made.
    """

    format_id: int
    numbers: CardRange
    kept_where: str = ""
    remarks: str = ""
    leaves_out: bool = False


def in_range(format_id: int, numbers: CardRange) -> Q:
    span = (numbers.first, numbers.last)
    return Q(format_id=format_id, facility_code=numbers.facility_code, card_number__range=span)


def problems_with_box(draft: BoxDraft) -> tuple[Problem, ...]:
    """Return everything against entering the box, each beside its field."""
    layout = formats().get(draft.format_id)
    problems = _too_long({field: getattr(draft, field) for field in LONGEST})
    if layout is None:
        return (*problems, Problem("input.no_longer_there", "format"))
    if found := problems_with_range(draft.numbers, layout):
        return (*problems, *found)
    overlapping = Card.objects.filter(in_range(draft.format_id, draft.numbers)).count()
    if overlapping == draft.numbers.size:
        problems.append(Problem("box.all_there", "first", {"count": overlapping}))
    elif overlapping and not draft.leaves_out:
        problems.append(Problem("box.overlaps", "first", {"count": overlapping}))
    return tuple(problems)


def _too_long(texts: Mapping[str, str]) -> list[Problem]:
    return [
        Problem("input.too_long", field, {"most": LONGEST[field]})
        for field, text in texts.items()
        if len(text) > LONGEST[field]
    ]


def there_already(draft: BoxDraft) -> tuple[list[Card], int]:
    """Return the cards of the range that there are, at most fifty of them, and how many in all."""
    found = Card.objects.filter(in_range(draft.format_id, draft.numbers)).order_by("card_number")
    return list(found.select_related("holder")[:MOST_SHOWN]), found.count()


@transaction.atomic
def enter_box(actor: Actor, draft: BoxDraft, at: datetime) -> int:
    """Enter a box and make its cards, and give its id. Raises Invalid or NotPermitted."""
    actor.require(Permission.ISSUE)
    if problems := problems_with_box(draft):
        raise Invalid(problems)
    facility_code, first, last = draft.numbers
    known = Card.objects.filter(in_range(draft.format_id, draft.numbers))
    there = set(known.values_list("card_number", flat=True))
    new = [number for number in range(first, last + 1) if number not in there]
    box = Box.objects.create(
        format_id=draft.format_id,
        facility_code=facility_code,
        first=first,
        last=last,
        kept_where=draft.kept_where.strip(),
        remarks=draft.remarks.strip(),
        entered_at=at,
    )
    # by hand, as 65,536 objects would keep the writers' turn for seconds
    with connection.cursor() as cursor:
        cursor.executemany(
            "INSERT INTO credentials_card (format_id, facility_code, card_number, status, label, is_watched,"
            " is_temporary, used) VALUES (%s, %s, %s, %s, '', FALSE, FALSE, 0)",
            [(draft.format_id, facility_code, number, CardStatus.IN_STOCK.value) for number in new],
        )
    changes = {
        "format": (None, CardFormat.objects.get(pk=draft.format_id).name),
        "facility_code": (None, facility_code),
        "numbers": (None, f"{first}-{last}"),
        "cards": (None, len(new)),
    }
    record(actor, at, [Act("box.entered", (About(BOX, box.pk),), changes)])
    return box.pk


def _get_box(box_id: int) -> Box:
    box = Box.objects.filter(pk=box_id).first()
    if box is None:
        raise NotFound.of("box.not_found")
    return box


@transaction.atomic
def change_box(actor: Actor, box_id: int, kept_where: str, remarks: str, at: datetime) -> None:
    """Say where a box is kept now, and what is to be known of it. Raises Invalid, NotFound or
    NotPermitted.
    """
    actor.require(Permission.ISSUE)
    box = _get_box(box_id)
    after = {"kept_where": kept_where.strip(), "remarks": remarks.strip()}
    too_long = [
        Problem("input.too_long", field, {"most": LONGEST[field]})
        for field in after
        if len(after[field]) > LONGEST[field]
    ]
    if too_long:
        raise Invalid(too_long)
    changes = changes_between({field: getattr(box, field) for field in after}, after)
    if changes:
        box.kept_where, box.remarks = after["kept_where"], after["remarks"]
        box.save(update_fields=[*after])
        record(actor, at, [Act("box.changed", (About(BOX, box.pk),), changes)])


@transaction.atomic
def remove_box(actor: Actor, box_id: int, at: datetime) -> None:
    """Remove a box with those of its cards that were never issued; what somebody has or had stays.

    Raises NotFound or NotPermitted.
    """
    actor.require(Permission.ISSUE)
    box = _get_box(box_id)
    numbers = CardRange(box.facility_code, box.first, box.last)
    others = Box.objects.exclude(pk=box.pk).filter(
        format_id=box.format_id, facility_code=box.facility_code
    )
    unissued = Card.objects.filter(
        in_range(box.format_id, numbers), status=CardStatus.IN_STOCK, holder=None
    )
    for first, last in others.values_list("first", "last"):
        unissued = unissued.exclude(card_number__range=(first, last))
    count = unissued.delete()[0]
    changes = {
        "numbers": (f"{box.facility_code}: {box.first}-{box.last}", None),
        "cards": (count, None),
    }
    box.delete()
    record(actor, at, [Act("box.removed", (About(BOX, box_id),), changes)])


@transaction.atomic
def set_stock_status(actor: Actor, key: CardKey, status: CardStatus, at: datetime) -> None:
    """Say of a card that nobody has that it is destroyed, or in stock after all. Raises Invalid or
    NotFound.
    """
    actor.require(Permission.ISSUE)
    card = find_card(key)
    if card is None:
        raise NotFound.of("card.not_found")
    if card.holder_id is not None:
        raise Invalid.of("card.is_held", "status")
    if status not in (CardStatus.DESTROYED, CardStatus.IN_STOCK):
        raise Invalid.of("input.invalid_choice", "status")
    if card.status != status and status not in LIFE[CardStatus(card.status)].may_become:
        raise Invalid.of("card.cannot_become", "status", status=card.status)
    if card.status != status:
        changes = {"card": (str(card), str(card)), "status": (card.status, status.value)}
        card.status = status.value
        card.save(update_fields=["status"])
        record(actor, at, [Act("card.put_away", (About(CARD, card.pk),), changes)])


def boxes() -> Rows:
    """Return every box with what became of its cards, the latest first; one query."""
    cards = Card.objects.filter(
        format_id=OuterRef("format_id"),
        facility_code=OuterRef("facility_code"),
        card_number__gte=OuterRef("first"),
        card_number__lte=OuterRef("last"),
    )
    counted = cards.order_by().values("format_id").annotate(count=Count("id")).values("count")
    counts = {
        f"count_{status}": Coalesce(Subquery(counted.filter(status=status)), 0)
        for status in CardStatus
    }
    rows = []
    for box in Box.objects.select_related("format").annotate(**counts).order_by("-id"):
        size = CardRange(box.facility_code, box.first, box.last).size
        count = count_of(size, {status: getattr(box, f"count_{status}") for status in CardStatus})
        rows.append(
            {
                "id": box.pk,
                "format": box.format_id,
                "format_name": box.format.name,
                "facility_code": box.facility_code,
                "first": box.first,
                "last": box.last,
                "kept_where": box.kept_where,
                "remarks": box.remarks,
                "entered_at": box.entered_at,
                "size": count.size,
                "held": count.held,
                "free": count.free,
                "gone": count.gone,
                "missing": count.missing,
                "is_running_out": count.is_running_out,
            }
        )
    return rows


def free_cards(text: str, most: int = 20) -> Rows:
    """Return cards that can be issued, by any part of their number, the lowest first."""
    found = Card.objects.filter(status__in=FREE, holder=None)
    for part in text.replace("-", " ").split()[:2]:
        digits = part.lstrip("0") or part
        found = found.annotate(written=Cast("card_number", TextField())).filter(
            Q(written__contains=digits) | Q(facility_code=_whole(part))
        )
    ordered = found.order_by("format_id", "facility_code", "card_number")
    shown = ("format_id", "facility_code", "card_number", "status")
    return list(ordered.values(*shown, format_name=F("format__name"))[:most])


def _whole(text: str) -> int:
    return int(text) if text.isdecimal() and len(text) < 10 else -1
