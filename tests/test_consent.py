"""Consent first: what is saved with it, and what goes with it."""

from dataclasses import replace
from datetime import timedelta

from django.test import TestCase

from cadrin.access.plan import holders
from cadrin.biometrics.drafts import BiometricDraft, CardAloneDraft, ConsentDraft, FingerDraft
from cadrin.biometrics.export import export_finger
from cadrin.biometrics.models import CardAlone, Consent, Template
from cadrin.biometrics.proofs import proof_of, take_proof
from cadrin.biometrics.queries import consents_shown
from cadrin.biometrics.save_settings import SettingsDraft, save_biometric_settings
from cadrin.biometrics.settings import biometric_settings
from cadrin.biometrics.tests.hands import CONSENT, record, taken, with_finger
from cadrin.biometrics.wordings import shown_wording
from cadrin.core.credentials.biometric import HowGiven
from cadrin.core.credentials.face.enrolment import FaceRule
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.enrolment import FingerRule
from cadrin.core.credentials.finger.iso_record import decode_fingers
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.errors import Invalid, NotPermitted, Stale
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.tests.builders import Asks
from cadrin.core.validity import Standing
from cadrin.delivery.wanted import plans_here
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.commands.consents import forget_templates_over, withdraw_consent
from cadrin.enrolment.commands.erase import erase_cardholder
from cadrin.enrolment.commands.merge import merge_cardholders
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.outbox.models import Mark
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.sites.commands.readers import ReaderDraft, save_reader
from tests.house import DAY, NOON, House, an_operator


class Enrolled(TestCase):
    """Somebody with one finger, at a house whose gate asks for a card and a finger."""

    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        asking = ReaderDraft(Asks.CARD_AND_FINGER, False, frozenset(), 1, has_finger_scanner=True)
        save_reader(self.actor, self.house.gate_reader.pk, asking, NOON)
        draft = replace(self.house.draft(), biometrics=with_finger(self.actor, 1))
        self.holder_id = self.house.enrol(draft)

    def stored(self) -> CardholderDraft:
        return stored_cardholder(Cardholder.objects.get(pk=self.holder_id), rules())

    def save(self, biometrics: BiometricDraft, **more: object) -> None:
        self.house.save(self.holder_id, replace(self.stored(), biometrics=biometrics, **more))  # type: ignore[arg-type]

    def refusal(self, biometrics: BiometricDraft) -> list[tuple[str, str | None]]:
        with self.assertRaises(Invalid) as caught:
            self.save(biometrics)
        return [(problem.code, problem.field) for problem in caught.exception.problems]

    def theirs(self) -> BiometricDraft:
        found = self.stored().biometrics
        assert found is not None
        return found


class Saving(Enrolled):
    def test_goes_sealed_into_the_house_and_only_to_the_doors_that_ask_for_it(self) -> None:
        template = Template.objects.get()
        here = plans_here()
        holder = holders([self.holder_id])[self.holder_id]
        body = encode_cardholder(holder, here[self.house.north.pk])
        asking = ReaderDraft(Asks.CARD, False, frozenset(), 2, has_finger_scanner=True)
        save_reader(self.actor, self.house.gate_reader.pk, asking, NOON)
        without = encode_cardholder(holder, plans_here()[self.house.north.pk])

        assert body is not None
        assert without is not None
        self.assertEqual(len(body["fingers"]), 1)
        self.assertNotIn("fingers", without)
        self.assertTrue(template.sealed.startswith("gAAAA"))
        told = str(list(Entry.objects.values_list("action", "changes", "raw")))
        self.assertIn("finger.enrolled", told)
        self.assertNotIn(body["fingers"][0]["record"][:24], told)

    def test_needs_a_consent_that_is_in_force(self) -> None:
        consent = Consent.objects.get()
        withdraw_consent(self.actor, self.holder_id, consent.pk, NOON)
        wanted = with_finger(self.actor, 2, Finger.LEFT_INDEX, self.holder_id)

        refused = self.refusal(replace(wanted, new_consent=None))

        self.assertEqual(refused, [("consent.missing", "biometrics.fingers")])
        self.assertFalse(Template.objects.exists())
        self.save(wanted)
        self.assertEqual(Template.objects.get().position, Finger.LEFT_INDEX)

    def test_says_what_is_wrong_beside_its_field(self) -> None:
        (kept,) = self.theirs().fingers
        new = FingerDraft(None, Finger.LEFT_INDEX)
        cases = {
            "finger.not_taken": (kept, new),
            "finger.twice": (kept, replace(kept, id=None, capture="gone")),
            "finger.capture_is_over": (kept, replace(new, capture="gone")),
            "input.no_longer_there": (replace(kept, id=kept.id + 99 if kept.id else 99),),
            "input.too_long": (replace(kept, label="x" * 41),),
            "template.end_is_past": (replace(kept, expiry_at=NOON),),
            "span.ends_before_it_begins": (
                replace(kept, activation_at=NOON + 2 * DAY, expiry_at=NOON + DAY),
            ),
            "finger.duress_needs_two": (replace(kept, is_duress=True),),
        }
        for code, fingers in cases.items():
            with self.subTest(code):
                refused = self.refusal(BiometricDraft(fingers))
                self.assertIn(code, [code for code, _ in refused])
                self.assertTrue(all(field for _, field in refused))
        self.assertEqual(self.theirs().fingers, (kept,))

    def test_a_finger_taken_as_another_or_of_another_is_refused(self) -> None:
        (kept,) = self.theirs().fingers
        as_other = FingerDraft(
            None, Finger.LEFT_RING, capture=taken(self.actor, 2, Finger.LEFT_INDEX, self.holder_id)
        )
        again = FingerDraft(
            None, Finger.LEFT_RING, capture=taken(self.actor, 1, Finger.LEFT_RING, self.holder_id)
        )

        self.assertEqual(
            self.refusal(BiometricDraft((kept, as_other)))[0][0], "finger.capture_of_another"
        )
        self.assertEqual(self.refusal(BiometricDraft((kept, again)))[0][0], "finger.same_as_known")

    def test_a_finger_under_a_second_name_is_named_to_whoever_may_see_them(self) -> None:
        other = replace(self.house.draft("S-2"), cards=(), biometrics=with_finger(self.actor, 1))
        with self.assertRaises(Invalid) as caught:
            save_cardholder(self.actor, None, other, NOON)

        (problem,) = caught.exception.problems
        self.assertEqual(problem.code, "finger.of_another")
        self.assertEqual(problem.params["holder"], "Tomas Reve")
        self.assertEqual(problem.params["finger"], "right_index")
        assert other.biometrics is not None
        (finger,) = other.biometrics.fingers
        looked = BiometricDraft((replace(finger, despite_match=True),), CONSENT)
        save_cardholder(self.actor, None, replace(other, biometrics=looked), NOON)
        self.assertEqual(Template.objects.count(), 2)

    def test_of_two_fingers_one_is_for_threat_and_doors_know_it(self) -> None:
        (kept,) = self.theirs().fingers
        second = with_finger(self.actor, 2, Finger.LEFT_INDEX, self.holder_id).fingers[0]

        self.save(BiometricDraft((kept, replace(second, is_duress=True))))

        marked = [finger.is_duress for finger in holders([self.holder_id])[self.holder_id].fingers]
        self.assertEqual(marked, [False, True])
        both = tuple(replace(finger, is_duress=True) for finger in self.theirs().fingers)
        self.assertEqual(
            self.refusal(BiometricDraft(both)), [("finger.one_duress", "biometrics.fingers")]
        )

    def test_fingers_change_places_and_are_taken_anew(self) -> None:
        (kept,) = self.theirs().fingers
        second = with_finger(self.actor, 2, Finger.LEFT_INDEX, self.holder_id).fingers[0]
        self.save(BiometricDraft((kept, second)))
        first, other = self.theirs().fingers

        self.save(
            BiometricDraft(
                (replace(first, finger=other.finger), replace(other, finger=first.finger))
            )
        )

        places = dict(Template.objects.values_list("id", "position"))
        self.assertEqual(places, {first.id: Finger.LEFT_INDEX, other.id: Finger.RIGHT_INDEX})

    def test_whoever_may_not_take_fingers_changes_none(self) -> None:
        desk = actor_of(an_operator("desk", Permission.SEE, Permission.EDIT, Permission.ISSUE))
        with self.assertRaises(NotPermitted):
            save_cardholder(
                desk, self.holder_id, replace(self.stored(), biometrics=BiometricDraft()), NOON
            )
        save_cardholder(desk, self.holder_id, replace(self.stored(), biometrics=None), NOON)
        self.assertEqual(Template.objects.count(), 1)

    def test_two_who_enrol_the_same_person_do_not_lose_each_others_work(self) -> None:
        mine = self.stored()
        self.save(replace(self.theirs(), card_alone=CardAloneDraft("broken arm")))

        with self.assertRaises(Stale):
            self.house.save(self.holder_id, replace(mine, biometrics=BiometricDraft()))

        self.assertEqual(Template.objects.count(), 1)


class Ending(Enrolled):
    def test_withdrawing_takes_the_templates_from_the_house_and_marks_them_for_the_doors(
        self,
    ) -> None:
        Mark.objects.all().delete()

        withdraw_consent(self.actor, self.holder_id, Consent.objects.get().pk, NOON)

        self.assertFalse(Template.objects.exists())
        self.assertEqual(Mark.objects.get().is_withdrawal, True)
        self.assertEqual(holders([self.holder_id])[self.holder_id].fingers, ())
        self.assertEqual(
            list(Entry.objects.order_by("-id").values_list("action", flat=True)[:2]),
            ["finger.removed", "consent.withdrawn"],
        )
        with self.assertRaises(Invalid):
            withdraw_consent(self.actor, self.holder_id, Consent.objects.get().pk, NOON)

    def test_at_the_end_of_the_consent_they_go_by_themselves(self) -> None:
        Consent.objects.update(expiry_at=NOON + DAY)

        self.assertEqual(forget_templates_over(NOON), 0)
        self.assertEqual(
            holders([self.holder_id])[self.holder_id].fingers[0].agreed.end, NOON + DAY
        )
        self.assertEqual(forget_templates_over(NOON + DAY), 1)

        self.assertFalse(Template.objects.exists())

    def test_at_its_own_end_a_finger_goes_by_itself(self) -> None:
        (kept,) = self.theirs().fingers
        self.save(BiometricDraft((replace(kept, expiry_at=NOON + DAY),)))

        self.assertEqual(forget_templates_over(NOON), 0)
        self.assertEqual(forget_templates_over(NOON + DAY), 1)

        self.assertFalse(Template.objects.exists())
        told = Entry.objects.order_by("-id").values_list("action", flat=True)[:2]
        self.assertEqual(list(told), ["finger.removed", "finger.changed"])

    def test_whoever_departs_loses_them_at_once_or_after_the_days_of_the_site(self) -> None:
        kept = biometric_settings()
        keeping = SettingsDraft(FingerRule(), FaceRule(), 7, None, shown_wording(), kept.version)
        save_biometric_settings(self.actor, keeping, NOON)
        gone = replace(self.stored().details, standing=Standing.DEPARTED, standing_reason="left")
        here = replace(gone, standing=Standing.ACTIVE, standing_reason="")

        for details, left in ((gone, 1), (here, 1)):
            self.house.save(self.holder_id, replace(self.stored(), details=details))
            self.assertEqual(Template.objects.count(), left)
        self.assertEqual(forget_templates_over(NOON + 8 * DAY), 0)
        self.house.save(self.holder_id, replace(self.stored(), details=gone))
        self.assertEqual(forget_templates_over(NOON + 8 * DAY), 1)

    def test_by_default_departing_takes_them_in_the_same_act(self) -> None:
        gone = replace(self.stored().details, standing=Standing.DEPARTED, standing_reason="left")

        self.house.save(self.holder_id, replace(self.stored(), details=gone))

        self.assertFalse(Template.objects.exists())
        self.assertIn("finger.removed", Entry.objects.values_list("action", flat=True))

    def test_merging_keeps_the_fingers_of_both_and_erasing_keeps_none(self) -> None:
        other = replace(
            self.house.draft("S-2"),
            cards=(),
            biometrics=with_finger(self.actor, 2, Finger.RIGHT_THUMB),
        )
        other_id = self.house.enrol(other)
        merge_cardholders(self.actor, self.holder_id, self.stored(), other_id, 1, NOON)
        self.assertEqual(
            sorted(
                Template.objects.filter(holder_id=self.holder_id).values_list("position", flat=True)
            ),
            [Finger.RIGHT_THUMB, Finger.RIGHT_INDEX],
        )

        version = Cardholder.objects.get(pk=self.holder_id).version
        erase_cardholder(self.actor, self.holder_id, version, "asked for it", NOON)

        for model in (Template, Consent, CardAlone):
            self.assertFalse(model._default_manager.exists(), model)


class Proofs(Enrolled):
    def test_a_signature_is_sealed_used_once_and_shown_to_whoever_takes_consents(self) -> None:
        signature = b"\x89PNG\r\n\x1a\n and the rest of it"
        token = take_proof(self.actor, signature, NOON)
        consent = ConsentDraft((Factor.FINGER,), HowGiven.SIGNATURE, "de", token)

        self.assertEqual(
            self.refusal(replace(self.theirs(), new_consent=replace(consent, proof=""))),
            [("consent.signature_missing", "biometrics.new_consent.proof")],
        )
        self.save(replace(self.theirs(), new_consent=consent))
        self.assertEqual(
            self.refusal(replace(self.theirs(), new_consent=consent)),
            [("consent.proof_is_gone", "biometrics.new_consent.proof")],
        )
        newest = consents_shown(self.holder_id, NOON)[0]
        self.assertEqual((newest["how"], newest["language"]), ("signature", "de"))
        self.assertEqual(proof_of(self.actor, self.holder_id, newest["id"]).content, signature)
        with self.assertRaises(NotPermitted):
            proof_of(actor_of(an_operator("guard", Permission.SEE)), self.holder_id, newest["id"])
        with self.assertRaises(Invalid):
            take_proof(self.actor, b"MZ not a scan", NOON)


class CardAloneOf(Enrolled):
    def test_needs_a_reason_and_reaches_the_doors_with_its_end(self) -> None:
        end = NOON + timedelta(days=9)
        self.assertEqual(
            self.refusal(replace(self.theirs(), card_alone=CardAloneDraft(" "))),
            [("card_alone.needs_reason", "biometrics.card_alone.reason")],
        )

        self.save(replace(self.theirs(), card_alone=CardAloneDraft("burned hand", end)))

        alone = holders([self.holder_id])[self.holder_id].card_alone
        assert alone is not None
        self.assertEqual(alone.end, end)
        self.save(replace(self.theirs(), card_alone=None))
        self.assertIsNone(holders([self.holder_id])[self.holder_id].card_alone)


class Settings(Enrolled):
    def test_are_bounded_and_a_wording_is_a_new_version(self) -> None:
        kept = biometric_settings()
        wording = {**shown_wording(), "en": "I agree."}
        draft = SettingsDraft(FingerRule(presses=2), FaceRule(), 0, 30, wording, kept.version)
        wrong = draft._replace(rule=FingerRule(presses=9, match=0.99), consent_days=0)

        with self.assertRaises(Invalid) as caught:
            save_biometric_settings(self.actor, wrong, NOON)
        save_biometric_settings(self.actor, draft, NOON)
        self.save(replace(self.theirs(), new_consent=CONSENT))

        self.assertEqual(
            [problem.field for problem in caught.exception.problems],
            ["rule.presses", "rule.match"],
        )
        newest, first = consents_shown(self.holder_id, NOON)
        self.assertEqual((newest["wording"], newest["expiry_at"]), ("I agree.", NOON + 30 * DAY))
        self.assertNotEqual(first["wording"], "I agree.")


class Export(Enrolled):
    def test_needs_a_permission_and_a_reason_and_is_in_the_journal(self) -> None:
        template_id = Template.objects.get().pk
        desk = actor_of(an_operator("desk", Permission.SEE, Permission.BIOMETRICS))

        with self.assertRaises(NotPermitted):
            export_finger(desk, self.holder_id, template_id, "for the ferry", NOON)
        with self.assertRaises(Invalid):
            export_finger(self.actor, self.holder_id, template_id, "", NOON)
        (view,) = decode_fingers(
            export_finger(self.actor, self.holder_id, template_id, "for the ferry", NOON)
        )

        self.assertEqual(view.finger, Finger.RIGHT_INDEX)
        presses = [decode_fingers(record(1, press))[0].template.minutiae for press in range(3)]
        self.assertIn(view.template.minutiae, presses)
        entry = Entry.objects.latest("id")
        self.assertEqual(
            (entry.action, entry.changes["reason"]), ("finger.exported", [None, "for the ferry"])
        )
