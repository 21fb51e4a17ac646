"""What comes in and goes out about reads, the desk and the test bench."""

from rest_framework import serializers

from cadrin.access.rest.shapes import CardIdentityShape, FileShape, SiteInstantField
from cadrin.activity.journal import ACTS
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.factors import Factor
from cadrin.core.decision.reasons import Act, Check
from cadrin.core.records.states import RecordState
from cadrin.delivery.rest.shapes import REASONS, ControllerShape
from cadrin.operators.rest.base import Shape, WholeField
from cadrin.register.rest.shapes import Row

FACTORS = [factor.value for factor in Factor]


class ReadShape(Shape):
    """One read. ``reason`` is null at a desk, where nothing is decided; ``holder`` is whose card it is now.

    ``unreadable`` is what the controller said, where it could not be read; then nothing else is known.
    """

    id = serializers.IntegerField()
    at = serializers.DateTimeField()
    clock_off_seconds = serializers.IntegerField(allow_null=True)
    reader_id = serializers.IntegerField(allow_null=True)
    reader_name = serializers.CharField()
    controller_id = serializers.IntegerField()
    door_id = serializers.IntegerField(allow_null=True)
    raw = serializers.CharField()
    format_id = serializers.IntegerField(allow_null=True)
    facility_code = serializers.IntegerField(allow_null=True)
    card_number = serializers.IntegerField(allow_null=True)
    reason = serializers.ChoiceField(choices=REASONS, allow_null=True)
    factors = serializers.ListField(child=serializers.ChoiceField(choices=FACTORS))
    plate = serializers.CharField()
    is_duress = serializers.BooleanField()
    is_watched = serializers.BooleanField()
    group_name = serializers.CharField()
    opens_at = serializers.DateTimeField(allow_null=True)
    cardholder_id = serializers.IntegerField(allow_null=True)
    cardholder_name = serializers.CharField()
    holder_id = serializers.IntegerField(allow_null=True)
    holder_name = serializers.CharField()
    unreadable = serializers.CharField()


class ReadsQuery(Shape):
    door = WholeField(default=None)
    cardholder = WholeField(default=None)
    reason = serializers.ChoiceField(choices=REASONS, default=None)
    denied = serializers.BooleanField(default=False)
    flagged = serializers.BooleanField(default=False)
    before = WholeField(default=None)


class NewsQuery(Shape):
    after = WholeField(default=None)
    wait_seconds = serializers.FloatField(default=0.0, min_value=0.0, max_value=20.0)


class CountsBySection(Shape):
    desk = serializers.IntegerField()
    delivery = serializers.IntegerField()
    worker_stopped_at = serializers.DateTimeField(allow_null=True)


class StepShape(Shape):
    check = serializers.ChoiceField(choices=[c.value for c in Check])
    passed = serializers.BooleanField(allow_null=True)


class MendingShape(Shape):
    """One act of a remedy; ``card`` where it is about another card than the one shown.

    ``without`` is what must not be shown beside it again.
    """

    act = serializers.ChoiceField(choices=[a.value for a in Act])
    group_id = serializers.IntegerField(allow_null=True)
    group_name = serializers.CharField()
    card = CardIdentityShape(allow_null=True)
    without = serializers.ChoiceField(choices=FACTORS, allow_null=True)


class ExplanationShape(Shape):
    read = ReadShape()
    steps = StepShape(many=True)
    now_reason = serializers.ChoiceField(choices=REASONS, allow_null=True)
    against = serializers.ListField(child=serializers.ChoiceField(choices=REASONS))
    remedies = serializers.ListField(child=MendingShape(many=True))
    not_held = serializers.ChoiceField(choices=[s.value for s in RecordState], allow_null=True)
    clock_off_seconds = serializers.IntegerField()
    holder_id = serializers.IntegerField(allow_null=True)
    holder_name = serializers.CharField()


class UnknownCard(Shape):
    read_id = serializers.IntegerField()
    at = serializers.DateTimeField()
    reader_name = serializers.CharField()
    raw = serializers.CharField()
    format_id = serializers.IntegerField()
    format_name = serializers.CharField()
    facility_code = serializers.IntegerField()
    card_number = serializers.IntegerField()
    times = serializers.IntegerField()


class PeopleList(Shape):
    rows = Row(many=True)
    total = serializers.IntegerField()


class UnknownCardList(Shape):
    rows = UnknownCard(many=True)
    total = serializers.IntegerField()


class ControllerList(Shape):
    rows = ControllerShape(many=True)
    total = serializers.IntegerField()


class AlarmList(Shape):
    rows = ReadShape(many=True)
    total = serializers.IntegerField()


class DeskShape(Shape):
    alarms = AlarmList()
    not_ready = PeopleList()
    starting_soon = PeopleList()
    ending_soon = PeopleList()
    unknown_cards = UnknownCardList()
    deliveries = ControllerList()
    worker_stopped_at = serializers.DateTimeField(allow_null=True)


class HistoryEntry(Shape):
    id = serializers.IntegerField()
    at = serializers.DateTimeField()
    operator_name = serializers.CharField()
    action = serializers.CharField()
    changes = serializers.DictField(child=serializers.ListField(child=serializers.JSONField()))


class HistoryAct(HistoryEntry):
    can_be_taken_back = serializers.BooleanField()


class TopicShape(Shape):
    """What an entry is about; the name is empty when it is no longer there."""

    kind = serializers.CharField()
    id = serializers.IntegerField()
    name = serializers.CharField()


class JournalEntry(HistoryAct):
    """An entry of the journal; ``topics`` names at most a few of what it is about, ``topic_count`` counts them all."""

    address = serializers.CharField()
    is_erased = serializers.BooleanField()
    topics = TopicShape(many=True)
    topic_count = serializers.IntegerField()


class JournalQuery(Shape):
    operator = WholeField(default=None)
    act = serializers.ChoiceField(choices=ACTS, default=None)
    cardholder = WholeField(default=None)
    since = SiteInstantField(default=None)
    until = SiteInstantField(default=None)
    before = WholeField(default=None)


class NamedShape(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()


class JournalPage(Shape):
    """Entries, newest first; ``operators`` and ``acts`` are what can be asked for."""

    entries = JournalEntry(many=True)
    operators = NamedShape(many=True)
    acts = serializers.ListField(child=serializers.ChoiceField(choices=ACTS))


class CardQuery(Shape):
    """``format`` would be the framework's own word, for what an answer is written in."""

    format_id = WholeField()
    facility_code = WholeField()
    card_number = WholeField()


class BoxOfCard(Shape):
    id = serializers.IntegerField()
    first = serializers.IntegerField()
    last = serializers.IntegerField()
    kept_where = serializers.CharField()
    remarks = serializers.CharField()


class CardLifeShape(Shape):
    """Everything that is known of a card; ``status`` is null when it is in no list here. Newest first."""

    status = serializers.ChoiceField(choices=[s.value for s in CardStatus], allow_null=True)
    label = serializers.CharField(allow_blank=True)  # type: ignore[assignment]
    holder_id = serializers.IntegerField(allow_null=True)
    holder_name = serializers.CharField(allow_blank=True)
    is_anothers = serializers.BooleanField()
    use_limit = serializers.IntegerField(allow_null=True)
    used = serializers.IntegerField()
    boxes = BoxOfCard(many=True)
    acts = JournalEntry(many=True)
    reads = ReadShape(many=True)


class EraseShape(Shape):
    version = WholeField(min_value=0)
    reason = serializers.CharField(allow_blank=True, max_length=500)


class MergeShape(FileShape):
    """The file that both shall be; ``other`` is the record that goes."""

    other = WholeField()
    other_version = WholeField(min_value=0)


class History(Shape):
    acts = HistoryAct(many=True)
    reads = ReadShape(many=True)


class BenchReader(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    has_keypad = serializers.BooleanField()
    has_camera = serializers.BooleanField()


class BenchController(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    is_desk = serializers.BooleanField()
    is_on = serializers.BooleanField()
    delay_seconds = serializers.FloatField()
    clock_off_seconds = serializers.IntegerField()
    held = serializers.IntegerField()
    capacity = serializers.IntegerField(allow_null=True)
    readers = BenchReader(many=True)


class BenchLetter(Shape):
    at = serializers.DateTimeField()
    to = serializers.CharField()
    subject = serializers.CharField()


class BenchMail(Shape):
    """The mail server among the stand-ins, and the newest letters it took."""

    is_on = serializers.BooleanField()
    letters = BenchLetter(many=True)


class MailSwitch(Shape):
    is_on = serializers.BooleanField()


class Bench(Shape):
    controllers = BenchController(many=True)
    mail = BenchMail(allow_null=True)


class CardToShow(Shape):
    """A card shown to a reader: by its numbers, or by raw bits as they are written, ``26:2F764DD``.

    ``typed`` is what is typed at its keypad, ``plate`` what its camera sees, with the card or alone.
    """

    reader = WholeField()
    raw = serializers.CharField(default="", allow_blank=True, max_length=70)
    format = WholeField(default=None, allow_null=True)
    facility_code = WholeField(default=None, allow_null=True)
    card_number = WholeField(default=None, allow_null=True)
    issue_level = WholeField(default=None, allow_null=True)
    typed = serializers.CharField(default=None, allow_null=True, max_length=20)
    plate = serializers.CharField(default=None, allow_null=True, max_length=20)


class Shown(Shape):
    """What happened at the door; ``is_on`` false means that the controller is off and nothing happened."""

    is_on = serializers.BooleanField()
    reason = serializers.ChoiceField(choices=REASONS, allow_null=True)
    name = serializers.CharField()
    open_seconds = serializers.IntegerField()


class Switch(Shape):
    is_on = serializers.BooleanField(required=False)
    delay_seconds = serializers.FloatField(required=False, min_value=0, max_value=60)
    clock_off_seconds = WholeField(required=False, min_value=-86400, max_value=86400)
