"""What comes in and goes out about intakes."""

from typing import Any

from rest_framework import serializers

from cadrin.core.access.readiness import Gap
from cadrin.core.intake.choices import ForExisting, MatchBy, Missing, Newcomers
from cadrin.core.intake.dates import DateOrder, ShortYears
from cadrin.core.intake.encodings import CODECS
from cadrin.core.intake.guessing import Sureness
from cadrin.core.intake.table import FileKind
from cadrin.intake.judging import RowState
from cadrin.intake.states import IntakeState
from cadrin.operators.rest.base import ProblemShape, Shape, WholeField, rows_of, told

ROW_STATES = [s.value for s in RowState]
STATES = IntakeState.values
FILE_KINDS = [k.value for k in FileKind]
SURENESS = [s.value for s in Sureness]
FOR_EXISTING = [f.value for f in ForExisting]
MATCH_BY = [m.value for m in MatchBy]
MISSING = [m.value for m in Missing]
NEWCOMERS = [n.value for n in Newcomers]
DATE_ORDERS = [o.value for o in DateOrder]
SHORT_YEARS = [s.value for s in ShortYears]
PINS = ["", "listed", "mailed"]
_MOST_COLUMNS, _MOST_ROWS = 250, 25_000


class FileToTake(Shape):
    file = serializers.FileField(help_text="A list, or a ZIP of photos.")


class TakenIntake(Shape):
    id = serializers.IntegerField()


class ReadingShape(Shape):
    """How a file is read; empty is guessed."""

    encoding = serializers.ChoiceField(choices=["", *CODECS], allow_blank=True)
    delimiter = serializers.CharField(allow_blank=True, max_length=1, trim_whitespace=False)
    sheet = serializers.CharField(allow_blank=True, max_length=200, trim_whitespace=False)


class ReplacedField(serializers.DictField):
    """What cells say to what they are taken to say."""

    child = serializers.CharField(allow_blank=True, max_length=2000)


class ColumnChoiceShape(Shape):
    """What a column is taken for, and how it is read."""

    core_judges_texts = True

    column = WholeField(min_value=0)
    target = serializers.CharField(allow_blank=True, max_length=30)
    existing = serializers.ChoiceField(choices=FOR_EXISTING)
    order = serializers.ChoiceField(choices=DATE_ORDERS, allow_blank=True)
    short_years = serializers.ChoiceField(choices=SHORT_YEARS, allow_blank=True)
    width = serializers.IntegerField(
        **told("Digits to fill up with zeros; -1 leaves them as they are.", 5),
        min_value=-1,
        max_value=20,
    )
    replaced = ReplacedField()
    is_guess = serializers.BooleanField()


class DefaultsShape(Shape):
    """What the file does not say, for all rows."""

    department_id = WholeField(allow_null=True)
    kind_id = WholeField(allow_null=True)
    company_id = WholeField(allow_null=True)
    activation = serializers.CharField(allow_blank=True, max_length=40)
    expiry = serializers.CharField(allow_blank=True, max_length=40)
    group_ids = serializers.ListField(child=WholeField(), max_length=100)
    with_proposed_groups = serializers.BooleanField()
    format_id = WholeField(allow_null=True)
    facility_code = WholeField(allow_null=True, min_value=0)
    first_card = WholeField(allow_null=True, min_value=0)
    pins = serializers.ChoiceField(choices=PINS, allow_blank=True)
    standing = serializers.CharField(allow_blank=True, max_length=12)


class MendedCell(Shape):
    row = WholeField(min_value=1)
    column = WholeField(min_value=0)
    text = serializers.CharField(allow_blank=True, max_length=2000, trim_whitespace=False)


class SamePerson(Shape):
    """Whom a row is about; 0 for somebody new."""

    row = WholeField(min_value=1)
    cardholder = WholeField(min_value=0)


class ChoicesShape(Shape):
    """Everything that is decided about an intake."""

    core_judges_texts = True

    reading = ReadingShape()
    header_row = WholeField(allow_null=True, min_value=0)
    first_row = WholeField(allow_null=True, min_value=1)
    columns = rows_of(ColumnChoiceShape, _MOST_COLUMNS)
    defaults = DefaultsShape()
    match_by = serializers.ChoiceField(choices=MATCH_BY)
    match_field = WholeField(min_value=0)
    newcomers = serializers.ChoiceField(choices=NEWCOMERS)
    missing = serializers.ChoiceField(choices=MISSING)
    missing_department_id = WholeField(allow_null=True)
    missing_company_id = WholeField(allow_null=True)
    left_out = serializers.ListField(child=WholeField(min_value=1), max_length=200_000)
    cells = rows_of(MendedCell, _MOST_ROWS)
    same_as = rows_of(SamePerson, _MOST_ROWS)
    accepted = serializers.ListField(child=serializers.CharField(max_length=40), max_length=10)


class DecisionShape(Shape):
    """Choices for the version that they were made at."""

    core_judges_texts = True

    version = WholeField()
    choices = ChoicesShape()


class VersionShape(Shape):
    version = WholeField()


class LeaveOutShape(Shape):
    """Leave out every row with a kind of fault."""

    version = WholeField()
    column = serializers.IntegerField()
    code = serializers.CharField(max_length=60)


class MappingToUse(Shape):
    version = WholeField()
    mapping = WholeField()


class MappingToSave(Shape):
    name = serializers.CharField(max_length=60)


class MappingShape(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    headings = serializers.ListField(child=serializers.CharField(allow_blank=True))


class RowsAsked(Shape):
    state = serializers.ChoiceField(choices=ROW_STATES, default="", allow_blank=True)
    code = serializers.CharField(default="", allow_blank=True, max_length=60)
    column = serializers.IntegerField(allow_null=True, default=None)
    after = WholeField(default=0, min_value=0, help_text="how many are passed over")


class IntakeInShort(Shape):
    """An intake in the list of them."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=FILE_KINDS)
    state = serializers.ChoiceField(choices=STATES)
    at = serializers.DateTimeField()
    by = serializers.CharField()
    rows = serializers.IntegerField()
    new = serializers.IntegerField()
    changed = serializers.IntegerField()
    faulty = serializers.IntegerField()
    done = serializers.IntegerField()
    total = serializers.IntegerField()
    is_assessed = serializers.BooleanField()
    over_at = serializers.DateTimeField(allow_null=True)
    can_be_undone = serializers.BooleanField()
    left = serializers.IntegerField()


class ColumnShape(Shape):
    """A column of the file as it was found."""

    column = serializers.IntegerField()
    heading = serializers.CharField(allow_blank=True)
    samples = serializers.ListField(child=serializers.CharField())
    sureness = serializers.ChoiceField(choices=SURENESS)


class ValueCount(Shape):
    text = serializers.CharField()
    count = serializers.IntegerField()


class FaultGroup(Shape):
    """A kind of fault at a column (-1 for none), how often, and what says so."""

    column = serializers.IntegerField()
    code = serializers.CharField()
    can_be_accepted = serializers.BooleanField()
    count = serializers.IntegerField()
    params = serializers.DictField()
    rows = serializers.ListField(child=serializers.IntegerField())
    values = ValueCount(many=True)


class FieldCount(Shape):
    field = serializers.CharField()
    count = serializers.IntegerField()


class DoorCount(Shape):
    door = serializers.IntegerField()
    gained = serializers.IntegerField()
    lost = serializers.IntegerField()


class CardsGiven(Shape):
    format = serializers.IntegerField()
    facility_code = serializers.CharField()
    is_from_box = serializers.BooleanField()
    count = serializers.IntegerField()
    first = serializers.CharField()
    last = serializers.CharField()


class RecordsAt(Shape):
    controller = serializers.IntegerField()
    count = serializers.IntegerField()
    no_room = serializers.IntegerField()


class NotReady(Shape):
    gap = serializers.ChoiceField(choices=[g.value for g in Gap])
    count = serializers.IntegerField()
    examples = serializers.ListField(child=serializers.CharField())


class RowCounts(Shape):
    new = serializers.IntegerField()
    changed = serializers.IntegerField()
    same = serializers.IntegerField()
    left_out = serializers.IntegerField()
    faulty = serializers.IntegerField()
    blank = serializers.IntegerField()
    missing = serializers.IntegerField()


class SummaryShape(Shape):
    """What an intake comes to."""

    rows = RowCounts()
    fields_changed = FieldCount(many=True)
    doors = DoorCount(many=True)
    cards = CardsGiven(many=True)
    cards_given_up = serializers.IntegerField()
    records = RecordsAt(many=True)
    not_ready = NotReady(many=True)
    numbers_given = serializers.IntegerField()
    faults = FaultGroup(many=True)


class ReadingFound(Shape):
    """How the file was read."""

    encoding = serializers.CharField(allow_blank=True)
    delimiter = serializers.CharField(allow_blank=True)
    sheet = serializers.CharField(allow_blank=True)
    sheets = serializers.ListField(child=serializers.CharField())
    notes = ProblemShape(many=True)
    mapping = serializers.CharField(allow_blank=True)


class ResultShape(Shape):
    """What became of it: why it was left off, who was left when it was undone."""

    why = ProblemShape(allow_null=True)
    left = serializers.ListField(child=serializers.CharField())
    pin_list = serializers.IntegerField(allow_null=True)


class IntakeShape(IntakeInShort):
    """Everything about an intake but its rows."""

    version = serializers.IntegerField()
    changed_by = serializers.CharField()
    changed_at = serializers.DateTimeField(allow_null=True)
    reading = ReadingFound()
    choices = ChoicesShape()
    columns = ColumnShape(many=True)
    targets = serializers.ListField(child=serializers.CharField(allow_blank=True))
    summary = SummaryShape(allow_null=True)
    failed = serializers.CharField(allow_blank=True)
    problems = ProblemShape(many=True)
    result = ResultShape()
    has_photos = serializers.BooleanField()
    encodings = serializers.ListField(child=serializers.CharField())
    delimiters = serializers.ListField(child=serializers.CharField(trim_whitespace=False))


class CellFault(Shape):
    column = serializers.IntegerField()
    problem = ProblemShape()


class MendedText(Shape):
    column = serializers.IntegerField()
    text = serializers.CharField(allow_blank=True)


class ChangeOfField(Shape):
    field = serializers.CharField()
    before = serializers.CharField(allow_blank=True)
    after = serializers.CharField(allow_blank=True)


class IntakeRow(Shape):
    """A row as it was, and what it comes to."""

    row = serializers.IntegerField()
    state = serializers.ChoiceField(choices=ROW_STATES, allow_blank=True)
    cardholder_id = serializers.IntegerField(allow_null=True)
    name = serializers.CharField(allow_blank=True)
    cells = serializers.ListField(child=serializers.CharField(allow_blank=True))
    mended = MendedText(many=True)
    became = MendedText(many=True)
    faults = CellFault(many=True)
    changes = ChangeOfField(many=True)
    parts = serializers.ListField(child=serializers.CharField())
    cards = serializers.ListField(child=serializers.CharField())


class IntakeRowsPage(Shape):
    rows = IntakeRow(many=True)
    following = serializers.IntegerField(allow_null=True)


class ControllerToTakeFrom(Shape):
    controller = WholeField()


def shown(found: dict[str, Any]) -> dict[str, Any]:
    """Return an intake as it is sent: what was never worked out is empty."""
    summary = found["summary"]
    result = found["result"]
    return found | {
        "summary": summary and summary | {"fields_changed": summary["fields"]},
        "result": {
            "why": result.get("why"),
            "left": result.get("left", []),
            "pin_list": result.get("pin_list"),
        },
    }
