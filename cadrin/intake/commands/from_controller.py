"""Bring in the people whom only a controller knew."""

from collections.abc import Iterable
from datetime import datetime

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.card.raw_reads import CardNumbers
from cadrin.core.errors import Invalid
from cadrin.core.intake.listed import BETWEEN_SEVERAL
from cadrin.core.intake.table import Cells, FileKind
from cadrin.core.schedules import zone_named
from cadrin.credentials.queries import formats
from cadrin.delivery.found_people import forget_people_of, people_found
from cadrin.intake.commands.taking import take_table
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.sites.queries import get_controller, home_site

HEADINGS = ("Number", "Name", "Card", "Start", "End", "Licence plate")


def take_from_controller(actor: Actor, controller_id: int, at: datetime) -> int:
    """Bring in whom only a controller knew, and return the intake's id. They were removed there when
    they were found; as an intake each is decided about.

    Raises Invalid where there is nobody, NotFound or NotPermitted.
    """
    actor.require(Permission.ENROL)
    controller = get_controller(actor, controller_id)
    people = people_found(controller_id)
    if not people:
        raise Invalid.of("intake.no_rows", "controller")
    rows = [HEADINGS, *_rows(people)]
    intake_id = take_table(actor, controller.name, FileKind.CONTROLLER, rows, at)
    forget_people_of(controller_id)
    return intake_id


def _rows(people: Iterable[Holder]) -> Iterable[Cells]:
    layouts, zone = formats(), zone_named(home_site()["zone"])
    for person in people:
        cards = (
            str(layout.encode(CardNumbers(card.key.facility_code, card.key.card_number)))
            if (layout := layouts.get(card.key.format_id))
            else f"{card.key.facility_code}-{card.key.card_number}"
            for card in person.cards
        )
        start, end = (
            f"{edge.astimezone(zone):%Y-%m-%d %H:%M:%S}" if edge else ""
            for edge in (person.span.start, person.span.end)
        )
        yield (
            person.number,
            person.display_name,
            BETWEEN_SEVERAL.join(cards),
            start,
            end,
            BETWEEN_SEVERAL.join(plate.number for plate in person.plates),
        )
