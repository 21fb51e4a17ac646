"""What an attacker, a copied disk or the next person at the machine must not find out."""

import io
import json
import re
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path
from smtplib import SMTPServerDisconnected
from tempfile import TemporaryDirectory
from typing import Any
from unittest.mock import patch

from django.conf import settings
from django.contrib.sessions.models import Session
from django.core import mail
from django.core.cache import cache
from django.db import connection
from django.test import Client, SimpleTestCase, override_settings
from PIL import Image as Pillow

import cadrin
from cadrin.core.credentials.pin.rule import PinRule
from cadrin.core.errors import CadrinError, Invalid
from cadrin.core.export.tables import Column, csv_chunks
from cadrin.credentials.letters import send_letters
from cadrin.credentials.models import Letter, Pin
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.pin_problems import CHOOSE_ANOTHER
from cadrin.delivery.preview import preview_cardholder
from cadrin.enrolment.commands.cardholders import save_and_show
from cadrin.enrolment.commands.letters import cancel_letter, letters_seen
from cadrin.enrolment.commands.merge import merge_cardholders
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.operators.sealing import seal, unseal
from cadrin.operators.sessions import digest_of, forget_ended
from cadrin.people.duplicates import possible_duplicates
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.photos.commands import STRAY_AFTER, remove_strays, take_image
from cadrin.photos.files import folder_of
from cadrin.standins.mail import MailServer
from tests.asking import WithAHouse
from tests.house import ANYBODY, DAY, NOON, an_operator
from tests.running import free_port

TAKEN = "481509"


class PinsOfOthers(WithAHouse):
    def setUp(self) -> None:
        super().setUp()
        self.house.enrol(
            replace(self.house.draft("S-1"), pins=(PinDraft(entry=TAKEN, again=TAKEN),))
        )
        self.guess = replace(
            self.house.draft("S-2"), cards=(), pins=(PinDraft(entry=TAKEN, again=TAKEN),)
        )
        self.free = replace(self.guess, pins=(PinDraft(entry="927304", again="927304"),))

    def codes(self, draft: Any, actor: Any = ANYBODY) -> list[str]:
        return [
            p.code
            for p in preview_cardholder(actor, None, draft, NOON, NOON).problems
            if "pin" in p.code
        ]

    def test_are_not_told_before_saving_to_anybody(self) -> None:
        looking = actor_of(an_operator("nils", Permission.SEE))

        for actor in (ANYBODY, looking):
            self.assertEqual(self.codes(self.guess, actor), self.codes(self.free, actor))
        bad = replace(self.guess, pins=(PinDraft(entry="111111", again="1"),))
        self.assertEqual(
            self.codes(bad, looking), [], "and digits are not judged for whoever may not issue"
        )
        self.assertIn("pin.repeats", self.codes(bad))

    def test_are_told_on_saving_by_one_word_alone_and_tries_are_slowed_and_written_down(
        self,
    ) -> None:
        found = []
        for _ in range(7):
            with self.assertRaises(Invalid) as refused:
                save_and_show(self.house.actor, None, self.guess, NOON)
            found.append(refused.exception.code)

        self.assertEqual(found, [CHOOSE_ANOTHER] * 5 + ["pin.must_wait"] * 2)
        self.assertEqual(Entry.objects.filter(action="pin.refused").count(), 5)
        self.assertNotIn(TAKEN, str(list(Entry.objects.values())))
        with self.assertRaises(Invalid):
            save_and_show(self.house.actor, None, self.free, NOON)
        save_and_show(self.house.actor, None, self.free, NOON + timedelta(minutes=1))

    def test_are_not_found_out_by_merging_either(self) -> None:
        own, other = (
            self.house.enrol(replace(self.house.draft(f"S-{n}"), cards=())) for n in (4, 5)
        )
        guess = replace(self.guess, details=self.house.draft("S-4").details, version=1)
        found = []
        for _ in range(6):
            with self.assertRaises(Invalid) as refused:
                merge_cardholders(ANYBODY, own, guess, other, 1, NOON)
            found.append(refused.exception.code)

        self.assertEqual(found, [CHOOSE_ANOTHER] * 5 + ["pin.must_wait"])
        self.assertTrue(Cardholder.objects.filter(pk=other).exists(), "and nothing was merged")

    def test_one_had_lately_is_refused_by_the_same_word(self) -> None:
        id_ = self.house.enrol(replace(self.house.draft("S-3"), cards=(), pins=self.free.pins))
        (pin,) = Pin.objects.filter(holder_id=id_)
        again = PinDraft(pin.pk, entry="927304", again="927304")
        draft = replace(self.house.draft("S-3"), cards=(), pins=(again,), version=1)

        self.assertGreater(PinRule().remembered, 0)
        with self.assertRaises(Invalid) as refused:
            save_and_show(self.house.actor, id_, draft, NOON)
        self.assertEqual([p.code for p in refused.exception.problems], [CHOOSE_ANOTHER])


class BirthDates(WithAHouse):
    def setUp(self) -> None:
        super().setUp()
        self.born = date(1980, 2, 3)
        self.id_ = self.house.enrol(self.house.draft("S-1", born_on=self.born))
        self.clerk = an_operator("clerk", *(frozenset(Permission) - {Permission.BIRTH_DATES}))

    def test_are_not_told_in_a_refusal_to_whoever_may_not_see_them(self) -> None:
        self.house.save(
            self.id_, replace(self.house.draft("S-1", born_on=date(1981, 1, 1)), version=1)
        )
        _, body = self.ask("GET", f"/api/cardholders/{self.id_}/")
        body["version"] = 1

        _, to_the_one = self.ask("PUT", f"/api/cardholders/{self.id_}/", body)
        self.client.force_login(self.clerk)
        status, to_the_other = self.ask("PUT", f"/api/cardholders/{self.id_}/", body)

        self.assertIn("born_on", json.dumps(to_the_one["since"]))
        self.assertEqual(status, 409)
        self.assertNotIn("born_on", json.dumps(to_the_other))
        self.assertNotIn("1981", json.dumps(to_the_other))

    def test_cannot_be_found_out_by_trying(self) -> None:
        tried = self.house.draft("S-2", born_on=self.born).details

        self.assertTrue(possible_duplicates(self.house.actor, tried, None))
        self.assertEqual(possible_duplicates(actor_of(self.clerk), tried, None), [])


@override_settings(EMAIL_HOST="mail.skerrow.example")
class Letters(WithAHouse):
    def setUp(self) -> None:
        super().setUp()
        draft = self.house.draft("S-1", email="reve@skerrow.example")
        self.draft = replace(draft, pins=(PinDraft(is_generated=True, is_mailed=True),))

    def away(self) -> Any:
        return patch(
            "django.core.mail.backends.locmem.EmailBackend.send_messages",
            side_effect=SMTPServerDisconnected,
        )

    def test_wait_for_a_mail_server_that_is_away_and_nothing_is_lost(self) -> None:
        with self.away():
            id_ = save_and_show(self.house.actor, None, self.draft, NOON).id
            self.assertEqual(send_letters(NOON), 0)
            self.assertEqual(
                send_letters(NOON + timedelta(seconds=10)), 0, "it is not tried all the time"
            )
        (told,) = letters_seen(ANYBODY, id_)
        self.assertEqual(
            (told["state"], told["tries"], told["failure"]), ("waiting", 1, "no_answer")
        )

        self.assertEqual(send_letters(NOON + timedelta(minutes=1)), 1)

        (letter,) = mail.outbox
        self.assertEqual(letter.to, ["reve@skerrow.example"])
        self.assertEqual(letters_seen(ANYBODY, id_)[0]["state"], "sent")
        self.assertEqual(Letter.objects.get().sealed, "", "and is nowhere any more")

    def test_are_sealed_while_they_wait(self) -> None:
        with self.away():
            save_and_show(self.house.actor, None, replace(self.draft, pins=(self.typed(),)), NOON)
            send_letters(NOON)

        with connection.cursor() as cursor:
            cursor.execute("SELECT * FROM credentials_letter")
            self.assertNotIn(TAKEN, str(cursor.fetchall()))

    def typed(self) -> PinDraft:
        return PinDraft(entry=TAKEN, again=TAKEN, is_mailed=True)

    def test_are_cancelled_into_another_pin_which_is_shown_once(self) -> None:
        id_ = save_and_show(self.house.actor, None, self.draft, NOON).id
        before = Pin.objects.get().own_hash

        shown = cancel_letter(self.house.actor, id_, Letter.objects.get().pk, NOON)

        self.assertRegex(shown.digits, r"^\d{6}$")
        self.assertNotEqual(Pin.objects.get().own_hash, before)
        self.assertEqual(
            (Letter.objects.get().state, send_letters(NOON), mail.outbox), ("cancelled", 0, [])
        )
        with self.assertRaises(CadrinError):
            cancel_letter(self.house.actor, id_, Letter.objects.get().pk, NOON)

    def test_with_a_pin_that_is_none_any_more_do_not_go(self) -> None:
        id_ = save_and_show(self.house.actor, None, self.draft, NOON).id
        file = stored_cardholder(Cardholder.objects.get(pk=id_), rules())

        save_and_show(self.house.actor, id_, replace(file, pins=()), NOON)

        self.assertEqual((send_letters(NOON), mail.outbox), (0, []))

    def test_go_out_to_a_mail_server_when_it_takes_them_and_are_sealed_until_then(self) -> None:
        server = MailServer()
        listening = server.listening(free_port())
        listening.start()
        self.addCleanup(listening.stop)
        server.is_on = False
        id_ = save_and_show(self.house.actor, None, self.draft, NOON).id

        backend = "django.core.mail.backends.smtp.EmailBackend"
        with override_settings(
            EMAIL_BACKEND=backend, EMAIL_HOST="127.0.0.1", EMAIL_PORT=listening.port
        ):
            send_letters(NOON)
            (told,) = letters_seen(ANYBODY, id_)
            self.assertEqual((told["state"], told["failure"]), ("waiting", "refused"))
            server.is_on = True
            send_letters(NOON + timedelta(minutes=1))

        (letter,) = server.letters
        (digits,) = re.findall(r"\d{6}", letter.text)
        self.assertEqual(letter.to, "reve@skerrow.example")
        self.assertEqual(
            unseal(Pin.objects.get(holder_id=id_).sealed), digits, "it is the PIN that was set"
        )
        self.assertEqual(Letter.objects.get().sealed, "", "and nothing is left of it in the queue")

    def test_that_cannot_be_sent_hold_up_no_other(self) -> None:
        bad = save_and_show(self.house.actor, None, self.draft, NOON).id
        good = self.house.draft("S-2", email="other@skerrow.example")
        save_and_show(self.house.actor, None, replace(good, cards=(), pins=self.draft.pins), NOON)
        Letter.objects.filter(holder_id=bad).update(
            sealed=seal('["reve@skerrow.example", "two\\nlines", ""]')
        )

        with self.assertLogs("cadrin.letters", "ERROR"):
            self.assertEqual(send_letters(NOON), 1)

        self.assertEqual([letter.to for letter in mail.outbox], [["other@skerrow.example"]])
        self.assertEqual(letters_seen(ANYBODY, bad)[0]["failure"], "failed")

    def test_are_refused_where_there_is_no_mail_server(self) -> None:
        with override_settings(EMAIL_HOST=""), self.assertRaises(Invalid) as refused:
            save_and_show(self.house.actor, None, self.draft, NOON)

        (problem,) = refused.exception.problems
        self.assertEqual((problem.code, problem.field), ("pin.no_mail_server", "pins.0.is_mailed"))
        self.assertFalse(Cardholder.objects.exists())


class Sessions(WithAHouse):
    def test_cannot_be_taken_from_a_copy_of_the_database(self) -> None:
        key = self.client.cookies[settings.SESSION_COOKIE_NAME].value
        self.assertTrue(self.client.get("/api/session/").json()["is_signed_in"])

        kept = Session.objects.get().session_key
        cache.clear()
        thief = Client()
        thief.cookies[settings.SESSION_COOKIE_NAME] = kept

        self.assertEqual(kept, digest_of(key))
        self.assertFalse(thief.get("/api/session/").json()["is_signed_in"])
        with connection.cursor() as cursor:
            cursor.execute("SELECT * FROM django_session")
            self.assertNotIn(key, str(cursor.fetchall()))
        self.assertTrue(
            self.client.get("/api/session/").json()["is_signed_in"], "and the session goes on"
        )

    def test_that_are_over_are_deleted(self) -> None:
        self.assertEqual(forget_ended(NOON), 0)
        Session.objects.update(expire_date=NOON - DAY)

        self.assertEqual((forget_ended(NOON), Session.objects.count()), (1, 0))


class Images(WithAHouse):
    def picture(self, width: int, height: int, kind: str = "PNG") -> bytes:
        file = io.BytesIO()
        Pillow.new("RGB", (width, height), (120, 130, 140)).save(file, kind)
        return file.getvalue()

    def test_of_an_erased_person_are_removed_though_the_process_died_after_the_commit(self) -> None:
        with TemporaryDirectory() as folder, override_settings(IMAGES=folder):
            kept = take_image(self.house.actor, self.picture(300, 300), NOON)
            gone = take_image(self.house.actor, self.picture(300, 300), NOON)
            now = kept.taken_at.now(NOON.tzinfo)
            gone.delete()  # and the process ends before its files do

            self.assertEqual(remove_strays(now), 0, "what was written just now may become an image")
            self.assertEqual(remove_strays(now + STRAY_AFTER + timedelta(seconds=5)), 1)
            self.assertEqual(
                (folder_of(gone.token).exists(), folder_of(kept.token).exists()), (False, True)
            )

    def test_that_are_huge_are_refused_or_made_small_at_once(self) -> None:
        with TemporaryDirectory() as folder, override_settings(IMAGES=folder):
            with self.assertRaises(Invalid) as refused:
                take_image(self.house.actor, self.picture(8000, 8000), NOON)
            large = take_image(self.house.actor, self.picture(6000, 5000, "JPEG"), NOON)

        self.assertEqual(refused.exception.code, "photo.too_many_megapixels")
        self.assertLessEqual(max(large.width, large.height), 4000)

    def test_are_kept_by_no_browser(self) -> None:
        with TemporaryDirectory() as folder, override_settings(IMAGES=folder):
            token = take_image(self.house.actor, self.picture(300, 300), NOON).token
            answer = self.client.get(f"/api/images/{token}/list.jpg")

        self.assertEqual((answer.status_code, answer.headers["Cache-Control"]), (200, "no-store"))


class Exports(SimpleTestCase):
    def test_have_no_formula_in_a_heading_or_behind_a_wide_sign(self) -> None:
        signs = ["=", "+", "-", "@", "\uff1d", "\uff0b", "\uff0d", "\uff20"]
        columns = [Column(str(place), f"{sign}cmd()") for place, sign in enumerate(signs)]

        heading, row = csv_chunks(columns, [[f"{sign}cmd()" for sign in signs]])

        for line in (heading.lstrip("\ufeff"), row):
            self.assertEqual([cell[0] for cell in line.strip().split(",")], ["'"] * len(signs))


class Chance(SimpleTestCase):
    def test_that_can_be_foreseen_makes_nothing_but_the_demo(self) -> None:
        """Whatever is made up, from PINs to keys, comes from the system's secure source
        (`secrets`).
        """
        house = Path(cadrin.__path__[0])
        foreseeable = re.compile(r"^\s*(import|from) random\b|\.random\.", re.MULTILINE)
        sources = [
            path.relative_to(house)
            for path in house.rglob("*.py")
            if foreseeable.search(path.read_text())
        ]

        rooms = {path.parts[:2] for path in sources if "tests" not in path.parts}
        self.assertEqual(rooms - {("core", "made_up")}, {room for room in rooms if "demo" in room})
