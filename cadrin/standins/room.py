"""What a controller has no room for, or cannot express: such a record it refuses, with the reason."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from cadrin.core.records.cardholders import latest_in, widest_in
from cadrin.core.records.held import HeldRecords
from cadrin.core.records.keys import Body, RecordKey, RecordKind

if TYPE_CHECKING:
    from cadrin.standins.controller import Setup


def why_no_room(
    setup: Setup, held: HeldRecords, key: RecordKey, body: Body, *, is_new: bool
) -> str:
    """Say why a record has no place; nothing when it has one. What cannot be read is told elsewhere."""
    if key.kind is RecordKind.SCHEDULE:
        is_over = setup.most_schedules is not None and held.schedule_count >= setup.most_schedules
        return "too_many_schedules" if is_new and is_over else ""
    if key.kind is not RecordKind.CARDHOLDER or not isinstance(body, dict):
        return ""
    limits: tuple[tuple[int | None, Callable[[], int], str], ...] = (
        (setup.most_memberships, lambda: len(body.get("memberships", ())), "too_many_groups"),
        (setup.most_cards, lambda: len(body.get("cards", ())), "too_many_cards"),
        (setup.longest_name, lambda: len(str(body.get("name", ""))), "too_long"),
        (setup.latest, lambda: latest_in(body), "too_late"),
        (setup.longest_span, lambda: widest_in(body), "too_wide"),
        (setup.most_templates, lambda: _templates_with(held, key, body), "no_room_for_templates"),
        (setup.capacity, lambda: held.holder_count + 1 if is_new else 0, "full"),
    )
    return next((why for most, count, why in limits if most is not None and count() > most), "")


def _templates_with(held: HeldRecords, key: RecordKey, body: Body) -> int:
    """Return how many templates it would hold with a record; none where the record brings none."""
    wanted = sum(
        "record" in template for name in ("fingers", "faces") for template in body.get(name, ())
    )
    return held.template_count_without(key.id) + wanted if wanted else 0
