"""What an operator decided about an intake, as it is kept; what is not decided is proposed or asked."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum

from cadrin.core.intake.dates import DateOrder, ShortYears
from cadrin.core.intake.table import ReadingChoices
from cadrin.core.intake.targets import Target


class ForExisting(StrEnum):
    """What a column does to people who are there already. An empty cell never changes anything."""

    OVERWRITE = "overwrite"
    FILL = "fill"
    LEAVE = "leave"


class Missing(StrEnum):
    """What becomes of people who are not in the file."""

    NOTHING = "nothing"
    SUSPENDED = "suspended"
    DEPARTED = "departed"


class Newcomers(StrEnum):
    """What becomes of rows whose person is not in the register."""

    ENROL = "enrol"
    LEAVE_OUT = "leave_out"


class MatchBy(StrEnum):
    """How the person of a row is found in the register."""

    NUMBER = "number"
    EXTERNAL_ID = "external_id"
    EMAIL = "email"
    CARD = "card"
    NAME_AND_BIRTH = "name_and_birth"
    PHOTO = "photo"
    NOBODY = "nobody"


def as_told(cell: str) -> str:
    """Return a cell as it is told, and known by where it is mended: what no text can hold is seen."""
    return cell.strip().replace("\0", "\N{SYMBOL FOR NULL}")


@dataclass(frozen=True, slots=True)
class ColumnChoice:
    """What a column is taken for, and how it is read. ``is_guess`` until somebody decided it."""

    target: str = ""
    existing: ForExisting = ForExisting.OVERWRITE
    order: DateOrder = DateOrder.UNSAID
    short_years: ShortYears = ShortYears.UNSAID
    width: int = 0
    """Digits to which a number is filled up with zeros that it lost; 0 leaves it as it is."""
    replaced: Mapping[str, str] = field(default_factory=dict)
    """What a cell says, to what it is taken to say, wherever the column says so."""
    is_guess: bool = True


@dataclass(frozen=True, slots=True)
class Defaults:
    """What the file does not say, for all rows; for newcomers alone, but for ``standing``."""

    department_id: int | None = None
    kind_id: int | None = None
    company_id: int | None = None
    activation: str = ""
    expiry: str = ""
    """Days or instants as ISO 8601 writes them."""
    group_ids: tuple[int, ...] = ()
    with_proposed_groups: bool = False
    """The groups that each newcomer's department proposes, as well."""
    format_id: int | None = None
    facility_code: int | None = None
    first_card: int | None = None
    """Cards in sequence from here for newcomers whose row names none, as far as they are free."""
    pins: str = ""
    """Empty, ``listed`` or ``mailed``: PINs are generated for newcomers whose row has none."""
    standing: str = ""
    """For everybody in the file: a list of leavers."""


@dataclass(frozen=True, slots=True)
class Choices:
    """Everything that was decided about an intake."""

    reading: ReadingChoices = field(default_factory=ReadingChoices)
    header_row: int | None = None
    """Where the headings are, from 1; 0 for none; None is found."""
    first_row: int | None = None
    columns: Mapping[int, ColumnChoice] = field(default_factory=dict)
    defaults: Defaults = field(default_factory=Defaults)
    match_by: MatchBy = MatchBy.NUMBER
    match_field: int = 0
    """A custom field to match by, in place of ``match_by``; 0 for none."""
    newcomers: Newcomers = Newcomers.ENROL
    missing: Missing = Missing.NOTHING
    missing_department_id: int | None = None
    missing_company_id: int | None = None
    left_out: frozenset[int] = frozenset()
    """Rows, by their number in the file."""
    cells: Mapping[tuple[int, int], str] = field(default_factory=dict)
    """(row, column) to what it shall say."""
    same_as: Mapping[int, int] = field(default_factory=dict)
    """Row to the cardholder that it is about; 0 for somebody new, whoever looks alike."""

    accepted: frozenset[str] = frozenset()
    """Codes of doubts that are none: whoever looks alike is somebody else."""

    def said(self, row: int, column: int, cell: str) -> str:
        """Return what a cell is taken to say: mended by itself, or as its like in the column."""
        mended = self.cells.get((row, column))
        if mended is not None:
            return mended
        choice = self.columns.get(column)
        return choice.replaced.get(as_told(cell), cell) if choice and choice.replaced else cell

    def with_columns(self, columns: Mapping[int, ColumnChoice]) -> "Choices":
        return replace(self, columns=columns)

    def column_for(self, target: str) -> int | None:
        """Return the first column that is taken for a target, or None."""
        return next((n for n, choice in self.columns.items() if choice.target == target), None)

    @property
    def can_match(self) -> bool:
        """Say whether the file has what people are matched by."""
        if self.match_field:
            return self.column_for(f"own.{self.match_field}") is not None
        wanted = {
            MatchBy.NUMBER: (Target.NUMBER,),
            MatchBy.EXTERNAL_ID: (Target.EXTERNAL_ID,),
            MatchBy.EMAIL: (Target.EMAIL,),
            MatchBy.NAME_AND_BIRTH: (Target.BORN_ON,),
            MatchBy.PHOTO: (Target.PHOTO,),
            MatchBy.NOBODY: (),
        }
        taken_for = {choice.target for choice in self.columns.values()}
        if self.match_by is MatchBy.CARD:
            return bool(taken_for & {Target.CARD, Target.CARD_NUMBER})
        return taken_for.issuperset(wanted[self.match_by])
