"""Which acts take rights away: what they lead to is sent before everything else that waits."""

from collections.abc import Callable, Mapping
from datetime import datetime
from typing import Any

from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.validity import Standing

Changes = Mapping[str, tuple[Any, Any]]
"""Field to (before, after); instants as text."""

REMOVED, REPLACED = "removed", "replaced"


def takes_rights_away(action: str, changes: Changes) -> bool:
    """Say whether an act takes from its cardholder something that may open a door now; in doubt it
    does.

    >>> takes_rights_away("membership.added", {"expiry_at": (None, "2026-06-01T12:00:00+00:00")})
    False
    >>> takes_rights_away("membership.changed", {"expiry_at": (None, "2026-06-01T12:00:00+00:00")})
    True
    >>> takes_rights_away("finger.changed", {"is_suspended": (False, True)})
    True
    >>> takes_rights_away("cardholder.changed", {"standing": ("suspended", "active"), "title": ("", "Diver")})
    False
    """
    verb = action.rpartition(".")[2]
    if verb in (REMOVED, REPLACED):
        return True
    if verb in ("added", "enrolled", "issued", "set"):
        return False
    return any(
        field in _TAKES and _TAKES[field](before, after)
        for field, (before, after) in changes.items()
    )


def _ends_earlier(before: str | None, after: str | None) -> bool:
    return after is not None and (
        before is None or datetime.fromisoformat(after) < datetime.fromisoformat(before)
    )


def _begins_later(before: str | None, after: str | None) -> bool:
    return after is not None and (
        before is None or datetime.fromisoformat(after) > datetime.fromisoformat(before)
    )


_TAKES: Mapping[str, Callable[[Any, Any], bool]] = {
    "standing": lambda _, after: after != Standing.ACTIVE.value,
    "status": lambda _, after: after != CardStatus.ISSUED.value,
    "expiry_at": _ends_earlier,
    "activation_at": _begins_later,
    "suspended_until": lambda before, after: (
        before is not None
    ),  # a suspension that lasts longer, or for good
    "hours": lambda _, after: bool(after),
    "use_limit": lambda _, after: after is not None,
    "issue_level": lambda *_: True,
    "opens_alone": lambda _, after: not after,
    "is_suspended": lambda _, after: bool(after),
}
