"""What is asked, and what an answer looks like."""

from rest_framework import serializers

from cadrin.activity.rest.shapes import REASONS
from cadrin.operators.rest.base import Shape, WholeField
from cadrin.sites.rest.fields import SiteInstantField

MOST_DOORS = 2000
LONGEST_DAYS = 3650


class AnswerLine(Shape):
    """One line of an answer; what does not belong to it is empty."""

    cardholder_id = serializers.IntegerField(allow_null=True)
    name = serializers.CharField()
    number = serializers.CharField()
    department = serializers.CharField()
    door_id = serializers.IntegerField(allow_null=True)
    door = serializers.CharField()
    area = serializers.CharField()
    group = serializers.CharField()
    reason = serializers.ChoiceField(choices=REASONS, allow_null=True)
    other_reason = serializers.ChoiceField(choices=REASONS, allow_null=True)
    hours = serializers.FloatField(allow_null=True)
    other_hours = serializers.FloatField(allow_null=True)
    last_at = serializers.DateTimeField(allow_null=True)


class AnswerShape(Shape):
    """An answer, its first lines; ``has_way`` is false where no door leads there at all."""

    total = serializers.IntegerField()
    has_way = serializers.BooleanField()
    lines = AnswerLine(many=True)


class Asked(Shape):
    """``csv`` gives every line as a file."""

    csv = serializers.BooleanField(default=False)


class AtDoorQuery(Asked):
    door = WholeField()
    at = SiteInstantField(allow_null=True, default=None)


class UnusedQuery(Asked):
    doors = serializers.CharField(max_length=20_000)
    days = WholeField(min_value=1, max_value=LONGEST_DAYS, default=90)


class WayQuery(Asked):
    cardholder = WholeField()
    area = WholeField()
    at = SiteInstantField(allow_null=True, default=None)


class CompareQuery(Asked):
    one = WholeField()
    other = WholeField()
    at = SiteInstantField(allow_null=True, default=None)
