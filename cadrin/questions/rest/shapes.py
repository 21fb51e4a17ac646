"""What is asked, and what an answer looks like."""

from rest_framework import serializers

from cadrin.activity.rest.shapes import REASONS
from cadrin.operators.rest.base import Shape, WholeField
from cadrin.sites.rest.fields import SiteInstantField

AS_NOW = (
    "biometrics",
    "cards",
    "doors",
    "formats",
    "groups",
    "holidays",
    "people",
    "pins",
    "readers",
    "schedules",
)
QUESTIONS = (
    "door",
    "person",
    "area",
    "group",
    "way",
    "compare",
    "instants",
    "unused",
    "alone",
    "matrix",
)
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
    is_way_out = serializers.BooleanField()


class AnswerShape(Shape):
    """An answer, its first lines; ``has_way`` is false where no door leads there at all, ``as_now``
    what was changed since an instant of the past and is taken to have been as it is now.
    """

    total = serializers.IntegerField()
    has_way = serializers.BooleanField()
    as_now = serializers.ListField(child=serializers.ChoiceField(choices=AS_NOW))
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


class AreaQuery(Asked):
    area = WholeField()
    at = SiteInstantField(allow_null=True, default=None)


class PersonQuery(Asked):
    cardholder = WholeField()
    at = SiteInstantField(allow_null=True, default=None)


class GroupQuery(Asked):
    group = WholeField()
    at = SiteInstantField(allow_null=True, default=None)


class InstantsQuery(Asked):
    cardholder = WholeField()
    at = SiteInstantField(allow_null=True, default=None)
    other_at = SiteInstantField(allow_null=True, default=None)


class MatrixQuery(Shape):
    day = serializers.DateField(allow_null=True, default=None)


class Named(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()


class DoorOfMatrix(Named):
    area = serializers.CharField()


class MatrixShape(Shape):
    """When groups open doors through a day. A strip is open time in minutes since the day began, a
    cell the places of a group, a door and a strip.
    """

    groups = Named(many=True)
    doors = DoorOfMatrix(many=True)
    strips = serializers.ListField(
        child=serializers.ListField(child=serializers.ListField(child=serializers.IntegerField()))
    )
    cells = serializers.ListField(child=serializers.ListField(child=serializers.IntegerField()))
    minutes = serializers.IntegerField()
    as_now = serializers.ListField(child=serializers.ChoiceField(choices=AS_NOW))


class SavingQuestion(Shape):
    """A question to keep, with what is asked of it as in the address of the page."""

    name = serializers.CharField(max_length=60, allow_blank=True)
    question = serializers.ChoiceField(choices=QUESTIONS)
    asked = serializers.DictField(child=serializers.CharField(max_length=20_000), default=dict)


class SavedShape(Named):
    question = serializers.ChoiceField(choices=QUESTIONS)
    asked = serializers.DictField(child=serializers.CharField())
