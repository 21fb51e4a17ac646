"""Fingers from the desk to the doors: compared for real, held only where they are needed, and gone
when the consent is.
"""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

from cadrin.activity.commands.reads import take_events
from cadrin.activity.models import Read
from cadrin.biometrics.captures import (
    CaptureWanted,
    begin_capture,
    get_capture,
    is_whole,
    picture_in,
)
from cadrin.biometrics.drafts import BiometricDraft, CardAloneDraft, FingerDraft
from cadrin.biometrics.models import Consent, Template
from cadrin.biometrics.tests.hands import CONSENT, with_finger
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.factors import Factors
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.tests.builders import Asks
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.queries import raw_of
from cadrin.delivery.controllers import controllers
from cadrin.delivery.line import Line
from cadrin.delivery.models import Link
from cadrin.delivery.preview import preview_cardholder
from cadrin.delivery.templates_gone import note_templates_gone
from cadrin.delivery.wire import Wire
from cadrin.desk.explaining import explanation
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.commands.consents import withdraw_consent
from cadrin.enrolment.queries import stored_cardholder
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.sites.commands.readers import AskedBySchedule, ReaderDraft, save_reader
from cadrin.sites.controller_keys import key_of_controller
from cadrin.sites.models import Reader
from tests.house import ANYBODY, NOON
from tests.line_case import LineCase

MINE, THEIRS, STRANGE = 1, 2, 3
"""Seeds of fingers."""
PIN = "481509"


class FingersAtDoors(LineCase):
    def setUp(self) -> None:
        super().setUp()
        house = self.house
        self.gate = house.gate_reader.pk
        with_scanners = {"scanners": [self.gate, house.desk_reader.pk], "keypads": [self.gate]}
        self.start(with_scanners)
        self.asked_for(Asks.CARD_AND_FINGER)
        draft = replace(
            house.draft(),
            biometrics=with_finger(house.actor, MINE),
            pins=(PinDraft(entry=PIN, again=PIN),),
        )
        self.holder_id = house.enrol(draft)
        other = replace(
            house.draft("S-2", first_name="Edda"),
            cards=(house.card(4752),),
            biometrics=with_finger(house.actor, THEIRS, Finger.LEFT_THUMB),
        )
        house.enrol(other)
        house.mark_everything()
        self.rounds()

    def asked_for(self, alternatives: Factors | tuple[Factors, ...], **more: Any) -> None:
        reader = Reader.objects.get(pk=self.gate)
        draft = ReaderDraft(
            alternatives,  # type: ignore[arg-type]
            True,
            frozenset(),
            reader.version,
            has_finger_scanner=True,
            **more,
        )
        save_reader(self.house.actor, self.gate, draft, NOON)
        self.rounds()

    def lay(
        self, seed: int | None, card: int | None = None, typed: str | None = None, how: str = "well"
    ) -> str:
        raw = str(raw_of(CardKey(self.house.format.pk, 12, card))) if card else ""
        finger = {"seed": seed, "how": how} if seed else None
        body = {"reader": self.gate, "raw": raw, "typed": typed, "finger": finger}
        return str(self.standins.ask("POST", "/bench/reads", body)["reason"])

    def save(self, biometrics: BiometricDraft) -> None:
        stored = stored_cardholder(Cardholder.objects.get(pk=self.holder_id), rules())
        draft = replace(stored, biometrics=biometrics)
        save_cardholder(self.house.actor, self.holder_id, draft, NOON)
        self.rounds()

    def test_every_way_of_asking_takes_what_is_right_and_nothing_else(self) -> None:
        cases: dict[str, tuple[tuple[Factors, ...], list[tuple[tuple[Any, ...], str]]]] = {
            "a card and a finger": (
                Asks.CARD_AND_FINGER,
                [
                    ((MINE, 4751), "granted"),
                    ((THEIRS, 4751), "finger_of_another"),
                    ((STRANGE, 4751), "finger_of_another"),
                    ((None, 4751), "finger_missing"),
                    ((MINE,), "card_missing"),
                    ((MINE, 4752), "finger_of_another"),
                ],
            ),
            "a finger": (
                Asks.FINGER,
                [
                    ((MINE,), "granted"),
                    ((THEIRS,), "granted"),
                    ((STRANGE,), "unknown_finger"),
                    ((None, 4751), "card_not_taken"),
                ],
            ),
            "a finger and a PIN": (
                Asks.FINGER_AND_PIN,
                [
                    ((MINE, None, PIN), "granted"),
                    ((MINE, None, "111111"), "pin_wrong"),
                    ((THEIRS, None, PIN), "pin_missing"),
                    ((MINE,), "pin_missing"),
                ],
            ),
            "any two of three": (
                Asks.TWO_OF_THREE,
                [
                    ((MINE, 4751), "granted"),
                    ((None, 4751, PIN), "granted"),
                    ((MINE, None, PIN), "granted"),
                ],
            ),
        }
        for name, (alternatives, tried) in cases.items():
            self.asked_for(alternatives)
            for shown, reason in tried:
                with self.subTest(f"{name}: {shown}"):
                    self.assertEqual(self.lay(*shown), reason)

    def test_the_hours_change_what_is_asked(self) -> None:
        always = AskedBySchedule(self.house.always.pk, Asks.CARD)
        self.assertEqual(self.lay(None, 4751), "finger_missing")

        self.asked_for(Asks.CARD_AND_FINGER, by_hours=(always,))

        self.assertEqual(self.lay(None, 4751), "granted")
        self.assert_held_exactly()

    def test_whoever_is_excused_comes_in_by_card_alone_until_its_end(self) -> None:
        at = datetime.now(UTC).replace(microsecond=0)
        for end, reason in (
            (at + timedelta(hours=1), "granted"),
            (at - timedelta(hours=1), "finger_missing"),
        ):
            self.save(BiometricDraft(card_alone=CardAloneDraft("burned hand", end)))
            self.assertEqual(self.lay(None, 4751), reason)

    def test_withdrawing_a_consent_empties_every_controller_and_says_when_the_last_confirmed(
        self,
    ) -> None:
        consent = Consent.objects.get(holder_id=self.holder_id)
        withdraw_consent(self.house.actor, self.holder_id, consent.pk, NOON)
        self.assertEqual(note_templates_gone(NOON), 0)

        self.rounds()

        self.assert_held_exactly()
        self.assertEqual(note_templates_gone(NOON), 1)
        consent.refresh_from_db()
        self.assertEqual(consent.gone_at, NOON)
        self.assertEqual(self.lay(MINE, 4751), "finger_missing")
        self.asked_for(Asks.FINGER)
        self.assertEqual([self.lay(seed) for seed in (MINE, THEIRS)], ["unknown_finger", "granted"])

    def test_a_consent_is_not_said_to_be_gone_while_templates_rest_on_another(self) -> None:
        consent = Consent.objects.get(holder_id=self.holder_id)
        finger = Template.objects.get(holder_id=self.holder_id)
        kept = FingerDraft(finger.pk, Finger(finger.position))
        self.save(BiometricDraft((kept,), CONSENT))
        withdraw_consent(self.house.actor, self.holder_id, consent.pk, NOON)
        self.rounds()

        self.assertEqual(Template.objects.filter(holder_id=self.holder_id).count(), 1)
        self.assertEqual(note_templates_gone(NOON), 0)

    def test_a_door_knows_by_itself_when_a_consent_has_ended(self) -> None:
        Consent.objects.update(expiry_at=datetime.now(UTC) - timedelta(minutes=1))
        self.house.mark_everything()
        self.rounds()

        self.assertEqual(self.lay(MINE, 4751), "finger_without_consent")

    def test_a_suspended_finger_lies_at_no_controller_and_counts_again_when_it_is_let(self) -> None:
        finger = Template.objects.get(holder_id=self.holder_id)
        kept = FingerDraft(finger.pk, Finger(finger.position))

        self.save(BiometricDraft((replace(kept, is_suspended=True),)))

        self.assert_held_exactly()
        self.assertEqual(self.lay(MINE, 4751), "finger_suspended")
        self.rounds()
        found = explanation(ANYBODY, Read.objects.latest("id").pk, NOON)
        self.assertIn(
            ["finger_terms"], [[step.act for step in remedy] for remedy in found.remedies]
        )
        self.asked_for(Asks.FINGER)
        self.assertEqual(self.lay(MINE), "unknown_finger")
        soon = datetime.now(UTC).replace(microsecond=0) + timedelta(hours=1)
        for terms, reason in (({"activation_at": soon}, "finger_pending"), ({}, "granted")):
            self.save(BiometricDraft((replace(kept, **terms),)))  # type: ignore[arg-type]
            self.assertEqual(self.lay(MINE), reason)

    def test_why_and_what_would_open_it_is_said_of_a_finger_too(self) -> None:
        self.assertEqual(self.lay(STRANGE, 4751), "finger_of_another")
        self.rounds()

        found = explanation(ANYBODY, Read.objects.latest("id").pk, NOON)

        self.assertEqual(found.now_reason, "finger_of_another")
        self.assertEqual(
            [[step.act for step in remedy] for remedy in found.remedies],
            [["lay_finger"], ["enrol_finger"], ["by_card_alone"]],
        )
        self.assertEqual(Read.objects.latest("id").factors, "card,finger")

    def test_one_without_room_keeps_the_first_fingers_and_says_whose_it_lacks(self) -> None:
        self.asked_for((*Asks.CARD, *Asks.FINGER))
        self.start({"scanners": [self.gate], "most_templates": 1})

        self.rounds()
        self.rounds()

        self.assert_held_exactly()
        link = Link.objects.get(controller=self.house.north)
        (left_out,) = link.without_templates
        self.assertNotEqual(left_out, self.holder_id)
        self.assertEqual([self.lay(s) for s in (MINE, THEIRS)], ["granted", "unknown_finger"])
        self.assertEqual(self.lay(None, 4752), "granted")
        (told,) = [one for one in controllers(ANYBODY, NOON) if one["id"] == self.house.north.pk]
        self.assertEqual(told["without_templates"], 1)
        stored = stored_cardholder(Cardholder.objects.get(pk=left_out), rules())
        draft = replace(stored, details=replace(stored.details, last_name="Norquay"))
        found = preview_cardholder(self.house.actor, left_out, draft, NOON, NOON)
        self.assertTrue(found.to_send[0].is_without_templates)

        self.save(BiometricDraft())
        self.rounds()

        self.assert_held_exactly()
        self.assertEqual(self.lay(THEIRS), "granted")

    def test_a_desks_scanner_sends_pictures_or_templates_to_whoever_waits(self) -> None:
        desk, actor = self.house.desk_reader.pk, self.house.actor
        for without_pictures in ([], [desk]):
            with self.subTest(without_pictures=without_pictures):
                self.start({"scanners": [desk], "without_pictures": without_pictures})
                wire = Wire(self.house.desk.address, key_of_controller(self.house.desk.pk))
                self.addCleanup(wire.close)
                line = Line(self.house.desk.pk, wire, take_events)
                token = begin_capture(
                    actor, CaptureWanted(Finger.RIGHT_RING, desk), datetime.now(UTC)
                )
                for _ in range(3):
                    laid = {"reader": desk, "raw": "", "finger": {"seed": STRANGE, "how": "well"}}
                    answer = self.standins.ask("POST", "/bench/reads", laid)
                    self.assertNotIn("press", answer)
                for _ in range(4):
                    line.turn(lambda: datetime.now(UTC))

                capture = get_capture(actor, token)
                self.assertTrue(is_whole(capture), capture.presses)
                self.assertEqual(bool(picture_in(capture)), not without_pictures)
        self.assertFalse(Read.objects.filter(reader=desk).exists())

    def test_fingers_are_taken_anew_with_another_consent(self) -> None:
        consent = Consent.objects.get(holder_id=self.holder_id)
        withdraw_consent(self.house.actor, self.holder_id, consent.pk, NOON)
        fresh = with_finger(self.house.actor, STRANGE, Finger.RIGHT_RING, self.holder_id)

        self.save(replace(fresh, new_consent=CONSENT))

        self.assertEqual(self.lay(STRANGE, 4751), "granted")
        self.assertEqual(self.lay(MINE, 4751), "finger_of_another")
