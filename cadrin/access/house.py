"""What Cadrin knows of doors and people just now, as far as one read depends on it."""

from cadrin.access.presence import people_counted_in, whereabouts
from cadrin.core.access.plan import Holder, Plan
from cadrin.core.doors.rules import ANY_DOOR
from cadrin.core.doors.state import NOBODY_THERE, DoorState, Snapshot
from cadrin.sites.door_states import doors_open_since


def house_now(reader_id: int, holder: Holder | None, plan: Plan) -> Snapshot:
    """Return how the doors stand that this one waits for, and who is in the areas on both its sides."""
    rules = plan.doors.get(plan.door_of_reader.get(reader_id, 0), ANY_DOOR)
    if rules == ANY_DOOR:
        return NOBODY_THERE
    doors = {
        door_id: DoorState(open_since=since)
        for door_id, since in doors_open_since(rules.interlock).items()
    }
    counting = [
        id_ for id_ in (rules.from_area, rules.to_area) if plan.areas.get(id_ or 0) is not None
    ]
    people = people_counted_in(counting)
    if holder is not None:
        people |= whereabouts([holder.id])
    return Snapshot(doors, people)
