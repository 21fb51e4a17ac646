"""How doors stand, with whoever went through last; what happened in an emergency."""

from datetime import datetime, timedelta
from typing import Any

from django.db.models import OuterRef, Q, Subquery

from cadrin.activity.models import Read
from cadrin.activity.queries import SHOWN, reads_seen, with_present_holders
from cadrin.core.decision.reasons import Reason
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.sites.door_states import door_states, get_release, release_shown
from cadrin.sites.queries import doors_within

MOST_IN_A_REPORT = 2000


def doors_now(actor: Actor, at: datetime) -> Rows:
    """Return how each door within reach stands, who went through last, and who asks to be let in."""
    seen = reads_seen(actor)
    granted = Read.objects.filter(seen, door=OuterRef("pk"), reason=Reason.GRANTED).order_by("-id")
    latest = Read.objects.filter(door=OuterRef("pk")).exclude(reason="").order_by("-id")
    rows = doors_within(actor).values_list(
        "id", Subquery(granted.values("id")[:1]), Subquery(latest.values("id")[:1])
    )
    ids = {door_id: (last, asked) for door_id, last, asked in rows}
    wanted = {id_ for pair in ids.values() for id_ in pair if id_ is not None}
    known = {read.pk: read for read in Read.objects.filter(seen, pk__in=wanted)}
    came = {door_id: known[last].at for door_id, (last, _) in ids.items() if last in known}
    found = []
    for state in door_states(actor, at, came):
        last, asked = (known.get(id_ or 0) for id_ in ids.get(state["id"], (None, None)))
        found.append(
            {
                **state,
                "last": _person(last),
                "asks_in": _asks_in(asked, state["consent_seconds"], at),
            }
        )
    return found


def _asks_in(latest: Read | None, seconds: int | None, at: datetime) -> dict[str, Any] | None:
    """Return who asks to be let in, and until when: the latest at a door, while there is time."""
    if latest is None or seconds is None or latest.reason != Reason.CONSENT_AWAITED:
        return None
    # by the clock of its controller, which may be off
    asked_at = latest.at - timedelta(seconds=latest.clock_off_seconds or 0)
    until = asked_at + timedelta(seconds=seconds)
    return {**(_person(latest) or {}), "until": until} if at < until else None


def _person(read: Read | None) -> dict[str, Any] | None:
    if read is None:
        return None
    return {
        "read_id": read.pk,
        "at": read.at,
        "reader": read.reader_name,
        "name": read.cardholder_name,
        "cardholder_id": read.cardholder_id,
    }


def report_of_release(actor: Actor, release_id: int, at: datetime) -> dict[str, Any]:
    """Return what happened at the doors of an emergency from its beginning to its end, oldest first.

    Raises NotFound.
    """
    release, door_ids = get_release(actor, release_id)
    during = Q(door__in=door_ids, at__gte=release.at, at__lte=release.ended_at or at)
    reads = Read.objects.filter(reads_seen(actor) & during).order_by("at", "id")
    rows = with_present_holders(actor, list(reads.values(*SHOWN)[:MOST_IN_A_REPORT]))
    return {**release_shown(release), "group": release.group.name, "reads": rows}
