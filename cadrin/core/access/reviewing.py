"""When the people of an access group are to be looked through again."""

from datetime import datetime, timedelta
from enum import StrEnum

SOON = timedelta(days=14)


class ReviewState(StrEnum):
    """Not asked for, not yet due, due within two weeks, or overdue."""

    NONE = "none"
    DONE = "done"
    SOON = "soon"
    OVERDUE = "overdue"


def due_at(last: datetime | None, days: int | None) -> datetime | None:
    """Return when the next review is due; None where none is asked for, and where the first one is
    due already.
    """
    return last + timedelta(days=days) if last is not None and days is not None else None


def review_state(last: datetime | None, days: int | None, at: datetime) -> ReviewState:
    """Say how a review stands that is to be done every so many days; one that never was is overdue."""
    if days is None:
        return ReviewState.NONE
    due = due_at(last, days)
    if due is None or at >= due:
        return ReviewState.OVERDUE
    return ReviewState.SOON if at >= due - SOON else ReviewState.DONE
