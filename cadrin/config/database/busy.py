"""That others were writing for too long."""

from django.db.utils import OperationalError


class WriterBusy(OperationalError):
    """Others were writing for so long that this write was given up before it began."""


def is_busy(error: BaseException | None) -> bool:
    """Say whether others were writing for too long, here or by SQLite's own word: nothing of it was
    done.
    """
    return isinstance(error, WriterBusy) or (
        isinstance(error, OperationalError) and ("locked" in str(error) or "busy" in str(error))
    )
