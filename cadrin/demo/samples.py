"""Lists to try, as they come by mail: the season's volunteers with the faults that such lists have."""

import csv
import io
import zipfile
from collections.abc import Callable
from datetime import date
from typing import NamedTuple

from openpyxl import Workbook
from PIL import Image

from cadrin.core.made_up.face.drawing import drawn
from cadrin.core.made_up.face.person import person

_HEADINGS = ("Nr", "Name", "First name", "E-mail", "Born", "Team", "Starts", "Ends", "Groups")


class _Volunteer(NamedTuple):
    number: str
    last_name: str
    first_name: str
    born: str
    team: str = "Visitors' Hall"
    email: str = ""

    @property
    def address(self) -> str:
        return self.email or f"{self.number}@volunteers.example"


_VOLUNTEERS = (
    _Volunteer("00471", "Ångström", "Zoë", "14.03.1998"),
    _Volunteer("00472", "Müller", "Søren", "02.11.1975"),
    _Volunteer("473", "Fjeld", "Åse", "30.02.1991"),  # no such day, and zeros that were lost
    _Volunteer("474", "O'Carroll", "Déirdre", "21.06.2001", "Tank hall team"),
    _Volunteer("00475", "Brae", "Callum", "05.12.1988", "Tank hall team"),
    _Volunteer("00476", "Nørgaard", "Maja", "17.01.1969"),
    _Volunteer("00477", "Penhallow", "Jory", "28.02.2004", "Tank hall team"),
    _Volunteer("00478", "Straße", "Anselm", "11.08.1993"),
    # the same person, sent twice
    _Volunteer("00479", "Ångström", "Zoë", "14.03.1998", email="00471@volunteers.example"),
    _Volunteer("480", "Ravn", "Ingrid", "23.04.1982"),
)
_FACES = {"00471": 301, "00472": 302, "00475": 303, "00476": 304, "00478": 305}


def _starts(volunteer: _Volunteer, year: int) -> date:
    return date(year, 7, 5 + _VOLUNTEERS.index(volunteer) % 4)


def messy_csv(today: date) -> bytes:
    """Return the list as somebody's spreadsheet wrote it: semicolons, an old encoding, a title above,
    days that could be months.
    """
    year = today.year + 1
    text = io.StringIO()
    writer = csv.writer(text, delimiter=";", lineterminator="\r\n")
    writer.writerow([f"Volunteers {year}"])
    writer.writerow([])
    writer.writerow(_HEADINGS)
    for one in _VOLUNTEERS:
        writer.writerow(
            (
                one.number,
                one.last_name,
                one.first_name,
                one.address,
                one.born,
                one.team,
                f"{_starts(one, year):%d/%m/%Y}",
                f"30.09.{year}",
                "Volunteers",
            )
        )
    return text.getvalue().encode("cp1252")


def workbook(today: date) -> bytes:
    """Return the list as a workbook: days are days, numbers are numbers, a photo is named for some."""
    year = today.year + 1
    book = Workbook()
    notes = book.active
    assert notes is not None
    notes.title = "Read me"
    sheet = book.create_sheet("Volunteers", 0)
    sheet.append([*_HEADINGS, "Photo"])
    for one in _VOLUNTEERS:
        day, month, born_year = map(int, one.born.split("."))
        born = date(born_year, month, day) if day < 30 else one.born
        photo = f"{one.number}.jpg" if one.number in _FACES else ""
        sheet.append(
            [
                int(one.number),
                one.last_name,
                one.first_name,
                one.address,
                born,
                one.team,
                _starts(one, year),
                date(year, 9, 30),
                "Volunteers",
                photo,
            ]
        )
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()


def photos(today: date) -> bytes:
    """Return portraits that Cadrin drew, named by number."""
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w") as archive:
        for number, seed in _FACES.items():
            picture = io.BytesIO()
            Image.fromarray(drawn(person(seed))).save(picture, "JPEG", quality=90)
            archive.writestr(f"portraits/{number}.jpg", picture.getvalue())
    return file.getvalue()


def leavers(today: date) -> bytes:
    """Return a list of people who have left, by number."""
    rows = "".join(f"S-{number:05},{today:%Y-%m-%d}\n" for number in (21, 22, 23, 24))
    return f"Number,Last day\n{rows}".encode()


class Sample(NamedTuple):
    """A file to try: what it is about, as the screen words it, and how it is made."""

    name: str
    about: str
    make: Callable[[date], bytes]


SAMPLES = (
    Sample("volunteers.csv", "messy", messy_csv),
    Sample("volunteers.xlsx", "workbook", workbook),
    Sample("portraits.zip", "photos", photos),
    Sample("leavers.csv", "leavers", leavers),
)
