"""Places and holidays over HTTP, as the screens ask."""

from datetime import date
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from cadrin.core.icalendar_days import LARGEST_BYTES
from cadrin.sites.models import Door, HolidayCalendar, Reader, Schedule
from tests.test_api import Api

A_FILE = (
    b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\n"
    b"BEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20261224\r\nSUMMARY:Eve\r\nEND:VEVENT\r\n"
    b"BEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20261224\r\nRRULE:FREQ=DAILY\r\nSUMMARY:Odd\r\nEND:VEVENT\r\n"
    b"END:VCALENDAR\r\n"
)


class Places(Api):
    def door(self, **more: Any) -> dict[str, Any]:
        return {
            "name": "Stores",
            "area_id": self.house.gate.area_id,
            "from_area_id": None,
            "controller_id": self.house.north.pk,
            "readers_in": [],
            "readers_out": [],
            "open_seconds": 5,
            "extended_open_seconds": 20,
            **more,
        }

    def test_a_door_is_made_moved_and_removed_with_what_goes_with_it(self) -> None:
        code, made = self.ask("POST", "/api/doors/", self.door())
        self.assertEqual(code, 201)
        path = f"/api/doors/{made['id']}/"
        area = self.ask("POST", "/api/areas/", {"site_id": self.house.site.pk, "name": "Cellar"})[1]

        saved = self.door(version=1, name="Cellar door", area_id=area["id"])
        self.assertEqual(self.ask("PUT", path, saved)[0], 200)

        told = self.ask("GET", "/api/places/")[1]
        (door,) = [one for one in told["doors"] if one["id"] == made["id"]]
        self.assertEqual(
            (door["name"], door["area_id"], door["version"]), ("Cellar door", area["id"], 2)
        )
        self.assertEqual(self.ask("GET", f"{path}loss/")[1], {"groups": [], "people": 0})
        self.assertEqual(
            self.problems("DELETE", f"/api/areas/{area['id']}/", None), {(None, "area.in_use")}
        )
        self.assertEqual(self.ask("DELETE", path)[0], 204)
        self.assertEqual(self.ask("DELETE", f"/api/areas/{area['id']}/")[0], 204)

    def test_what_is_wrong_is_told_beside_its_field_and_nothing_is_half_done(self) -> None:
        before = Door.objects.count()
        body = self.door(
            name="", open_seconds=0, area_id=999, readers_in=[self.house.lab_reader.pk]
        )
        self.assertEqual(
            self.problems("POST", "/api/doors/", body),
            {
                ("name", "input.blank"),
                ("open_seconds", "input.out_of_range"),
                ("area_id", "input.no_longer_there"),
                ("readers_in", "door.reader_at_another_door"),
            },
        )
        self.assertEqual(Door.objects.count(), before)

    def test_whoever_is_late_is_told_what_happened(self) -> None:
        site = self.house.site
        body = {"version": 1, "name": "Point", "zone": site.zone}
        self.assertEqual(self.ask("PUT", f"/api/sites/{site.pk}/", body)[0], 200)

        code, answer = self.ask("PUT", f"/api/sites/{site.pk}/", body | {"name": "Other"})

        self.assertEqual((code, answer["current_version"]), (409, 2))
        self.assertEqual([one["action"] for one in answer["since"]], ["site.changed"])

    def test_a_zone_that_there_is_not_is_refused(self) -> None:
        found = self.problems("POST", "/api/sites/", {"name": "Ardle", "zone": "Mars/Base"})
        self.assertEqual(found, {("zone", "schedule.unknown_zone")})

    def test_a_reader_is_renamed_and_one_at_a_door_is_not_removed(self) -> None:
        path = f"/api/readers/{self.house.gate_reader.pk}/name/"
        self.assertEqual(self.ask("PUT", path, {"version": 1, "name": "Left"})[0], 204)
        self.assertEqual(Reader.objects.get(pk=self.house.gate_reader.pk).name, "Left")
        self.assertEqual(self.problems("DELETE", path, None), {(None, "reader.at_a_door")})


class Holidays(Api):
    def setUp(self) -> None:
        super().setUp()
        self.kind = self.ask("POST", "/api/holidays/kinds/", {"name": "Public"})[1]["id"]

    def day(self, **more: Any) -> dict[str, Any]:
        return {
            "name": "Eve",
            "kind_id": self.kind,
            "first": "2026-12-24",
            "last": "2026-12-24",
            "is_yearly": False,
            "start_minute": 720,
            "end_minute": 1440,
            **more,
        }

    def calendar(self, *days: dict[str, Any], version: int = 0) -> dict[str, Any]:
        site = self.house.site.pk
        return {"version": version, "name": "Skerrow", "site_id": site, "days": list(days)}

    def test_a_calendar_is_kept_weighed_and_given_out_as_a_file(self) -> None:
        made = self.ask("POST", "/api/holidays/", self.calendar(self.day()))[1]
        office = Schedule.objects.get(pk=self.house.office.pk)
        schedule = {
            "version": office.version,
            "name": office.name,
            "zone": office.zone,
            "hours": office.hours,
            "calendar_id": made["id"],
            "holiday_hours": [{"kind": self.kind, "hours": []}],
        }
        weighed = self.ask("POST", f"/api/preview/schedule/{office.pk}/", schedule)[1]
        (one,) = weighed["schedules"]
        self.assertEqual((one["lost_minutes"], one["day_count"]), (6 * 60, 1))
        self.assertEqual(self.ask("PUT", f"/api/schedules/{office.pk}/", schedule)[0], 200)

        empty = self.ask("POST", f"/api/preview/calendar/{made['id']}/", self.calendar(version=1))[
            1
        ]

        self.assertEqual(empty["schedules"][0]["gained_minutes"], 6 * 60)
        (told,) = [s for s in self.ask("GET", "/api/schedules/")[1] if s["id"] == office.pk]
        self.assertEqual(told["holiday_hours"], [{"kind": self.kind, "hours": []}])
        file = self.client.get(f"/api/holidays/{made['id']}/file/")
        self.assertEqual(file["Content-Type"], "text/calendar; charset=utf-8")
        self.assertIn(b"DTSTART:20261224T120000", file.content)

    def test_bad_days_are_told_beside_each_and_nothing_is_kept(self) -> None:
        bad = self.day(first="2026-12-26", last="2026-12-24")
        found = self.problems("POST", "/api/holidays/", self.calendar(self.day(), bad))
        self.assertEqual(found, {("days.1.last", "holiday.ends_before")})
        unread = self.problems("POST", "/api/holidays/", self.calendar(self.day(first="soon")))
        self.assertEqual({field for field, _ in unread}, {"days.0.first"})
        self.assertFalse(HolidayCalendar.objects.exists())

    def test_a_file_is_read_and_what_is_no_day_in_it_is_named(self) -> None:
        sent = SimpleUploadedFile("site.ics", A_FILE)
        told = self.client.post("/api/holidays/file/", {"file": sent}).json()

        self.assertEqual([day["name"] for day in told["days"]], ["Eve"])
        self.assertEqual([p["params"]["name"] for p in told["problems"]], ["Odd"])

    def test_a_file_that_is_none_or_too_large_is_refused_beside_its_field(self) -> None:
        for content, code in (
            (b"PK\x03\x04", "calendar_file.not_one"),
            (b"x" * (LARGEST_BYTES + 1), "calendar_file.too_large"),
        ):
            sent = SimpleUploadedFile("site.ics", content)
            answer = self.client.post("/api/holidays/file/", {"file": sent})
            (problem,) = answer.json()["problems"]
            self.assertEqual(
                (answer.status_code, problem["field"], problem["code"]), (422, "file", code)
            )

    def test_public_holidays_are_those_of_a_part_of_a_country(self) -> None:
        asked = "country=GB&subdivision=SCT&first_year=2026&last_year=2026"
        told = self.ask("GET", f"/api/holidays/public/?{asked}")[1]
        # Bank holidays of Scotland (Banking and Financial Dealings Act 1971, St Andrew's Day Act 2007)
        self.assertIn(f"{date(2026, 11, 30)}", {day["first"] for day in told["days"]})
        wrong = self.problems(
            "GET", "/api/holidays/public/?country=XX&first_year=2026&last_year=2026", None
        )
        self.assertEqual(wrong, {("country", "holiday.unknown_country")})
