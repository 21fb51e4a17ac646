"""The plain permissions that every act and every endpoint names one of."""

from enum import StrEnum


class Permission(StrEnum):
    SEE = "see"
    ENROL = "enrol"
    EDIT = "edit"
    ISSUE = "issue"
    ACCESS = "access"
    DELIVER = "deliver"
    BENCH = "bench"
    BIRTH_DATES = "birth_dates"
    EXPORT = "export"
    ERASE = "erase"
    SET_UP = "set_up"


WORDS = {
    Permission.SEE: "See cardholders, access, delivery and activity",
    Permission.ENROL: "Enrol cardholders",
    Permission.EDIT: "Edit cardholders",
    Permission.ISSUE: "Issue, suspend and return cards",
    Permission.ACCESS: "Change access groups, schedules and memberships",
    Permission.DELIVER: "Check controllers and send records again",
    Permission.BENCH: "Use the test bench",
    Permission.BIRTH_DATES: "See dates of birth",
    Permission.EXPORT: "Export cardholders to files",
    Permission.ERASE: "Erase cardholders for good",
    Permission.SET_UP: "Set up departments, companies, own fields and the rules of the register",
}
