"""What comes in and goes out about reads, the desk and the test bench."""

from rest_framework import serializers

from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.factors import Factor
from cadrin.core.decision.reasons import Reason
from cadrin.core.doors.passing import Happening
from cadrin.operators.rest.base import Shape, WholeField
from cadrin.sites.rest.fields import SiteEndField, SiteInstantField

REASONS = [reason.value for reason in Reason]
HAPPENINGS = [happening.value for happening in Happening]
CARD_STATUSES = [status.value for status in CardStatus]
FACTORS = [factor.value for factor in Factor]


class ReadShape(Shape):
    """One read. ``reason`` is null at a desk, where nothing is decided; ``holder`` is whose card it
    is now, ``is_anothers`` that it is the card of somebody out of the operator's reach, and
    ``card_status`` what became of the holder's card.

    ``unreadable`` is what the controller said, where it could not be read; then nothing else is
    known.
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
    is_passed_back = serializers.BooleanField()
    happening = serializers.ChoiceField(choices=HAPPENINGS, allow_null=True)
    group_name = serializers.CharField()
    opens_at = serializers.DateTimeField(allow_null=True)
    cardholder_id = serializers.IntegerField(allow_null=True)
    cardholder_name = serializers.CharField()
    holder_id = serializers.IntegerField(allow_null=True)
    holder_name = serializers.CharField()
    is_anothers = serializers.BooleanField()
    card_status = serializers.ChoiceField(choices=CARD_STATUSES, allow_null=True)
    unreadable = serializers.CharField()


class ReadsQuery(Shape):
    door = WholeField(default=None)
    cardholder = WholeField(default=None)
    reason = serializers.ChoiceField(choices=REASONS, default=None)
    denied = serializers.BooleanField(default=False)
    flagged = serializers.BooleanField(default=False)
    department = WholeField(default=None)
    since = SiteInstantField(default=None)
    until = SiteEndField(default=None)
    before = WholeField(default=None)
    most = serializers.IntegerField(default=100, min_value=1, max_value=1000)


class NewsQuery(Shape):
    after = WholeField(default=None)
    wait_seconds = serializers.FloatField(default=0.0, min_value=0.0, max_value=20.0)
