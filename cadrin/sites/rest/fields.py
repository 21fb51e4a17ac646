"""Fields that many requests share: instants of the site, texts, hours of a week, policies of
readers.
"""

import re
from datetime import UTC, date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from rest_framework import serializers

from cadrin.core.credentials.factors import Factor
from cadrin.core.intake.dates import Moment, instant_of
from cadrin.core.schedules import is_skipped, zone_named
from cadrin.operators.rest.base import Shape, WholeField, told
from cadrin.sites.queries import home_site

_DAY = re.compile(r"\d{4}-\d\d-\d\d", re.ASCII)


class SiteInstantField(serializers.DateTimeField):
    """An instant, to the second, as doors know it. Without an offset it is what the clock on the
    site's wall shows.

    From here on it is UTC: two instants of one zone are compared by its wall clock, which shows an
    hour twice.
    """

    def to_internal_value(self, value: Any) -> datetime:
        at: datetime = super().to_internal_value(value)
        try:
            return at.astimezone(UTC).replace(microsecond=0)
        except OverflowError:
            self.fail("overflow")

    def default_timezone(self) -> ZoneInfo:
        return zone_named(home_site()["zone"])

    def enforce_timezone(self, value: datetime) -> datetime:
        if value.tzinfo is None and is_skipped(value, self.default_timezone()):
            self.fail("make_aware", timezone=self.default_timezone())
        return super().enforce_timezone(value)


class SiteEndField(SiteInstantField):
    """When something ends: an instant, or a day alone, through which it lasts."""

    def to_internal_value(self, value: Any) -> datetime:
        if isinstance(value, str) and _DAY.fullmatch(value):
            try:
                day = date.fromisoformat(value)
                return instant_of(Moment(day), self.default_timezone(), is_end=True)
            except (ValueError, OverflowError):
                self.fail("invalid", format="YYYY-MM-DD")
        return super().to_internal_value(value)


def instant(**more: Any) -> SiteInstantField:
    return SiteInstantField(allow_null=True, default=None, **more)


def end(**more: Any) -> SiteEndField:
    return SiteEndField(allow_null=True, default=None, **more)


def text(**more: Any) -> serializers.CharField:
    """Take a text of any length: the core says what is too long."""
    return serializers.CharField(allow_blank=True, default="", **more)


def hours_field(**more: Any) -> serializers.ListField:
    """Take windows of a week: weekday from Monday 0, start and end in minutes of that day."""
    minutes = serializers.IntegerField(min_value=0, max_value=20000)
    return serializers.ListField(
        child=serializers.ListField(child=minutes, min_length=3, max_length=3),
        max_length=200,
        **more,
    )


MOST_KINDS = 50


class HolidayHours(Shape):
    """The hours that hold on a kind of holiday, as minutes of the day; none is closed all day."""

    kind = WholeField(**told("Id of the kind of holiday.", 1))
    hours = serializers.ListField(
        child=serializers.ListField(
            child=serializers.IntegerField(min_value=0, max_value=20000), min_length=2, max_length=2
        ),
        max_length=50,
        **told("Start and end in minutes of the day.", [[600, 720]]),
    )


class PolicyField(serializers.ListField):
    """What a reader asks for: alternatives, each a list of factors that are presented together."""

    def __init__(self, **options: Any) -> None:
        alternative = serializers.ListField(
            child=serializers.ChoiceField(choices=[factor.value for factor in Factor]),
            min_length=1,
            max_length=len(Factor),
        )
        super().__init__(child=alternative, min_length=1, max_length=20, **options)


class LimitsShape(Shape):
    """What an operator knows that a controller can hold, as `core.limits` has it; none is null."""

    capacity = WholeField(allow_null=True, default=None)
    most_cards = WholeField(allow_null=True, default=None)
    longest_name = WholeField(allow_null=True, default=None)
    latest = WholeField(allow_null=True, default=None)
    longest_span = WholeField(allow_null=True, default=None)
    most_templates = WholeField(allow_null=True, default=None)
    most_memberships = WholeField(allow_null=True, default=None)
    most_schedules = WholeField(allow_null=True, default=None)
