"""What was decided in the reviews of a group or a door, as CSV for whoever audits them."""

from collections.abc import Iterator
from datetime import datetime

from cadrin.core.export.tables import Column, csv_chunks
from cadrin.core.schedules import zone_named
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.reviews.looked import Kind
from cadrin.reviews.queries import decisions_of
from cadrin.sites.queries import home_site

HEADINGS = {
    "looked_through": {"en": "Access group or door", "de": "Zutrittsgruppe oder Tür"},
    "name": {"en": "Name", "de": "Name"},
    "number": {"en": "Number", "de": "Nummer"},
    "is_kept": {"en": "Decided", "de": "Entschieden"},
    "reason": {"en": "Reason", "de": "Grund"},
    "decided_by": {"en": "By", "de": "Von"},
    "at": {"en": "At", "de": "Am"},
    "ended_at": {"en": "Review ended", "de": "Prüfung beendet"},
}
KEPT = {"en": ("taken out", "kept"), "de": ("entzogen", "behalten")}


def as_csv(actor: Actor, kind: Kind, id_: int) -> Iterator[str]:
    """Write every decision. Raises NotFound or NotPermitted."""
    actor.require(Permission.EXPORT)
    zone, language = zone_named(home_site()["zone"]), actor.language
    words = KEPT.get(language, KEPT["en"])

    def cell(value: object) -> str:
        if isinstance(value, datetime):
            return f"{value.astimezone(zone):%Y-%m-%d %H:%M}"
        return words[value] if isinstance(value, bool) else str(value or "")

    columns = [Column(key, told.get(language, told["en"])) for key, told in HEADINGS.items()]
    rows = [[cell(row[key]) for key in HEADINGS] for row in decisions_of(actor, kind, id_)]
    return csv_chunks(columns, rows)
