"""What the cells of a column say: each is read once for all rows that say the same."""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Final
from zoneinfo import ZoneInfo

from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.raw_reads import CardNumbers, RawRead
from cadrin.core.credentials.card.writings import COMMONEST_FIRST, Writing, readings_of
from cadrin.core.credentials.plate.plate import normalized_plate
from cadrin.core.errors import Invalid, Problem
from cadrin.core.export.tables import as_written
from cadrin.core.intake.choices import ColumnChoice
from cadrin.core.intake.dates import DateRule, Moment, instant_of, read_moment
from cadrin.core.intake.listed import BETWEEN_SEVERAL
from cadrin.core.intake.targets import OWN, Target
from cadrin.core.people.custom_fields import CustomField, FieldType, read_value
from cadrin.core.people.details import LANGUAGES
from cadrin.core.people.names import fold
from cadrin.core.validity import Standing

_PARTED = re.compile(r"(\d{1,15})\s*-\s*(\d{1,18})", re.ASCII)
"""A facility code and a number, as they are printed most often."""
NUMBER_ALONE = (Writing.NUMBER, Writing.NUMBER_HEX)
MOST_TOLD = 60
"""Characters of a cell that a problem repeats."""
_KEPT: Final = 50_000
"""Cells that are remembered for each column: most columns say a few things over and over."""

CardFound = tuple[int, int, int]
"""Format, facility code and card number."""
Names = Mapping[str, tuple[int, ...]]
"""A folded name to the ids of whatever is called so: one, or several that cannot be told apart."""


@dataclass(frozen=True, slots=True)
class Known:
    """What the site knows, as far as the cells of a file can name it."""

    zone: ZoneInfo
    this_year: int
    departments: Names = field(default_factory=dict)
    companies: Names = field(default_factory=dict)
    kinds: Names = field(default_factory=dict)
    groups: Names = field(default_factory=dict)
    standings: Mapping[str, str] = field(default_factory=dict)
    languages: Mapping[str, str] = field(default_factory=dict)
    custom_fields: Mapping[int, CustomField] = field(default_factory=dict)
    choices: Mapping[int, Mapping[str, str]] = field(default_factory=dict)
    """Custom field to folded label of a choice to its key."""
    formats: Mapping[int, CardFormat] = field(default_factory=dict)
    facility_codes: Mapping[int, frozenset[int]] = field(default_factory=dict)
    format_id: int | None = None
    facility_code: int | None = None
    """The format and facility code of cards that say none."""
    explain: Callable[[str], tuple[CardFound, ...]] = lambda text: ()
    """The number detective: the cards a text may be, the likeliest first; one where it is sure."""


Read = Any
"""What a cell says, as its target takes it; a Problem where it cannot be read."""


@dataclass(slots=True)
class ColumnReader:
    """Reads the cells of one column."""

    choice: ColumnChoice
    known: Known
    _read: dict[str, Read] = field(default_factory=dict)
    _reader: Callable[[str, ColumnChoice, Known], Read] | None = None

    def __post_init__(self) -> None:
        target = self.choice.target
        self._reader = _custom if target.startswith(OWN) else READERS.get(target, _text)

    def read(self, cell: str) -> Read:
        """Return what a cell says; an empty one says None."""
        try:
            return self._read[cell]
        except KeyError:
            pass
        text = as_written(cell).strip()
        found = self._reader(text, self.choice, self.known) if text and self._reader else None
        if len(self._read) < _KEPT:
            self._read[cell] = found
        return found


def _text(text: str, choice: ColumnChoice, known: Known) -> Read:
    return text


def _number(text: str, choice: ColumnChoice, known: Known) -> Read:
    if choice.width and text.isdecimal():
        return text.zfill(choice.width)
    return text


def _phones(text: str, choice: ColumnChoice, known: Known) -> Read:
    parts = text.replace("|", ";").replace("\n", ";").replace(" / ", ";").split(";")
    return tuple(part.strip() for part in parts if part.strip())


def several(text: str) -> list[str]:
    """Return the parts of a cell that names several: by semicolons, bars or lines, else by commas."""
    for between in (";", "|", "\n"):
        if between in text:
            return [part.strip() for part in text.split(between) if part.strip()]
    return [text]


def _moment(text: str, choice: ColumnChoice, known: Known) -> Moment | Problem:
    return read_moment(text, DateRule(known.this_year, choice.order, choice.short_years))


def _born_on(text: str, choice: ColumnChoice, known: Known) -> Read:
    found = _moment(text, choice, known)
    return found if isinstance(found, Problem) else found.day


def _activation(text: str, choice: ColumnChoice, known: Known) -> Read:
    found = _moment(text, choice, known)
    return found if isinstance(found, Problem) else instant_of(found, known.zone, is_end=False)


def _expiry(text: str, choice: ColumnChoice, known: Known) -> Read:
    found = _moment(text, choice, known)
    return found if isinstance(found, Problem) else instant_of(found, known.zone, is_end=True)


def _named(code: str, which: str) -> Callable[[str, ColumnChoice, Known], Read]:
    def read(text: str, choice: ColumnChoice, known: Known) -> Read:
        ids = getattr(known, which).get(fold(text), ())
        return ids or Problem(code, None, {"text": text[:MOST_TOLD]})

    return read


def _groups(text: str, choice: ColumnChoice, known: Known) -> Read:
    # a group may have a comma in its name: only where the whole is none is it parted there
    parts = several(text)
    if len(parts) == 1 and fold(parts[0]) not in known.groups and "," in text:
        parts = [part.strip() for part in text.split(",") if part.strip()]
    found = []
    for part in parts:
        ids = known.groups.get(fold(part))
        if not ids:
            return Problem("intake.no_such_group", None, {"text": part[:MOST_TOLD]})
        found.append(ids[0])
    return tuple(dict.fromkeys(found))


_YES = frozenset(
    ["yes", "y", "true", "t", "1", "x", "ja", "j", "wahr", "oui", "vrai", "si", "sim", "tak", "da"]
)
_NO = frozenset(
    ["no", "n", "false", "f", "0", "nein", "falsch", "non", "faux", "nee", "nej", "nei", "nie", "-"]
)


def _yes_no(text: str, choice: ColumnChoice, known: Known) -> Read:
    word = fold(text)
    if word in _YES or word in _NO:
        return word in _YES
    return Problem("intake.not_yes_or_no", None, {"text": text[:MOST_TOLD]})


def _standing(text: str, choice: ColumnChoice, known: Known) -> Read:
    standing = known.standings.get(fold(text))
    return (
        Standing(standing)
        if standing
        else Problem("intake.no_such_standing", None, {"text": text[:MOST_TOLD]})
    )


def _language(text: str, choice: ColumnChoice, known: Known) -> Read:
    word = fold(text)
    code = known.languages.get(word) or (
        word[:2] if word[:2] in LANGUAGES and word[2:3] in ("", "-", "_") else ""
    )
    return code or Problem("intake.no_such_language", None, {"text": text[:MOST_TOLD]})


def _plates(text: str, choice: ColumnChoice, known: Known) -> Read:
    parts = several(text)
    if len(parts) == 1 and "," in text:
        parts = text.split(",")
    return tuple(filter(None, map(normalized_plate, parts)))


def _custom(text: str, choice: ColumnChoice, known: Known) -> Read:
    custom_field = known.custom_fields.get(int(choice.target.removeprefix(OWN)))
    if custom_field is None:
        return None
    if custom_field.type is FieldType.DATE:
        found = _born_on(text, choice, known)
        return found if isinstance(found, Problem) else found.isoformat()
    if custom_field.type is FieldType.YES_NO:
        found = _yes_no(text, choice, known)
        return found if isinstance(found, Problem) else ("yes" if found else "no")
    if custom_field.type is FieldType.CHOICE:
        key = known.choices.get(custom_field.id, {}).get(fold(text))
        return key or Problem("intake.no_such_choice", None, {"text": text[:MOST_TOLD]})
    read = read_value(custom_field, text)
    return Problem(read.code, None, read.params) if isinstance(read, Problem) else read


def _whole(text: str, choice: ColumnChoice, known: Known) -> Read:
    return (
        int(text)
        if text.isdecimal() and text.isascii() and len(text) < 19
        else Problem("intake.not_a_whole_number", None, {"text": text[:MOST_TOLD]})
    )


def _cards(text: str, choice: ColumnChoice, known: Known) -> Read:
    found = []
    for part in several(text):
        card = read_card(part, known)
        if isinstance(card, Problem):
            return card
        found.append(card)
    return tuple(dict.fromkeys(found))


def read_card(text: str, known: Known) -> CardFound | Problem:
    """Return the card that a cell says: a raw read, as printed, or as a register writes it.

    In the format and with the facility code that were chosen, where they were; else the number
    detective must be sure.
    """
    not_read = Problem("intake.card_not_readable", None, {"text": text[:MOST_TOLD]})
    if (parted := _PARTED.fullmatch(text)) and (card := _card_parted(parted, known)):
        return card
    if ":" in text:
        try:
            raw = RawRead.parse(text.replace(" ", ""))
        except Invalid:
            return not_read
        decoded = [
            (format_id, *numbers)
            for format_id, layout in known.formats.items()
            if known.format_id in (None, format_id)
            and isinstance(numbers := layout.decode(raw), CardNumbers)
        ]
        return decoded[0] if len(decoded) == 1 else _unsure(decoded, text)
    if known.format_id is None:
        found = known.explain(text)
        return found[0] if len(found) == 1 else _unsure(found, text)
    layout = known.formats[known.format_id]
    codes = known.facility_codes.get(known.format_id, frozenset())
    if known.facility_code is not None:
        codes = frozenset([known.facility_code])
    readings = readings_of(text, layout, sorted(codes) if layout.facility_code else [0])
    if codes and layout.facility_code:
        # a number alone is one of the facility codes here, whatever else its bits may say
        readings = {
            numbers: way
            for numbers, way in readings.items()
            if way not in NUMBER_ALONE or numbers.facility_code in codes
        }
    commonest = min(readings.values(), key=COMMONEST_FIRST.index, default=None)
    found = tuple(
        (known.format_id, *numbers) for numbers, way in readings.items() if way is commonest
    )
    return found[0] if len(found) == 1 else _unsure(found, text)


def _card_parted(parted: re.Match[str], known: Known) -> CardFound | None:
    """Return the one card that a facility code and a number are here, or None."""
    numbers = CardNumbers(int(parted[1]), int(parted[2]))
    ids = (
        [known.format_id]
        if known.format_id is not None
        else [id_ for id_, codes in known.facility_codes.items() if numbers.facility_code in codes]
    )
    found = [
        (id_, *numbers)
        for id_ in ids
        if (layout := known.formats.get(id_))
        and layout.facility_code
        and not layout.problems_with(numbers)
    ]
    return found[0] if len(found) == 1 else None


def _unsure(found: "tuple[CardFound, ...] | list[CardFound]", text: str) -> Problem:
    told = BETWEEN_SEVERAL.join(f"{code}-{number}" for _, code, number in found[:4])
    code = "intake.card_ambiguous" if found else "intake.card_not_readable"
    return Problem(code, None, {"text": text[:MOST_TOLD], "cards": told})


READERS: Mapping[str, Callable[[str, ColumnChoice, Known], Read]] = {
    Target.NUMBER: _number,
    Target.PHONE: _phones,
    Target.LANGUAGE: _language,
    Target.BORN_ON: _born_on,
    Target.DEPARTMENT: _named("intake.no_such_department", "departments"),
    Target.COMPANY: _named("intake.no_such_company", "companies"),
    Target.KIND: _named("intake.no_such_kind", "kinds"),
    Target.STANDING: _standing,
    Target.ACTIVATION: _activation,
    Target.EXPIRY: _expiry,
    Target.EXTENDED_TIME: _yes_no,
    Target.CARD: _cards,
    Target.CARD_FACILITY: _whole,
    Target.CARD_NUMBER: _whole,
    Target.GROUPS: _groups,
    Target.PLATE: _plates,
}
"""How each target is read; the others are texts."""
