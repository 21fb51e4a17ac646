"""Faces from enrolment to doors: the stand-ins compare them, alone and beside cards and PINs."""

from dataclasses import replace
from typing import Any

from cadrin.biometrics.captures import get_capture
from cadrin.biometrics.drafts import BiometricDraft, ConsentDraft, FaceDraft
from cadrin.biometrics.face_captures import begin_face_capture, take_picture
from cadrin.biometrics.models import Consent
from cadrin.biometrics.save_settings import SettingsDraft, save_biometric_settings
from cadrin.biometrics.settings import biometric_settings
from cadrin.biometrics.wordings import shown_wording
from cadrin.core.credentials.biometric import HowGiven
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.face.enrolment import FaceRule
from cadrin.core.credentials.factors import Factor, Factors
from cadrin.core.credentials.finger.enrolment import FingerRule
from cadrin.core.tests.builders import Asks
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.queries import raw_of
from cadrin.enrolment.commands.consents import withdraw_consent
from cadrin.sites.commands.readers import ReaderDraft, save_reader
from cadrin.sites.models import Reader
from tests.house import NOON
from tests.line_case import LineCase
from tests.test_faces import jpeg

MINE, STRANGE = 1, 4
"""Seeds of drawn people."""
CARD, PIN = 4751, "481509"
FACE: Factors = (Factor.FACE,)
FACE_AND_CARD: Factors = (Factor.CARD, Factor.FACE)


class FacesAtDoors(LineCase):
    def setUp(self) -> None:
        super().setUp()
        self.gate = self.house.gate_reader.pk
        self.start({"face_readers": [self.gate], "keypads": [self.gate]})
        kept = biometric_settings()
        rules = (FingerRule(), FaceRule(match=0.33))
        draft = SettingsDraft(*rules, 0, None, shown_wording(), kept.version)
        save_biometric_settings(self.house.actor, draft, NOON)
        self.asked_for(FACE)
        token = begin_face_capture(self.house.actor, None, None, NOON)
        take_picture(get_capture(self.house.actor, token, Factor.FACE), jpeg(MINE))
        consent = ConsentDraft((Factor.FACE,), HowGiven.TICK, "en")
        face = FaceDraft(None, capture=token)
        self.holder_id = self.house.enrol(
            replace(
                self.house.draft(),
                biometrics=BiometricDraft(new_consent=consent, faces=(face,)),
                pins=(PinDraft(entry=PIN, again=PIN),),
            )
        )
        self.house.mark_everything()
        self.rounds()

    def asked_for(self, *alternatives: Factors) -> None:
        reader = Reader.objects.get(pk=self.gate)
        draft = ReaderDraft(alternatives, True, frozenset(), reader.version, has_face_reader=True)
        save_reader(self.house.actor, self.gate, draft, NOON)
        self.rounds()

    def show(self, seed: int | None, card: int | None = None, typed: str | None = None) -> str:
        raw = str(raw_of(CardKey(self.house.format.pk, 12, card))) if card else ""
        face = {"seed": seed, "how": "as_it_is"} if seed else None
        body: dict[str, Any] = {"reader": self.gate, "raw": raw, "typed": typed, "face": face}
        return str(self.standins.ask("POST", "/bench/reads", body)["reason"])

    def test_every_way_of_asking_takes_what_is_right_and_nothing_else(self) -> None:
        cases: dict[str, tuple[tuple[Factors, ...], tuple[tuple[tuple[Any, ...], str], ...]]] = {
            "a face": (
                (FACE,),
                (
                    ((MINE,), "granted"),
                    ((STRANGE,), "unknown_face"),
                    ((None, CARD), "card_not_taken"),
                ),
            ),
            "a card or a face": (
                ((Factor.CARD,), FACE),
                (
                    ((MINE,), "granted"),
                    ((None, CARD), "granted"),
                    ((STRANGE,), "unknown_face"),
                    ((None, 4799), "unknown_card"),
                ),
            ),
            "a face and a card": (
                (FACE_AND_CARD,),
                (
                    ((MINE, CARD), "granted"),
                    ((STRANGE, CARD), "face_of_another"),
                    ((None, CARD), "face_missing"),
                    ((MINE,), "card_missing"),
                ),
            ),
            "any two of three": (
                (FACE_AND_CARD, (Factor.CARD, Factor.PIN), (Factor.FACE, Factor.PIN)),
                (
                    ((MINE, CARD), "granted"),
                    ((None, CARD, PIN), "granted"),
                    ((MINE, None, PIN), "granted"),
                    ((STRANGE, None, PIN), "unknown_face"),
                    ((None, CARD, "111111"), "pin_wrong"),
                ),
            ),
            "a card": (Asks.CARD, (((None, CARD), "granted"), ((None, 4799), "unknown_card"))),
            "a card and a PIN": (
                Asks.CARD_AND_PIN,
                (
                    ((None, CARD, PIN), "granted"),
                    ((None, CARD, "111111"), "pin_wrong"),
                    ((None, CARD), "pin_missing"),
                ),
            ),
            "a PIN": (Asks.PIN, (((None, None, "111111"), "pin_wrong"),)),
        }
        for name, (alternatives, tried) in cases.items():
            self.asked_for(*alternatives)
            for shown, reason in tried:
                with self.subTest(f"{name}: {shown}"):
                    self.assertEqual(self.show(*shown), reason)

    def test_withdrawing_the_consent_leaves_no_face_at_a_door(self) -> None:
        self.assertEqual(self.show(MINE), "granted")

        withdraw_consent(self.house.actor, self.holder_id, Consent.objects.get().pk, NOON)
        self.rounds()

        self.assert_held_exactly()
        self.assertEqual(self.show(MINE), "unknown_face")
