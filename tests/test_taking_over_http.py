"""Fingers and faces over HTTP: taken by files, seen by whoever takes them alone, and told nowhere."""

import json
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, override_settings

from cadrin.access.plan import holders
from cadrin.biometrics.models import Capture, Template
from cadrin.biometrics.tests.hands import png, record, with_finger
from cadrin.core.credentials.finger.iso_record import decode_fingers
from cadrin.core.credentials.finger.positions import Finger
from cadrin.operators.permissions import Permission
from cadrin.operators.sealing import sealed_columns
from cadrin.photos.commands import take_image
from tests.house import NOON, an_operator
from tests.test_api import Api
from tests.test_faces import jpeg

FINGERS, FACES = "/api/fingers/captures/", "/api/faces/captures/"


class Taking(Api):
    def setUp(self) -> None:
        super().setUp()
        draft = replace(self.house.draft(), biometrics=with_finger(self.house.actor, 1))
        self.holder_id = self.house.enrol(draft)

    def begin(self, path: str = FINGERS, **more: Any) -> str:
        body = ({"finger": "left_index"} if path == FINGERS else {}) | more
        code, state = self.ask("POST", path, {"cardholder": self.holder_id} | body)
        self.assertEqual(code, 201, state)
        return str(state["token"])

    def send(self, path: str, content: bytes) -> tuple[int, Any]:
        file = SimpleUploadedFile("sent", content)
        answer = self.client.post(f"{path}files/", {"file": file})
        return answer.status_code, answer.json()

    def test_a_finger_is_taken_by_files_and_saved_with_its_cardholder(self) -> None:
        token = self.begin()
        states = [self.send(f"{FINGERS}{token}/", png(2, press))[1] for press in range(3)]
        picture = self.client.get(f"{FINGERS}{token}/picture/")
        _, file = self.ask("GET", f"/api/cardholders/{self.holder_id}/")
        finger = {"id": None, "finger": "left_index", "label": "", "is_duress": True}
        finger |= {"capture": token, "despite_match": False}
        file["biometrics"]["fingers"].append(finger)

        code, saved = self.ask("PUT", f"/api/cardholders/{self.holder_id}/", file)

        self.assertEqual([state["taken"] for state in states], [1, 2, 3])
        self.assertEqual((picture["Content-Type"], picture.content), ("image/png", png(2, 2)))
        self.assertEqual((code, len(saved["biometrics"]["fingers"])), (200, 2))
        self.assertFalse(Capture.objects.exists())
        self.assertEqual(self.ask("GET", f"{FINGERS}{token}/")[0], 404)

    def test_what_is_being_taken_is_that_operators_alone_and_no_scripts(self) -> None:
        token = self.begin()
        other = Client()
        other.force_login(an_operator("other", *Permission))

        for path in ("", "picture/"):
            answer = other.get(f"{FINGERS}{token}/{path}")
            self.assertEqual(answer.status_code, 404)
        self.ask("DELETE", f"{FINGERS}{token}/", client=other)
        self.assertEqual(self.ask("GET", f"{FINGERS}{token}/")[0], 200)
        self.assertEqual(self.ask("DELETE", f"{FINGERS}{token}/")[0], 204)
        self.assertEqual(self.ask("GET", f"{FINGERS}{token}/")[0], 404)

    def test_one_that_is_somebodys_is_said_with_the_name_and_the_finger(self) -> None:
        token = self.begin(cardholder=None)
        for press in (4, 5, 6):
            _, state = self.send(f"{FINGERS}{token}/", record(1, press))

        self.assertEqual(
            state["whose"],
            [
                {
                    "holder_id": self.holder_id,
                    "holder_name": "Tomas Reve",
                    "finger": "right_index",
                    "is_same_person": False,
                }
            ],
        )

    def test_what_cannot_be_begun_or_sent_is_refused_beside_its_field(self) -> None:
        token = self.begin()
        desk = self.house.desk_reader.pk

        self.assertEqual(
            self.problems("POST", FINGERS, {"finger": "sixth"}),
            {("finger", "input.invalid_choice")},
        )
        self.assertEqual(
            self.problems("POST", FINGERS, {"finger": "left_ring", "reader": desk}, 404),
            {(None, "reader.not_found")},
        )
        self.assertEqual(
            self.problems("POST", FINGERS, {"finger": "left_ring", "least_quality": 5}),
            {("lowered_because", "finger.needs_reason")},
        )
        self.assertEqual(self.client.post(f"{FINGERS}{token}/files/", {}).status_code, 422)
        code, answer = self.send(f"{FINGERS}{token}/", bytes(5 * 2**20))
        self.assertEqual((code, answer["title"]), (422, "finger.file_too_large"))
        code, state = self.send(f"{FINGERS}{token}/", b"no finger")
        self.assertEqual((code, state["taken"]), (200, 0))
        self.assertEqual(state["presses"][0]["problem"]["code"], "finger_picture.not_readable")

    def test_a_face_is_taken_from_a_file_and_from_the_portrait(self) -> None:
        with TemporaryDirectory() as folder, override_settings(IMAGES=Path(folder)):
            portrait = take_image(self.house.actor, jpeg(1), NOON).token
            token = self.begin(FACES)

            _, from_file = self.send(f"{FACES}{token}/", jpeg(1))
            _, from_portrait = self.ask("POST", f"{FACES}{token}/portrait/", {"image": portrait})
            gone, _ = self.ask("POST", f"{FACES}{token}/portrait/", {"image": "none"})
            picture = self.client.get(f"{FACES}{token}/picture/")

        self.assertGreaterEqual(from_file["quality"], from_file["least_quality"])
        self.assertEqual(len(from_portrait["pictures"]), 2)
        self.assertEqual((gone, picture["Content-Type"]), (404, "image/png"))
        self.assertEqual(self.ask("GET", f"{FINGERS}{token}/")[0], 404)  # it is no finger

    def test_a_record_goes_out_as_a_file_with_a_reason(self) -> None:
        path = f"/api/cardholders/{self.holder_id}/fingers/{Template.objects.get().pk}/export/"

        self.assertEqual(
            self.problems("POST", path, {"reason": ""}),
            {("reason", "finger.export_needs_reason")},
        )
        answer = self.client.post(path, {"reason": "for the ferry"}, "application/json")

        self.assertEqual(decode_fingers(answer.content)[0].finger, Finger.RIGHT_INDEX)
        self.assertIn("attachment", answer["Content-Disposition"])

    def test_each_threshold_is_told_with_how_often_it_is_false(self) -> None:
        _, rules = self.ask("GET", "/api/biometric-settings/")

        told = {one["match"]: one for one in rules["false_matches"]["finger"]}
        self.assertEqual(told[42], {"match": 42, "one_in": 1105, "is_fewer": False})
        self.assertNotIn(10, told)

    def test_a_consent_in_a_language_that_has_no_wording_is_none(self) -> None:
        _, file = self.ask("GET", f"/api/cardholders/{self.holder_id}/")
        consent = {"factors": ["finger"], "how": "tick", "language": "xx", "proof": ""}
        file["biometrics"]["new_consent"] = consent

        found = self.problems("PUT", f"/api/cardholders/{self.holder_id}/", file)

        self.assertEqual(found, {("biometrics.new_consent.language", "input.invalid_choice")})


class Secret(Api):
    def test_no_template_stands_in_any_answer_but_that_of_its_export(self) -> None:
        actor = self.house.actor
        fingers = with_finger(actor, 1)
        id_ = self.house.enrol(replace(self.house.draft(), biometrics=fingers))
        (template,) = holders([id_])[id_].fingers
        parts = [template.record[:24], Template.objects.get().sealed[:40]]
        answers = []
        for path in (
            f"/api/cardholders/{id_}/",
            f"/api/cardholders/{id_}/biometrics/",
            f"/api/cardholders/{id_}/history/",
            f"/api/cardholders/{id_}/records/",
            "/api/cardholders/",
            "/api/cardholders/find/?text=rev",
            "/api/house/",
            "/api/journal/",
            "/api/desk/",
            "/api/controllers/",
            "/api/biometric-settings/",
            f"/api/v1/cardholders/{id_}",
            "/api/v1/journal",
        ):
            answer = self.client.get(path)
            self.assertEqual(answer.status_code, 200, path)
            answers.append(answer.content.decode())
        _, file = self.ask("GET", f"/api/cardholders/{id_}/")
        answers.append(json.dumps(self.ask("POST", "/api/preview/", file | {"id": id_})[1]))

        for answer_text in answers:
            for part in parts:
                self.assertNotIn(part, answer_text)

    def test_faces_and_fingers_are_both_marked_as_columns_that_are_sealed_anew(self) -> None:
        sealed = {(model.__name__, column) for model, column in sealed_columns()}

        self.assertLessEqual(
            {
                ("Template", "sealed"),
                ("Consent", "sealed_proof"),
                ("ConsentProof", "sealed"),
                ("Capture", "sealed"),
                ("Capture", "sealed_picture"),
            },
            sealed,
        )
