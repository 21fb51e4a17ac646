"""What comes in and goes out about sites, doors, readers and schedules."""

from typing import Any

from rest_framework import serializers

from cadrin.core.schedules import Hours
from cadrin.operators.rest.base import Shape, WholeField, rows_of, told
from cadrin.sites.commands.schedules import ScheduleDraft
from cadrin.sites.rest.fields import MOST_KINDS, HolidayHours, PolicyField, hours_field


class ScheduleShape(Shape):
    """``hours`` are windows of a week: weekday from Monday 0, start and end in minutes
    of that day.
    """

    version = WholeField(min_value=0, default=0)
    name = serializers.CharField(max_length=60, allow_blank=True)
    zone = serializers.CharField(max_length=60, allow_blank=True)
    hours = hours_field()
    calendar_id = WholeField(allow_null=True, default=None)
    holiday_hours = rows_of(HolidayHours, MOST_KINDS, default=list)


class Schedule(ScheduleShape):
    id = serializers.IntegerField()
    group_count = serializers.IntegerField()


def schedule_draft(values: dict[str, Any]) -> ScheduleDraft:
    """Return the draft that was sent."""
    hours = tuple(Hours(*window) for window in values["hours"])
    special = {
        row["kind"]: tuple((start, end) for start, end in row["hours"])
        for row in values["holiday_hours"]
    }
    return ScheduleDraft(
        values["name"], values["zone"], hours, values["version"], values["calendar_id"], special
    )


class AskedBySchedule(Shape):
    """What is asked instead while a schedule is open."""

    schedule = WholeField(**told("Id of the schedule.", 2))
    policy = PolicyField(
        **told("Alternatives, each a list of factors presented together.", [["card", "pin"]])
    )


class Choice(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()


class Door(Choice):
    site_id = serializers.IntegerField()
    area_name = serializers.CharField()
    site_name = serializers.CharField()
    zone = serializers.CharField()
    controller_id = serializers.IntegerField()
    controller_name = serializers.CharField()


class Reader(Choice):
    controller_id = serializers.IntegerField()
    door_id = serializers.IntegerField(allow_null=True)
    is_desk = serializers.BooleanField()
    has_keypad = serializers.BooleanField()
    is_way_out = serializers.BooleanField()
    version = serializers.IntegerField()
    policy = PolicyField()
    has_camera = serializers.BooleanField()
    has_finger_scanner = serializers.BooleanField()
    by_hours = AskedBySchedule(many=True)
    has_face_reader = serializers.BooleanField()
    face_match = serializers.IntegerField(allow_null=True)
    finger_match = serializers.IntegerField(allow_null=True)
    format_ids = serializers.ListField(child=serializers.IntegerField())


class Site(Choice):
    zone = serializers.CharField()


class ComingShape(Shape):
    end_of_day = serializers.DateTimeField()
    morning = serializers.DateTimeField()
