from django.apps import AppConfig


class Sites(AppConfig):
    name = "cadrin.sites"

    def ready(self) -> None:
        from cadrin.journal.naming import by_column, name
        from cadrin.operators.sealing import keep_sealed
        from cadrin.sites.models import (
            Area,
            Controller,
            Door,
            HolidayCalendar,
            HolidayKind,
            Reader,
            ReleaseGroup,
            Schedule,
            Site,
        )

        name("site", by_column(Site))
        name("area", by_column(Area))
        name("door", by_column(Door))
        name("release_group", by_column(ReleaseGroup))
        name("reader", by_column(Reader))
        name("schedule", by_column(Schedule))
        name("holiday_calendar", by_column(HolidayCalendar))
        name("holiday_kind", by_column(HolidayKind))
        name("controller", by_column(Controller))
        keep_sealed(Controller, "sealed_key")
