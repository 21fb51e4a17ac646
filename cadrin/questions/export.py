"""An answer as CSV, in the words of whoever asked."""

from collections.abc import Iterable, Iterator, Sequence
from datetime import datetime

from cadrin.core.export.tables import Column, csv_chunks
from cadrin.core.schedules import zone_named
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.questions.lines import Answer
from cadrin.sites.queries import home_site

HEADINGS = {
    "name": {"en": "Name", "de": "Name"},
    "number": {"en": "Number", "de": "Nummer"},
    "department": {"en": "Department", "de": "Abteilung"},
    "door": {"en": "Door", "de": "Tür"},
    "is_way_out": {"en": "Way", "de": "Richtung"},
    "area": {"en": "Area", "de": "Bereich"},
    "group": {"en": "Access group", "de": "Zutrittsgruppe"},
    "reason": {"en": "Reason", "de": "Grund"},
    "other_reason": {"en": "Reason of the other", "de": "Grund der anderen"},
    "hours": {"en": "Hours a week", "de": "Stunden die Woche"},
    "other_hours": {"en": "Hours of the other", "de": "Stunden der anderen"},
    "last_at": {"en": "Last let in", "de": "Zuletzt eingelassen"},
}

WAYS = {False: {"en": "in", "de": "hinein"}, True: {"en": "out", "de": "hinaus"}}


def as_csv(actor: Actor, answers: Sequence[Answer]) -> Iterator[str]:
    """Write an answer, with the columns that any line has something in. Raises NotPermitted."""
    actor.require(Permission.EXPORT)
    zone = zone_named(home_site()["zone"])

    def cell(value: object) -> str:
        if isinstance(value, datetime):
            return f"{value.astimezone(zone):%Y-%m-%d %H:%M}"
        if isinstance(value, bool):
            return WAYS[value].get(actor.language, WAYS[value]["en"])
        return "" if value is None else str(value)

    empty = (None, "", False)
    keys = [key for key in HEADINGS if any(getattr(one, key) not in empty for one in answers)]
    columns = [
        Column(key, HEADINGS[key].get(actor.language, HEADINGS[key]["en"]))
        for key in keys or HEADINGS
    ]
    rows: Iterable[list[str]] = (
        [cell(getattr(one, column.key)) for column in columns] for one in answers
    )
    return csv_chunks(columns, rows)
