"""Take a file in: read it as a table, keep it sealed, guess what its columns are."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from itertools import chain, islice

from django.db import transaction

from cadrin.core.errors import Invalid, Problem
from cadrin.core.intake.choices import Choices, ColumnChoice, ForExisting, MatchBy, Newcomers
from cadrin.core.intake.guessing import (
    SAMPLED,
    Guess,
    Sureness,
    guessed_columns,
    guessed_header_row,
)
from cadrin.core.intake.reading import kind_of, read_table
from cadrin.core.intake.table import MOST_COLUMNS, MOST_ROWS, Cells, FileKind, ReadingChoices, Table
from cadrin.core.intake.targets import OWN, Target, heading_key
from cadrin.intake.actors import as_kept
from cadrin.intake.assessing import assess_if_short
from cadrin.intake.kept_choices import as_plain, choices_of
from cadrin.intake.knowing import what_is_known
from cadrin.intake.models import Intake, IntakeMapping
from cadrin.intake.photos import Archive
from cadrin.intake.states import INTAKE, IntakeState
from cadrin.intake.storing import LIST, PHOTOS, blocks_of, keep_file, keep_rows, kept_file, rows_in
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission

FORBIDDEN_WITHOUT = {
    Target.BORN_ON: Permission.BIRTH_DATES,
    Target.CARD: Permission.ISSUE,
    Target.CARD_NUMBER: Permission.ISSUE,
    Target.CARD_FACILITY: Permission.ISSUE,
    Target.CARD_LABEL: Permission.ISSUE,
    Target.PIN: Permission.ISSUE,
    Target.PLATE: Permission.ISSUE,
    Target.GROUPS: Permission.ACCESS,
}
"""What nobody brings in who may not set it by hand."""
HEADINGS_ALIKE = "intake.headings_alike"
ADDED_TO = (Target.CARD, Target.CARD_NUMBER, Target.GROUPS, Target.PLATE, Target.PIN)
"""What is given beside what somebody has, unless it is decided otherwise."""


@dataclass(slots=True)
class _Stats:
    """What is noticed of the rows while they are kept."""

    rows: int = 0
    width: int = 0
    longest: dict[int, int] | None = None
    led_by_zero: set[int] | None = None


def may_take(actor: Actor, target: str) -> bool:
    """Say whether an actor may bring in what a column is taken for."""
    needed = FORBIDDEN_WITHOUT.get(Target(target)) if not target.startswith(OWN) else None
    return needed is None or needed in actor.permissions


def take_file(actor: Actor, name: str, data: bytes, at: datetime) -> int:
    """Take a file in and return the intake's id. Raises Invalid, with nothing kept, or NotPermitted."""
    actor.require(Permission.ENROL)
    kind = kind_of(data)
    if kind is FileKind.PHOTOS:
        table = _table_of_photos(Archive(data))
        return _take(actor, name, kind, data, table, at)
    return _take(actor, name, kind, data, read_table(data, ReadingChoices()), at)


def _take(actor: Actor, name: str, kind: FileKind, data: bytes, table: Table, at: datetime) -> int:
    rows = iter(table.rows)
    sample = list(islice(rows, SAMPLED + 30))
    if not any(any(cell.strip() for cell in row) for row in sample):
        raise Invalid.of("intake.no_rows", "file")
    intake = Intake.objects.create(
        operator_id=actor.operator_id,
        operator_name=actor.name,
        address=actor.address,
        acts_as=as_kept(actor),
        at=at,
        name=" ".join(name.split())[:200] or kind.value,
        kind=kind.value,
    )
    try:
        keep_file(intake.pk, PHOTOS if kind is FileKind.PHOTOS else LIST, data)
        _read_in(actor, intake, replace(table, rows=chain(sample, rows)), sample, Choices(), at)
    except Exception:
        intake.delete()
        raise
    with transaction.atomic():
        told = {"file": (None, intake.name), "rows": (None, intake.rows)}
        record(actor, at, [Act("intake.taken", (About(INTAKE, intake.pk),), told)])
    assess_if_short(actor, intake.pk, at)
    return intake.pk


def take_table(actor: Actor, name: str, kind: FileKind, rows: Sequence[Cells], at: datetime) -> int:
    """Take in rows that did not come in a file: what a controller holds. As `take_file`."""
    actor.require(Permission.ENROL)
    return _take(actor, name, kind, b"", Table(kind, rows, has_headings=True), at)


def _table_of_photos(archive: Archive) -> Table:
    files = [(photo.path.rpartition("/")[2],) for photo in archive.photos()]
    return Table(FileKind.PHOTOS, [("Photo",), *files] if files else [], has_headings=True)


def read_again(actor: Actor, intake: Intake, reading: ReadingChoices, at: datetime) -> None:
    """Read the file anew, as somebody says that it is to be read. Raises Invalid."""
    table = read_table(kept_file(intake.pk, LIST), reading)
    rows = iter(table.rows)
    sample = list(islice(rows, SAMPLED + 30))
    before = choices_of(intake.choices)
    kept = Choices(defaults=before.defaults, match_by=before.match_by, reading=reading)
    _read_in(actor, intake, replace(table, rows=chain(sample, rows)), sample, kept, at)


def _read_in(
    actor: Actor, intake: Intake, table: Table, sample: list[Cells], choices: Choices, at: datetime
) -> None:
    stats = _Stats(longest={}, led_by_zero=set())
    blocks = keep_rows(intake.pk, _watched(table.rows, stats), 1)
    header = 1 if table.has_headings else guessed_header_row(sample)
    zeros = stats.led_by_zero or set()
    intake.rows, intake.total, intake.done = stats.rows, blocks, 0
    intake.reading = {
        "encoding": table.encoding,
        "delimiter": table.delimiter,
        "sheet": table.sheet,
        "sheets": list(table.sheets),
        "notes": [asdict(note) for note in table.notes],
        "width": stats.width,
        # to how many digits a column fills its numbers, where some begin with zeros
        "digits": {str(n): (stats.longest or {}).get(n, 0) for n in sorted(zeros)},
    }
    _understand(
        actor, intake, sample, replace(choices, header_row=header, first_row=header + 1), at
    )


def head_again(actor: Actor, intake: Intake, choices: Choices, at: datetime) -> None:
    """Understand the columns anew, by the row of headings that somebody chose."""
    sample: list[Cells] = []
    for block in blocks_of(intake.pk):
        sample += rows_in(block)
        if len(sample) > SAMPLED + (choices.header_row or 0):
            break
    _understand(actor, intake, sample, choices, at)


def _understand(
    actor: Actor, intake: Intake, sample: Sequence[Cells], choices: Choices, at: datetime
) -> None:
    """Guess what the columns are, or know it by a mapping for the same headings, and keep it."""
    header = choices.header_row or 0
    headings = list(sample[header - 1]) if 0 < header <= len(sample) else []
    headings += [""] * (intake.reading["width"] - len(headings))
    known = what_is_known(actor, choices, at)
    rows = sample[(choices.first_row or header + 1) - 1 :][:SAMPLED]
    guesses = guessed_columns(tuple(headings), rows, known, at.year)
    columns = {n: _permitted(actor, guess) for n, guess in enumerate(guesses)}
    choices = replace(choices, columns={n: guess.choice for n, guess in columns.items()})
    choices = _with_a_way_to_match(choices, FileKind(intake.kind))
    mapping = mapping_for(headings)
    if mapping:
        mapped = choices_of(mapping.choices)
        choices = with_mapping(actor, choices, headings, mapped, mapping.headings)
    of_file = [note for note in intake.reading["notes"] if note["code"] != HEADINGS_ALIKE]
    intake.reading |= {
        "notes": [*of_file, *(asdict(note) for note in _alike(headings))],
        "sureness": {str(n): guess.sureness.value for n, guess in columns.items()},
        "headings": headings,
        "mapping": mapping.name if mapping else "",
    }
    intake.choices = as_plain(choices)
    intake.version, intake.assessed, intake.summary = intake.version + 1, 0, {}
    intake.state = IntakeState.OPEN
    intake.changed_by, intake.changed_at = actor.name, at
    intake.save()


def _watched(rows: Iterable[Cells], stats: _Stats) -> Iterator[Cells]:
    """Yield rows as they are kept, and notice how many there are, how wide, and whose numbers begin
    with zeros. Raises Invalid for more than anybody can look through.
    """
    assert stats.longest is not None and stats.led_by_zero is not None
    for row in rows:
        stats.rows += 1
        if stats.rows > MOST_ROWS + 30:
            raise Invalid.of("intake.too_many_rows", "file", most=MOST_ROWS)
        if len(row) > stats.width:
            stats.width = len(row)
            if stats.width > MOST_COLUMNS:
                raise Invalid.of("intake.too_many_columns", "file", most=MOST_COLUMNS)
        for n, cell in enumerate(row):
            if cell[:1].isdigit() and cell.isdecimal():
                stats.longest[n] = max(stats.longest.get(n, 0), len(cell))
                if cell[0] == "0" and len(cell) > 1:
                    stats.led_by_zero.add(n)
        yield row


def _alike(headings: Sequence[str]) -> Iterable[Problem]:
    keys = [heading_key(heading) for heading in headings]
    for key in dict.fromkeys(key for key in keys if key and keys.count(key) > 1):
        yield Problem(HEADINGS_ALIKE, None, {"heading": headings[keys.index(key)][:60]})


def _permitted(actor: Actor, guess: Guess) -> Guess:
    choice = guess.choice
    if not may_take(actor, choice.target):
        return Guess(replace(choice, target=""), Sureness.UNKNOWN)
    if choice.target in ADDED_TO:
        return Guess(replace(choice, existing=ForExisting.FILL), guess.sureness)
    return guess


def _with_a_way_to_match(choices: Choices, kind: FileKind) -> Choices:
    """Match by the first thing that the file has, of those that tell people apart."""
    ways = (
        MatchBy.NUMBER, MatchBy.EXTERNAL_ID, MatchBy.EMAIL, MatchBy.NAME_AND_BIRTH, MatchBy.CARD
    )  # fmt: skip
    found = (way for way in ways if replace(choices, match_by=way).can_match)
    choices = replace(choices, match_by=next(found, MatchBy.NOBODY))
    if kind is FileKind.PHOTOS:  # a picture is nobody's enrolment
        return replace(choices, newcomers=Newcomers.LEAVE_OUT, match_by=MatchBy.PHOTO)
    return choices


def mapping_for(headings: Sequence[str]) -> IntakeMapping | None:
    """Return the newest mapping that was made for a file with the same headings, or None."""
    keys = [heading_key(heading) for heading in headings]
    if not any(keys):
        return None
    saved = IntakeMapping.objects.order_by("-id")
    return next((m for m in saved if [heading_key(h) for h in m.headings] == keys), None)


def with_mapping(
    actor: Actor,
    choices: Choices,
    headings: Sequence[str],
    mapped: Choices,
    its_headings: Sequence[str],
) -> Choices:
    """Return choices as a mapping has them, a column for each of its headings that the file has.

    Where the file begins, and how it is read, is as it was found.
    """
    places = {heading_key(heading): n for n, heading in reversed(list(enumerate(headings)))}
    columns: dict[int, ColumnChoice] = {
        n: replace(choice, target="", is_guess=True) for n, choice in choices.columns.items()
    }
    for n, choice in mapped.columns.items():
        key = heading_key(its_headings[n]) if n < len(its_headings) else ""
        place = n if list(its_headings) == list(headings) else places.get(key, -1)
        if place >= 0 and may_take(actor, choice.target):
            columns[place] = replace(choice, is_guess=False)
    return replace(
        mapped,
        reading=choices.reading,
        header_row=choices.header_row,
        first_row=choices.first_row,
        columns=columns,
    )
