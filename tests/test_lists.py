"""Lists that come by other ways than the screen: by a command at night, from a script, from a controller."""

import io
from base64 import b64encode
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from django.core import mail
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.test import TestCase, override_settings

from cadrin.core.credentials.card.card import CardKey
from cadrin.core.intake.choices import Newcomers
from cadrin.credentials.queries import raw_of
from cadrin.delivery.found_people import found_at_controllers
from cadrin.delivery.models import FoundPerson
from cadrin.demo.samples import SAMPLES
from cadrin.intake.commands.deciding import save_mapping, undo_intake
from cadrin.intake.commands.from_controller import take_from_controller
from cadrin.intake.models import Intake
from cadrin.intake.states import IntakeState
from cadrin.intake.tests.lists import List, a_list, work
from cadrin.people.models import Cardholder
from tests.house import NOON, House
from tests.line_case import LineCase
from tests.test_api import Api
from tests.with_a_token import WithAToken

STAFF = (
    "S-00101;Norquay;Isla;Station Office;isla@station.example;",
    "S-00102;Falk;Jorun;Station Office;;",
)


class AtNight(TestCase):
    def setUp(self) -> None:
        self.house = House()
        decided = List(self.house.actor, a_list(*STAFF)).decide(newcomers=Newcomers.ENROL)
        save_mapping(self.house.actor, decided.id, "Nightly staff", NOON)
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name) / "staff.csv"

    def bring_in(self, *rows: str, **options: Any) -> str:
        self.file.write_bytes(a_list(*rows))
        told = io.StringIO()
        call_command(
            "intake", str(self.file), mapping="Nightly staff", apply=True, stdout=told, **options
        )
        return told.getvalue()

    def test_a_file_is_applied_and_the_next_night_changes_nothing(self) -> None:
        self.assertIn("2  new", self.bring_in(*STAFF))
        self.assertEqual(Cardholder.objects.count(), 2)

        again = self.bring_in(*STAFF)

        self.assertIn("2  same", again)
        self.assertEqual(Cardholder.objects.count(), 2)

    def test_what_is_to_be_decided_waits_and_whoever_runs_it_is_told(self) -> None:
        with self.assertRaises(CommandError):
            self.bring_in(STAFF[0], "S-00103;Brae;Ola;Tower;;")

        self.assertFalse(Cardholder.objects.exists())
        self.assertEqual(Intake.objects.latest("id").state, IntakeState.OPEN)

    @override_settings(
        EMAIL_HOST="mail.station.example",
        EMAIL_BACKEND="django.core.mail.backends.locmem.EmailBackend",
    )
    def test_the_report_goes_by_mail(self) -> None:
        self.bring_in(*STAFF, report_to="desk@station.example")

        (report,) = mail.outbox
        self.assertEqual(report.to, ["desk@station.example"])
        self.assertIn("2  new", report.body)

    def test_a_file_that_is_none_is_an_error_and_leaves_nothing(self) -> None:
        before = Intake.objects.count()
        self.file.write_bytes(b"\x89PNG\r\n\x1a\n")
        with self.assertRaises(CommandError):
            call_command("intake", str(self.file))
        with self.assertRaises(CommandError):
            call_command("intake", str(self.file) + ".gone")
        self.assertEqual(Intake.objects.count(), before)


class FromAScript(WithAToken):
    def test_a_list_is_written_when_nothing_is_to_decide(self) -> None:
        content = b64encode(a_list("S-00101;Norquay;Isla;;;")).decode()
        body = {"name": "staff.csv", "content": content, "apply": True}
        taken = self.ask("POST", "/lists", body, status=202)
        self.assertEqual(taken["rows"]["new"], 1)

        work()

        self.assertEqual(self.ask("GET", f"/lists/{taken['id']}")["state"], "applied")
        self.assertTrue(Cardholder.objects.filter(number="S-00101").exists())

    def test_what_is_no_base64_is_said_at_its_field(self) -> None:
        body = {"name": "x", "content": "%%%"}
        self.assertEqual(self.problems("POST", "/lists", body), {"content": "input.invalid"})


class OverHttp(Api):
    """What the screen sends."""

    def taken(self, data: bytes, name: str = "starters.csv") -> dict[str, Any]:
        file = SimpleUploadedFile(name, data)
        answer = self.client.post("/api/intakes/", {"file": file})
        self.assertEqual(answer.status_code, 201, answer.content)
        code, intake = self.ask("GET", f"/api/intakes/{answer.json()['id']}/")
        self.assertEqual(code, 200)
        return dict(intake)

    def test_a_list_is_decided_about_step_by_step_and_written_by_the_worker(self) -> None:
        intake = self.taken(a_list("S-5;Falk;Jorun;Tower;;08/06/2026", "S-6;Brae;Ola;;;"))
        path = f"/api/intakes/{intake['id']}/"
        self.assertEqual(
            {f["code"] for f in intake["summary"]["faults"]},
            {"intake.no_such_department", "intake.date_ambiguous"},
        )

        choices = intake["choices"]
        choices["columns"][5] |= {"order": "day_first"}
        choices["columns"][3] |= {"replaced": {"Tower": "10"}}
        code, decided = self.ask("PUT", path, {"version": intake["version"], "choices": choices})
        self.assertEqual((code, decided["summary"]["rows"]["new"]), (200, 2))
        code, rows = self.ask("GET", f"{path}rows/?state=new")
        self.assertEqual(
            rows["rows"][0]["became"],
            [{"column": 3, "text": "Station Office"}, {"column": 5, "text": "2026-06-08 00:00"}],
        )
        self.assertEqual(self.ask("POST", f"{path}apply/", {"version": intake["version"]})[0], 409)
        self.assertEqual(self.ask("POST", f"{path}apply/", {"version": decided["version"]})[0], 202)
        work()
        self.assertEqual(self.ask("GET", path)[1]["state"], "applied")
        self.assertEqual(self.ask("POST", f"{path}undo/")[0], 202)
        work()
        self.assertEqual(self.ask("GET", path)[1]["state"], "undone")

    def test_faults_come_back_as_a_file_and_the_mended_file_is_taken(self) -> None:
        intake = self.taken(a_list("S-5;Falk;=Jorun;Tower;;", "S-6;Brae;Ola;;;"))

        answer = self.client.get(f"/api/intakes/{intake['id']}/faults/")
        text = b"".join(answer.streaming_content).decode("utf-8-sig")  # type: ignore[attr-defined]

        self.assertEqual(len(text.splitlines()), 2)
        self.assertIn("Tower", text)
        mended = self.taken(text.replace(";Tower;", ";Station Office;").encode())
        self.assertEqual(mended["summary"]["rows"]["new"], 1)
        row = self.ask("GET", f"/api/intakes/{mended['id']}/rows/")[1]["rows"][0]
        self.assertEqual(row["cells"][2], "'=Jorun")

    def test_bad_input_is_said_and_leaves_nothing(self) -> None:
        wide = ",".join(map(str, range(300))) + "\n"
        for name, data, code in (
            ("empty", b"", "intake.empty"), ("picture", b"\x89PNG\r\n\x1a\n0", "intake.no_table"),
            ("wide", wide.encode() * 2, "intake.too_many_columns"), ("blank", b"\n\n,,\n", "intake.no_rows"),
        ):  # fmt: skip
            with self.subTest(name):
                answer = self.client.post(
                    "/api/intakes/", {"file": SimpleUploadedFile("x.csv", data)}
                )
                self.assertEqual(
                    (answer.status_code, answer.json()["problems"][0]["code"]), (422, code)
                )
        self.assertFalse(Intake.objects.exists())

    def test_cells_that_no_register_takes_are_faults_with_row_and_column(self) -> None:
        rows = (
            "S-1;Reve;Tom\0as;;;", f"S-2;{'x' * 40_000};;;;", "S-3;Falk;Jorun;;;;;;more", "S-4;Br\u202eae;;;;",
            "S-5;Lund;;;no address;",
        )  # fmt: skip
        intake = self.taken(a_list(*rows))

        found = {(f["code"], f["column"]): f["rows"] for f in intake["summary"]["faults"]}

        expected = {
            ("intake.nul", 2): [2], ("intake.cell_too_long", 1): [3], ("input.invisible_characters", 1): [5],
            ("cardholder.email_not_readable", 4): [6],
        }  # fmt: skip
        self.assertLessEqual(expected.items(), found.items())

    def test_ten_thousand_rows_with_one_address_are_one_question(self) -> None:
        rows = (f"S-{n};Falk{n};Jorun{n};;desk@station.example;" for n in range(1_900))
        intake = self.taken(a_list(*rows))

        (fault,) = intake["summary"]["faults"]

        self.assertEqual((fault["code"], fault["count"]), ("intake.may_be_in_file", 1_899))
        choices = intake["choices"] | {"accepted": ["intake.may_be_in_file"]}
        code, decided = self.ask(
            "PUT",
            f"/api/intakes/{intake['id']}/",
            {"version": intake["version"], "choices": choices},
        )
        self.assertEqual((code, decided["summary"]["rows"]["new"]), (200, 1_900))


class OnlyAController(LineCase):
    def test_people_whom_only_a_controller_knew_are_removed_there_and_can_be_enrolled(self) -> None:
        north = self.house.north.pk
        self.house.mark_everything()
        self.rounds()
        self.standins.ask("POST", f"/bench/controllers/{north}/strangers")
        self.assertEqual(self.shown_as(701), "granted")

        self.rounds()

        self.assert_held_exactly()
        self.assertEqual(self.shown_as(701), "unknown_card")
        self.assertEqual(found_at_controllers(), {north: 3})
        self.assertNotIn("Tarbet", str(list(FoundPerson.objects.values())))
        intake = Intake.objects.get(pk=take_from_controller(self.house.actor, north, NOON))
        self.assertEqual(intake.summary["rows"]["new"], 3)
        self.assertEqual(found_at_controllers(), {})

    def shown_as(self, number: int) -> str:
        raw = str(raw_of(CardKey(self.house.format.pk, 201, number)))
        return str(self.standins.show(self.house.gate_reader.pk, raw)["reason"])


class Samples(TestCase):
    def test_every_sample_is_taken_in_and_has_the_faults_it_is_for(self) -> None:
        house = House()
        told = {}
        for sample in SAMPLES:
            taken = List(house.actor, sample.make(NOON.date()), sample.name)
            told[sample.name] = set(taken.faults)
        self.assertLessEqual(
            {
                "intake.date_ambiguous", "intake.lost_zeros", "intake.date_impossible",
                "intake.no_such_department", "intake.may_be_in_file",
            },
            told["volunteers.csv"],
        )  # fmt: skip
        self.assertEqual(told["portraits.zip"], set())

    def test_photos_are_found_by_name_and_the_same_archive_changes_nothing_again(self) -> None:
        house = House()
        house.enrol(house.draft("00471", first_name="Zoë"))
        archive = next(sample for sample in SAMPLES if sample.name == "portraits.zip").make(
            NOON.date()
        )
        taken = List(house.actor, archive, "portraits.zip")
        self.assertEqual(taken.rows, {"blank": 1, "changed": 1, "left_out": 4})

        taken.apply()

        again = List(house.actor, archive, "portraits.zip")
        self.assertEqual(again.rows, {"blank": 1, "same": 1, "left_out": 4})
        undo_intake(house.actor, taken.id, NOON)
        work()
        self.assertIsNone(Cardholder.objects.get().images.filter(slot=0).first())
