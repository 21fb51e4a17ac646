"""Pictures of fingers, which are kept only where the site says so."""

from dataclasses import replace

from cadrin.biometrics.captures import CaptureWanted, begin_capture, get_capture, take_file
from cadrin.biometrics.commands import forget_pictures_over
from cadrin.biometrics.drafts import BiometricDraft
from cadrin.biometrics.export import see_picture
from cadrin.biometrics.models import Template
from cadrin.biometrics.save_settings import SettingsDraft, save_biometric_settings
from cadrin.biometrics.settings import biometric_settings, face_rule, finger_rule
from cadrin.biometrics.tests.hands import png
from cadrin.biometrics.wordings import shown_wording
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.errors import Invalid, NotFound
from cadrin.journal.models import Entry
from cadrin.operators.sealing import unseal
from tests.house import DAY, NOON
from tests.test_consent import Enrolled


class Pictures(Enrolled):
    def keep_for(self, days: int | None) -> None:
        kept = biometric_settings()
        rules = (finger_rule(kept), face_rule(kept))
        draft = SettingsDraft(*rules, 0, None, shown_wording(), kept.version, days)
        save_biometric_settings(self.actor, draft, NOON)

    def take_anew(self, keep_from_press: int | None = None) -> Template:
        wanted = CaptureWanted(Finger.RIGHT_INDEX, None, self.holder_id)
        token = begin_capture(self.actor, wanted, NOON)
        for press in range(3):
            if press == keep_from_press:
                self.keep_for(30)
            take_file(get_capture(self.actor, token), png(1, press))
        (kept,) = self.theirs().fingers
        self.save(BiometricDraft((replace(kept, capture=token, despite_match=True),)))
        return Template.objects.get()

    def test_go_with_saving_unless_the_site_keeps_them(self) -> None:
        template = self.take_anew()

        self.assertEqual((template.sealed_picture, template.picture_until), ("", None))
        with self.assertRaises(NotFound):
            see_picture(self.actor, self.holder_id, template.pk, "for the ferry", NOON)

    def test_none_stays_where_the_site_begins_to_keep_them_between_presses(self) -> None:
        self.assertEqual(self.take_anew(keep_from_press=1).sealed_picture, "")

    def test_of_the_press_that_is_kept_one_stays_sealed_until_its_end(self) -> None:
        self.keep_for(30)
        template = self.take_anew()

        self.assertEqual(template.picture_until, NOON + 30 * DAY)
        self.assertTrue(unseal(template.sealed_picture))
        with self.assertRaises(Invalid):
            see_picture(self.actor, self.holder_id, template.pk, "", NOON)
        seen = see_picture(self.actor, self.holder_id, template.pk, "for the ferry", NOON)
        self.assertIn(seen, [png(1, press) for press in range(3)])
        entry = Entry.objects.latest("id")
        self.assertEqual(entry.action, "finger.picture_seen")
        self.assertEqual(entry.changes["reason"], [None, "for the ferry"])
        self.assertEqual(forget_pictures_over(NOON + 30 * DAY), 1)
        self.assertEqual(Template.objects.get().sealed_picture, "")

    def test_go_at_once_where_the_site_keeps_them_no_longer(self) -> None:
        self.keep_for(30)
        self.take_anew()
        self.keep_for(10)
        self.assertEqual(Template.objects.get().picture_until, NOON + 10 * DAY)

        self.keep_for(None)

        self.assertEqual(Template.objects.get().sealed_picture, "")
