"""The plain permissions that every act and every endpoint names one of, and the roles that come
with Cadrin.
"""

from collections.abc import Iterable
from enum import StrEnum


class Permission(StrEnum):
    SEE = "see"
    ENROL = "enrol"
    EDIT = "edit"
    SUSPEND = "suspend"
    ISSUE = "issue"
    BIOMETRICS = "biometrics"
    LOWER_QUALITY = "lower_quality"
    TEMPLATES = "templates"
    ACCESS = "access"
    GROUPS = "groups"
    DOORS = "doors"
    DELIVER = "deliver"
    BENCH = "bench"
    BIRTH_DATES = "birth_dates"
    EXPORT = "export"
    ERASE = "erase"
    JOURNAL = "journal"
    SET_UP = "set_up"
    OPERATORS = "operators"


HOUSE_WIDE = frozenset(
    {
        Permission.GROUPS,
        Permission.DELIVER,
        Permission.ERASE,
        Permission.SET_UP,
        Permission.OPERATORS,
    }
)
"""What reaches beyond any one site, department or company: whoever is kept to some never has it."""

READY_MADE = {
    "Administrator": frozenset(Permission),
    "Badging desk": frozenset(
        {
            Permission.SEE,
            Permission.ENROL,
            Permission.EDIT,
            Permission.SUSPEND,
            Permission.ISSUE,
            Permission.BIOMETRICS,
            Permission.ACCESS,
            Permission.DOORS,
            Permission.BENCH,
            Permission.BIRTH_DATES,
            Permission.EXPORT,
        }
    ),
    "Reception": frozenset({Permission.SEE, Permission.SUSPEND}),
    "Auditor": frozenset(
        {Permission.SEE, Permission.BIRTH_DATES, Permission.EXPORT, Permission.JOURNAL}
    ),
}
"""The roles a new house has; a site can change them and make its own."""


def known(names: Iterable[str]) -> frozenset[Permission]:
    """Return the permissions with these names; one that is no longer known counts for nothing."""
    wanted = set(names)
    return frozenset(permission for permission in Permission if permission.value in wanted)
