"""A calendar of holidays as a file."""

from datetime import datetime

from cadrin.core.errors import NotFound
from cadrin.core.icalendar_days import NamedDay, write_days
from cadrin.sites.models import HolidayCalendar


def calendar_file(calendar_id: int, at: datetime) -> bytes:
    """Return a calendar as an iCalendar file. Raises NotFound."""
    calendar = HolidayCalendar.objects.filter(pk=calendar_id).first()
    if calendar is None:
        raise NotFound.of("holiday_calendar.not_found")
    rows = calendar.days.order_by("first", "id").values_list(
        "name", "first", "last", "is_yearly", "start_minute", "end_minute"
    )
    return write_days(calendar.name, [NamedDay(*row) for row in rows], at)
