"""Small writes that may be left out: who was seen when. They never let a request wait."""

from contextlib import AbstractContextManager

from django.db import connections

from cadrin.config.sqlite.base import DatabaseWrapper


def hurried() -> AbstractContextManager[None]:
    """Within this, a write that cannot begin at once raises OperationalError instead of waiting for
    its turn.
    """
    wrapper = connections["default"]
    assert isinstance(wrapper, DatabaseWrapper)
    return wrapper.hurried()
