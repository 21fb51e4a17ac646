"""Skerrow Point Marine Station: places, hours, groups and names of the demo. All invented."""

from pathlib import Path
from typing import NamedTuple

from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.made_up.laying import Laid
from cadrin.core.people.custom_fields import FieldType
from cadrin.people.commands.custom_fields import ChoiceDraft, OwnFieldDraft

_HERE = Path(__file__).parent

ZONE = "Europe/London"
EVERY_DAY, WEEKDAYS = range(7), range(5)


def _hours(days: "range | tuple[int, ...]", *windows: tuple[int, int]) -> list[list[int]]:
    return [[day, start, end] for day in days for start, end in windows]


def _clock(hour: int, minute: int = 0) -> int:
    return hour * 60 + minute


FORMATS = ("26-bit", "34-bit", "37-bit", "UID, 7 bytes")
"""Those of the formats that come with Cadrin that are in use here."""
BOXES = (
    ("26-bit", (87, 4600, 4799), "Station Office, drawer 2", "white cards"),
    ("26-bit", (87, 5500, 5599), "Slip Office", "for contractors"),
    ("34-bit", (3, 1, 200), "Station Office, safe", "new readers at the Cold Room"),
)
"""Format; facility code, first and last number; where it is kept; remarks."""
KEYPADS = ("Reception desk",)
READERS = {
    "Records Room": (((Factor.CARD, Factor.PIN),), ()),
    "Chamber": (((Factor.CARD, Factor.PIN),), ()),
    "Control Watch": (((Factor.CARD,), (Factor.PIN,)), ()),
    "Slip Gate": (((Factor.CARD,), (Factor.PLATE,)), ()),
    "Switch Room": (((Factor.CARD, Factor.FINGER),), ()),
    "Boat Shed": (((Factor.CARD,), (Factor.FINGER,)), ()),
    "Meeting Tower": (((Factor.CARD,), (Factor.FACE,)), ()),
    "Sea Intake": (((Factor.CARD,),), ("34-bit", "37-bit")),
}
"""What some readers ask for, and the formats they read; those with a keypad besides are at desks.
"""
BY_HOURS = {"Switch Room": ("Office hours", ((Factor.CARD,),))}
"""What some readers ask for instead while a schedule is open."""
SCANNERS_AT_DESKS = {"Reception desk": True, "Slip Office desk": False}
"""Desk readers that take fingers, and whether they give pictures."""
FACE_READERS_AT_DESKS = ("Reception desk",)
WITH_FINGERS = (
    ("Turbine Crew", 0, (Finger.RIGHT_INDEX, Finger.LEFT_INDEX), Laid.WELL),
    ("Turbine Crew", 1, (Finger.RIGHT_THUMB,), Laid.DRY),
    ("Vessel Operations", 7, (Finger.RIGHT_MIDDLE,), Laid.WELL),
)
"""Whose fingers are enrolled: the department, the place in it, which, and how they were laid."""
WITH_FACES = (("Station Office", 1), ("Station Office", 4))
"""Whose face is enrolled: the department, and the place in it."""
FACE_MATCH = 0.33
"""How far apart two pictures of one face may be: drawn faces are more alike than people are."""
BY_CARD_ALONE = ("Turbine Crew", 2, "Burned hand, until it has healed")
WITH_PINS = ("Station Office", "Control Watch", "Dive Team")
"""The departments whose people have a PIN as soon as they have a card."""
SCHEDULES = {
    "Round the clock": _hours(EVERY_DAY, (0, _clock(24))),
    "Office hours": _hours(WEEKDAYS, (_clock(7, 30), _clock(18, 30))),
    "Laboratory day": _hours(range(6), (_clock(6), _clock(22))),
    # two windows a day, the second across midnight
    "Tide watch": _hours(EVERY_DAY, (_clock(4), _clock(10)), (_clock(21, 30), _clock(26, 30))),
    "Visitors' season": _hours(range(1, 7), (_clock(10), _clock(17))),
    "Store hours": [*_hours(WEEKDAYS, (_clock(8), _clock(16))), [5, _clock(8), _clock(12)]],
}


class ControllerPlace(NamedTuple):
    """A controller: ``capacity`` in cardholders, ``most_cards`` of each, ``clock_off_seconds`` of
    its own clock.

    It keeps ``most_templates`` of fingers. Of a name it keeps ``longest_name`` letters, and its
    calendar ends at ``latest``.
    """

    name: str
    areas: tuple[str, ...] = ()
    capacity: int | None = None
    most_cards: int | None = None
    longest_name: int | None = None
    latest: int | None = None
    longest_span: int | None = None
    clock_off_seconds: int = 0
    is_on: bool = True
    desk_readers: tuple[str, ...] = ()
    most_templates: int | None = None


SKERROW, ARDLE = "Skerrow Point", "Ardle Slip"
AREAS = {
    "Gatehouse": (SKERROW, ("Main Gate", "Visitors' Hall")),
    "Offices": (SKERROW, ("Office Wing", "Records Room", "Meeting Tower")),
    "Hydrography": (SKERROW, ("Chart Room", "Survey Store")),
    "Sea-Life Lab": (SKERROW, ("Lab Front", "Wet Lab", "Cold Room", "Tank Hall")),
    "Tidal Array": (SKERROW, ("Turbine Hall", "Switch Room", "Control Watch")),
    "Dive Centre": (SKERROW, ("Dive Locker", "Compressor Room", "Chamber")),
    "Quay": (SKERROW, ("Quay Gate", "Boat Shed")),
    "Plant": (SKERROW, ("Pump House", "Sea Intake")),
    "Slip Yard": (ARDLE, ("Slip Gate",)),
    "Slip and Store": (ARDLE, ("Slip Office", "Slip Store")),
}
FROM = {
    "Offices": "Gatehouse",
    "Hydrography": "Gatehouse",
    "Sea-Life Lab": "Gatehouse",
    "Tidal Array": "Gatehouse",
    "Dive Centre": "Quay",
    "Slip and Store": "Slip Yard",
}
"""From where the doors of an area lead; the others lead from outside."""
CONTROLLERS = (
    ControllerPlace(
        "Headland North", ("Gatehouse", "Offices", "Hydrography", "Sea-Life Lab"), capacity=5000
    ),
    ControllerPlace(
        "Headland South",
        ("Tidal Array", "Quay", "Dive Centre"),
        capacity=2000,
        latest=2**31 - 1,
        longest_span=10 * 365 * 86_400,
        most_templates=500,
    ),
    ControllerPlace("Pump House", ("Plant",), capacity=100, is_on=False),
    ControllerPlace(
        "Slip",
        ("Slip Yard", "Slip and Store"),
        capacity=1000,
        most_cards=3,
        longest_name=24,
        clock_off_seconds=420,
    ),
    ControllerPlace("Desks", desk_readers=("Reception desk", "Slip Office desk")),
)
WITH_A_READER_ON_THE_WAY_OUT = ("Main Gate", "Cold Room", "Control Watch", "Slip Gate")


class DoorDoes(NamedTuple):
    """What a door does: the schedule in which the first person unlocks it, and seconds."""

    unlocked: str = ""
    second_seconds: int | None = None
    consent_seconds: int | None = None
    held_seconds: int | None = None
    has_exit_button: bool = False
    interlock: tuple[str, ...] = ()


DOORS_DO = {
    "Main Gate": DoorDoes(held_seconds=90),
    "Visitors' Hall": DoorDoes(unlocked="Visitors' season"),
    "Records Room": DoorDoes(held_seconds=30),
    "Cold Room": DoorDoes(held_seconds=60, has_exit_button=True),
    "Compressor Room": DoorDoes(second_seconds=20, interlock=("Dive Locker",)),
    "Slip Office": DoorDoes(consent_seconds=45),
}
AREAS_COUNT = {"Slip Yard": ("soft", 720, 60)}
"""What becomes of whoever comes in twice, when they are forgiven (minutes), and how many may be in."""
RELEASE_GROUPS = {
    "Headland, ways out": ("Main Gate", "Visitors' Hall", "Office Wing", "Lab Front", "Quay Gate"),
    "Slip, ways out": ("Slip Gate", "Slip Office"),
}
HOLIDAY_KINDS = ("Public holiday", "Storm closure", "Closes at noon")
CALENDAR = "Skerrow Point holidays"
FOLLOWS_THE_CALENDAR = ("Office hours", "Store hours")

GROUPS = {
    "Everybody by day": {
        "Main Gate": "Office hours",
        "Office Wing": "Office hours",
        "Visitors' Hall": "Office hours",
    },
    "Station Office": {
        "Main Gate": "Laboratory day",
        "Office Wing": "Laboratory day",
        "Records Room": "Office hours",
        "Meeting Tower": "Office hours",
    },
    "Hydrography": {
        "Main Gate": "Laboratory day",
        "Chart Room": "Laboratory day",
        "Survey Store": "Store hours",
    },
    "Wet Lab": {
        "Lab Front": "Laboratory day",
        "Wet Lab": "Laboratory day",
        "Tank Hall": "Laboratory day",
    },
    "Cold Room": {"Lab Front": "Round the clock", "Cold Room": "Laboratory day"},
    "Turbine Crew": {
        "Main Gate": "Round the clock",
        "Turbine Hall": "Tide watch",
        "Switch Room": "Tide watch",
        "Quay Gate": "Round the clock",
    },
    "Control Watch": {"Main Gate": "Round the clock", "Control Watch": "Round the clock"},
    "Dive Team": {
        "Quay Gate": "Laboratory day",
        "Dive Locker": "Laboratory day",
        "Compressor Room": "Laboratory day",
        "Chamber": "Round the clock",
    },
    "Vessels": {
        "Quay Gate": "Round the clock",
        "Boat Shed": "Round the clock",
        "Slip Gate": "Round the clock",
        "Slip Office": "Store hours",
    },
    "Slip Store": {"Slip Gate": "Store hours", "Slip Store": "Store hours"},
    "Pumps": {"Pump House": "Round the clock", "Sea Intake": "Round the clock"},
    "Visitors": {"Main Gate": "Visitors' season", "Visitors' Hall": "Visitors' season"},
    "Volunteers": {
        "Main Gate": "Laboratory day",
        "Tank Hall": "Visitors' season",
        "Visitors' Hall": "Laboratory day",
    },
}


GROUPS_LOOKED_AFTER = {
    "Cold Room": ("Samples below -60 degrees; trained people only", "ines", 90, None),
    "Control Watch": ("The watch that runs the array", "ines", 180, 170),
    "Slip Store": ("Stores across the sound", "kester", 365, 30),
}
"""What they are for, who looks through their people and how often, and when it was done (days ago)."""
DOOR_LOOKED_AFTER = ("Chamber", "ines", 180)
"""A door, who looks through those who may open it, and how often."""
GROUP_MADE_TWICE = (
    "Wet Lab again",
    "Made when the first could not be found",
    {"Lab Front": "Laboratory day", "Wet Lab": "Laboratory day", "Tank Hall": "Laboratory day"},
    "S-00149",
)
GROUP_OF_AN_AREA = ("Quay, all doors", "Whoever moors a vessel", "Quay", "Round the clock")


class DepartmentPlace(NamedTuple):
    """A department: how many people it has, and the groups they are in."""

    number: str
    name: str
    parent: str | None
    people: int
    groups: tuple[str, ...]


DEPARTMENTS = (
    DepartmentPlace("10", "Station Office", None, 18, ("Station Office",)),
    DepartmentPlace("20", "Hydrography", None, 17, ("Everybody by day", "Hydrography")),
    DepartmentPlace("30", "Sea-Life Lab", None, 9, ("Everybody by day", "Wet Lab")),
    DepartmentPlace("31", "Wet Lab", "30", 16, ("Everybody by day", "Wet Lab")),
    DepartmentPlace("32", "Cold Room", "30", 8, ("Everybody by day", "Wet Lab", "Cold Room")),
    DepartmentPlace("40", "Tidal Array", None, 6, ("Everybody by day",)),
    DepartmentPlace("41", "Turbine Crew", "40", 20, ("Turbine Crew",)),
    DepartmentPlace("42", "Control Watch", "40", 12, ("Control Watch",)),
    DepartmentPlace("50", "Dive Team", None, 14, ("Everybody by day", "Dive Team")),
    DepartmentPlace("60", "Vessel Operations", None, 16, ("Vessels", "Slip Store")),
    DepartmentPlace("70", "Estates", None, 14, ("Everybody by day", "Slip Store")),
    DepartmentPlace("80", "Visitors' Hall", None, 6, ("Visitors",)),
)
COMPANIES = ("Skerrow Point Marine Station", "Harl & Tway Fitters", "Brightwrack Cleaning")
SHORT_NAMES = ("SPMS", "H&T", "BWC")
KINDS = ("Employee", "Contractor", "Visitor", "Volunteer", "Post")
CONTRACTORS, VOLUNTEERS, DEPARTED = 9, 12, 4

LOCKER, SURVIVAL, BOOTS, SHIFT, FIRST_AID = (
    "Locker",
    "Sea survival until",
    "Boot size",
    "Shift",
    "First aider",
)
CUSTOM_FIELDS = (
    OwnFieldDraft(
        {"en": LOCKER, "de": "Spind"},
        {"en": "As painted on its door"},
        FieldType.TEXT,
        is_unique=True,
    ),
    OwnFieldDraft(
        {"en": SURVIVAL, "de": "Seenotübung bis"},
        {"en": "Needed for Quay and Vessels"},
        FieldType.DATE,
    ),
    OwnFieldDraft({"en": BOOTS, "de": "Stiefelgröße"}, {}, FieldType.NUMBER),
    OwnFieldDraft(
        {"en": SHIFT, "de": "Schicht"},
        {},
        FieldType.CHOICE,
        (
            ChoiceDraft("day", {"en": "Day", "de": "Tag"}),
            ChoiceDraft("tide", {"en": "Tide", "de": "Tide"}),
            ChoiceDraft("night", {"en": "Night", "de": "Nacht"}),
        ),
    ),
    OwnFieldDraft({"en": FIRST_AID, "de": "Ersthelfer"}, {}, FieldType.YES_NO),
)

FIRST_NAMES = (_HERE / "first_names.txt").read_text(encoding="utf-8").split()
LAST_NAMES = (_HERE / "last_names.txt").read_text(encoding="utf-8").split()
