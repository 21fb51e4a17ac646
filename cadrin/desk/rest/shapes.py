"""What goes out about the desk, explanations of reads, the journal and card histories."""

from rest_framework import serializers

from cadrin.activity.rest.shapes import FACTORS, REASONS, ReadShape
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.decision.reasons import Act, Check
from cadrin.core.records.states import RecordState
from cadrin.credentials.rest.shapes import CardIdentityShape
from cadrin.delivery.rest.shapes import LineShape
from cadrin.desk.journal import ACTS
from cadrin.desk.notices import NoticeKind
from cadrin.operators.rest.base import Shape, WholeField
from cadrin.register.rest.shapes import Row
from cadrin.reviews.rest.views import ReviewDueShape
from cadrin.sites.rest.fields import SiteEndField, SiteInstantField


class NoticeShape(Shape):
    key = serializers.CharField()
    kind = serializers.ChoiceField(choices=[kind.value for kind in NoticeKind])
    name = serializers.CharField()
    at = serializers.DateTimeField(allow_null=True)
    read_id = serializers.IntegerField(allow_null=True)
    controller_id = serializers.IntegerField(allow_null=True)


class CountsBySection(Shape):
    desk = serializers.IntegerField()
    delivery = serializers.IntegerField()
    notices = NoticeShape(many=True)
    worker_stopped_at = serializers.DateTimeField(allow_null=True)


class StepShape(Shape):
    check = serializers.ChoiceField(choices=[c.value for c in Check])
    passed = serializers.BooleanField(allow_null=True)


class RemedyStepShape(Shape):
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
    remedies = serializers.ListField(child=RemedyStepShape(many=True))
    not_held = serializers.ChoiceField(choices=[s.value for s in RecordState], allow_null=True)
    clock_off_seconds = serializers.IntegerField()
    holder_id = serializers.IntegerField(allow_null=True)
    holder_name = serializers.CharField()
    portrait = serializers.CharField(allow_null=True)


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


class UnknownCardsQuery(Shape):
    aside = serializers.BooleanField(default=False)


class PeopleList(Shape):
    rows = Row(many=True)
    total = serializers.IntegerField()


class UnknownCardList(Shape):
    rows = UnknownCard(many=True)
    total = serializers.IntegerField()


class LineList(Shape):
    rows = LineShape(many=True)
    total = serializers.IntegerField()


class AlarmList(Shape):
    rows = ReadShape(many=True)
    total = serializers.IntegerField()


class ReviewList(Shape):
    rows = ReviewDueShape(many=True)
    total = serializers.IntegerField()


class DeskShape(Shape):
    alarms = AlarmList()
    not_ready = PeopleList()
    starting_soon = PeopleList()
    ending_soon = PeopleList()
    unknown_cards = UnknownCardList()
    deliveries = LineList()
    reviews = ReviewList()
    worker_stopped_at = serializers.DateTimeField(allow_null=True)


class HistoryEntry(Shape):
    id = serializers.IntegerField()
    at = serializers.DateTimeField()
    operator_name = serializers.CharField()
    action = serializers.CharField()
    changes = serializers.DictField(child=serializers.ListField(child=serializers.JSONField()))


class HistoryAct(HistoryEntry):
    can_be_undone = serializers.BooleanField()


class TopicShape(Shape):
    """What an entry is about; the name is empty when it is no longer there."""

    kind = serializers.CharField()
    id = serializers.IntegerField()
    name = serializers.CharField()


class JournalEntry(HistoryAct):
    """An entry of the journal; ``topics`` names at most a few of what it is about, ``topic_count``
    counts them all.
    """

    address = serializers.CharField()
    is_erased = serializers.BooleanField()
    topics = TopicShape(many=True)
    topic_count = serializers.IntegerField()


class JournalQuery(Shape):
    operator = WholeField(default=None)
    act = serializers.ChoiceField(choices=ACTS, default=None)
    cardholder = WholeField(default=None)
    intake = WholeField(default=None)
    since = SiteInstantField(default=None)
    until = SiteEndField(default=None)
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


class CardHistoryShape(Shape):
    """Everything that is known of a card; ``status`` is null when it is in no list here. Newest
    first.
    """

    status = serializers.ChoiceField(choices=[s.value for s in CardStatus], allow_null=True)
    can_be_issued = serializers.BooleanField()
    label = serializers.CharField(allow_blank=True)  # type: ignore[assignment]
    holder_id = serializers.IntegerField(allow_null=True)
    holder_name = serializers.CharField(allow_blank=True)
    is_anothers = serializers.BooleanField()
    use_limit = serializers.IntegerField(allow_null=True)
    used = serializers.IntegerField()
    boxes = BoxOfCard(many=True)
    acts = JournalEntry(many=True)
    reads = ReadShape(many=True)


class History(Shape):
    acts = HistoryAct(many=True)
    reads = ReadShape(many=True)
