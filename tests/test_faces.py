"""Faces of cardholders: taken with consent, searched, several of one person, and gone with it."""

import io
from dataclasses import replace
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory

from django.test import TestCase, override_settings
from PIL import Image

from cadrin.access.plan import access_plan, holders
from cadrin.biometrics.captures import get_capture
from cadrin.biometrics.drafts import BiometricDraft, ConsentDraft, FaceDraft
from cadrin.biometrics.face_captures import begin_face_capture, face_taken, take_picture
from cadrin.biometrics.likeness import is_like_portrait
from cadrin.biometrics.models import Consent, Template
from cadrin.biometrics.save_settings import SettingsDraft, save_biometric_settings
from cadrin.biometrics.settings import biometric_settings
from cadrin.biometrics.wordings import shown_wording
from cadrin.core.credentials.biometric import HowGiven
from cadrin.core.credentials.face.enrolment import FaceRule
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.enrolment import FingerRule
from cadrin.core.errors import Invalid
from cadrin.core.made_up.face.drawing import Shot, drawn
from cadrin.core.made_up.face.person import person
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.delivery.wanted import plans_here
from cadrin.enrolment.commands.consents import withdraw_consent
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.models import Entry
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.photos.commands import take_image
from cadrin.sites.commands.readers import ReaderDraft, save_reader
from tests.house import NOON, House

CONSENT = ConsentDraft((Factor.FACE,), HowGiven.TICK, "en")
PLAIN, TURNED, GLASSES = Shot(), Shot(yaw=6.0, smile=0.4), Shot(has_glasses=True)


@cache
def jpeg(who: int, how: Shot = PLAIN) -> bytes:
    file = io.BytesIO()
    Image.fromarray(drawn(person(who), how, 2)).save(file, "JPEG", quality=92)
    return file.getvalue()


class Faces(TestCase):
    """Somebody with a face, at a house whose gate asks for one."""

    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        kept = biometric_settings()
        drawn_faces = FaceRule(match=0.33)
        draft = SettingsDraft(FingerRule(), drawn_faces, 0, None, shown_wording(), kept.version)
        save_biometric_settings(self.actor, draft, NOON)
        asking = ReaderDraft(((Factor.FACE,),), False, frozenset(), 1, has_face_reader=True)
        save_reader(self.actor, self.house.gate_reader.pk, asking, NOON)
        face = FaceDraft(None, capture=self.taken(1))
        wanted = BiometricDraft(new_consent=CONSENT, faces=(face,))
        self.holder_id = self.house.enrol(replace(self.house.draft(), biometrics=wanted))

    def taken(self, who: int, *shots: Shot, holder_id: int | None = None) -> str:
        token = begin_face_capture(self.actor, None, holder_id, NOON)
        for shot in shots or (PLAIN,):
            take_picture(get_capture(self.actor, token, Factor.FACE), jpeg(who, shot))
        return token

    def stored(self) -> CardholderDraft:
        return stored_cardholder(Cardholder.objects.get(pk=self.holder_id), rules())

    def save(self, *faces: FaceDraft) -> None:
        wanted = BiometricDraft(faces=faces)
        self.house.save(self.holder_id, replace(self.stored(), biometrics=wanted))

    def refusal(self, *faces: FaceDraft) -> tuple[str, str | None]:
        with self.assertRaises(Invalid) as caught:
            self.save(*faces)
        (problem,) = caught.exception.problems
        return problem.code, problem.field

    def kept(self) -> FaceDraft:
        stored = self.stored().biometrics
        assert stored is not None
        return stored.faces[0]

    def test_goes_to_the_doors_that_ask_with_how_near_it_must_be_and_nowhere_else(self) -> None:
        body = encode_cardholder(
            holders([self.holder_id])[self.holder_id], plans_here()[self.house.north.pk]
        )

        assert body is not None
        self.assertEqual(len(body["faces"]), 1)
        self.assertEqual(access_plan().policy_of_reader[self.house.gate_reader.pk].face_match, 33)
        told = str(list(Entry.objects.values_list("action", "changes", "raw")))
        self.assertIn("face.enrolled", told)
        self.assertNotIn(body["faces"][0]["record"][:24], told)

    def test_the_best_picture_is_kept_and_a_bad_one_says_why(self) -> None:
        capture = get_capture(self.actor, self.taken(1, TURNED, PLAIN), Factor.FACE)
        best = face_taken(capture)
        assert best is not None

        take_picture(capture, b"no picture at all")
        take_picture(capture, jpeg(1, Shot(blur=7.0)))

        self.assertEqual(best.quality, max(press["quality"] for press in capture.presses))
        self.assertEqual(
            [press["problem"] and press["problem"]["code"] for press in capture.presses],
            [None, None, "photo.not_readable", "face.blurred"],
        )
        kept = face_taken(capture)
        assert kept is not None
        self.assertEqual(kept.quality, best.quality)

    def test_of_one_person_may_be_several_and_each_is_like_another(self) -> None:
        with_glasses = FaceDraft(
            None, self.taken(1, TURNED, holder_id=self.holder_id), label="glasses"
        )
        stranger = FaceDraft(None, self.taken(4, holder_id=self.holder_id))

        self.assertEqual(
            self.refusal(self.kept(), stranger),
            ("face.another_face", "biometrics.faces.1.capture"),
        )
        self.save(self.kept(), with_glasses)

        self.assertEqual(
            list(Template.objects.order_by("position").values_list("position", "label")),
            [(1, ""), (2, "glasses")],
        )

    def test_somebody_elses_is_found_under_a_second_name(self) -> None:
        face = FaceDraft(None, capture=self.taken(1, TURNED))
        other = replace(
            self.house.draft("S-2"),
            cards=(),
            biometrics=BiometricDraft(new_consent=CONSENT, faces=(face,)),
        )

        with self.assertRaises(Invalid) as caught:
            self.house.enrol(other)

        (problem,) = caught.exception.problems
        self.assertEqual(
            (problem.code, problem.params["holder"]), ("face.of_another", "Tomas Reve")
        )

    def test_needs_a_consent_and_goes_with_it(self) -> None:
        withdraw_consent(self.actor, self.holder_id, Consent.objects.get().pk, NOON)

        self.assertFalse(Template.objects.exists())
        face = FaceDraft(None, capture=self.taken(1, holder_id=self.holder_id))
        self.assertEqual(self.refusal(face), ("consent.face_missing", "biometrics.faces"))

    def test_is_said_to_be_unlike_a_portrait_of_somebody_else(self) -> None:
        with TemporaryDirectory() as folder, override_settings(IMAGES=Path(folder)):
            tokens = [take_image(self.actor, jpeg(who), NOON).token for who in (1, 5)]

            found = [is_like_portrait(self.actor, self.holder_id, token) for token in tokens]

        self.assertEqual(found, [True, False])
