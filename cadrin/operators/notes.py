"""Small writes that may be left out: who was seen when. They never let a request wait."""

from contextlib import AbstractContextManager

from cadrin.config.database.asking import database


def hurried() -> AbstractContextManager[None]:
    """Within this, a write that cannot begin at once raises OperationalError instead of waiting for
    its turn.
    """
    return database().hurried()
