"""Coming in: passwords, waits, one-time codes, links, sessions and how they end."""

import json
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any
from unittest import mock

import pyotp
from django.contrib.sessions.backends.cached_db import SessionStore
from django.core.cache import cache
from django.test import Client, TestCase
from django.utils import timezone

from cadrin.accounts.commands.operators import OwnWays, set_own_ways
from cadrin.accounts.commands.passwords import make_link, tries_of_name
from cadrin.core.one_time_codes import STEP_SECONDS
from cadrin.core.sign_in import TRIES_OF_AN_ADDRESS
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.models import OneTimeSecret, Operator, RecoveryCode, Tries
from cadrin.operators.permissions import Permission
from tests.house import ANYBODY, NOON, PASSWORD, an_operator

NEW = "harbour-and-quay-7"


class ComingIn(TestCase):
    def setUp(self) -> None:
        cache.clear()
        self.now = NOON
        moving = mock.patch.object(timezone, "now", lambda: self.now)
        moving.start()
        self.addCleanup(moving.stop)
        self.mara = an_operator("mara", *Permission)
        an_operator("ines", *Permission)

    def ask(
        self, client: Client, method: str, path: str, body: Any = None, **headers: str
    ) -> tuple[int, Any]:
        text = json.dumps(body) if body is not None else ""
        answer = client.generic(
            method, path, text, content_type="application/json", headers=headers
        )
        return answer.status_code, answer.json() if answer.content else None

    def sign_in(
        self, client: Client, password: str = PASSWORD, code: str = "", username: str = "mara"
    ) -> str:
        """Return the code of the first problem; empty for whoever is let in."""
        body = {"username": username, "password": password, "code": code}
        status, answer = self.ask(client, "POST", "/api/session/", body)
        return "" if status == 200 else str(answer["problems"][0]["code"])

    def is_in(self, client: Client, **headers: str) -> bool:
        return bool(self.ask(client, "GET", "/api/session/", **headers)[1]["is_signed_in"])

    def acts(self) -> list[str]:
        return list(Entry.objects.order_by("id").values_list("action", flat=True))


class Passwords(ComingIn):
    def test_that_are_wrong_lead_to_waits_that_grow_and_the_right_one_ends_them(self) -> None:
        waits = [self.minutes_until_answered(self.try_once("guess")) for _ in range(11)]
        last = self.minutes_until_answered(self.try_once(PASSWORD))

        self.assertEqual((waits, last), ([0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 2], 2))
        self.assertFalse(Tries.objects.filter(subject_digest=tries_of_name("mara").digest).exists())

    def test_that_are_sent_side_by_side_are_counted_like_those_sent_one_after_the_other(
        self,
    ) -> None:
        with mock.patch("cadrin.accounts.commands.sessions.authenticate") as slow:
            slow.side_effect = lambda *_, **__: self.assertGreater(
                Tries.objects.get(subject_digest=tries_of_name("mara").digest).failures,
                0,
                "counted before the hash",
            )
            found = [self.sign_in(Client(), "guess") for _ in range(7)]

        self.assertEqual(found[5:], ["operator.must_wait"] * 2)
        self.assertEqual(slow.call_count, 5, "what waits is not hashed")

    def test_of_many_names_from_one_address_are_slowed_too(self) -> None:
        found = []
        for place in range(TRIES_OF_AN_ADDRESS + 1):
            cache.clear()
            found.append(self.sign_in(Client(), "guess", username=f"name-{place}"))

        self.assertEqual(set(found[:-1]), {"operator.wrong_password"})
        self.assertEqual(found[-1], "operator.must_wait")
        self.now += timedelta(minutes=2)
        cache.clear()
        self.assertEqual(self.sign_in(Client()), "", "and let in again after a while")

    def test_lead_to_no_longer_wait_when_the_clock_is_set_back(self) -> None:
        for _ in range(5):
            self.sign_in(Client(), "guess")
        self.now -= timedelta(days=2)

        _, answer = self.ask(
            Client(), "POST", "/api/session/", {"username": "mara", "password": PASSWORD}
        )

        self.assertLessEqual(answer["problems"][0]["params"]["seconds"], 61)

    def try_once(self, password: str) -> Callable[[], str]:
        return lambda: self.sign_in(Client(), password)

    def minutes_until_answered(self, attempt: Callable[[], str]) -> float:
        begun = self.now
        while attempt() == "operator.must_wait":
            self.now += timedelta(seconds=30)
            cache.clear()  # of the limit by address
        return (self.now - begun).total_seconds() / 60

    def test_of_a_name_that_nobody_has_are_answered_alike(self) -> None:
        for username in ("mara", "nobody"):
            found = [self.sign_in(Client(), "guess", username=username) for _ in range(6)]
            self.assertEqual(found, ["operator.wrong_password"] * 5 + ["operator.must_wait"])

    def test_that_were_typed_as_a_name_are_kept_nowhere(self) -> None:
        self.sign_in(Client(), username="my-secret-word")

        kept = str(list(Entry.objects.values())) + str(list(Tries.objects.values()))
        self.assertNotIn("my-secret-word", kept)

    def test_are_changed_with_the_present_one_and_end_every_other_session(self) -> None:
        here, elsewhere = Client(), Client()
        self.sign_in(here)
        self.sign_in(elsewhere)

        wrong = self.ask(here, "PUT", "/api/account/password/", {"present": "guess", "new": NEW})
        weak = self.ask(here, "PUT", "/api/account/password/", {"present": PASSWORD, "new": "mara"})
        right = self.ask(here, "PUT", "/api/account/password/", {"present": PASSWORD, "new": NEW})

        self.assertEqual((wrong[0], wrong[1]["problems"][0]["field"]), (422, "present"))
        found = {problem["code"] for problem in weak[1]["problems"]}
        self.assertLessEqual(
            {"password.password_too_short", "password.password_too_similar"}, found
        )
        self.assertEqual((right[0], self.is_in(here), self.is_in(elsewhere)), (204, True, False))
        self.assertEqual(self.sign_in(Client(), NEW), "")
        self.assertIn("operator.password_changed", self.acts())
        self.assertNotIn(NEW, str(list(Entry.objects.values())))


class Links(ComingIn):
    def use(self, link: Any, new: str = NEW) -> tuple[int, Any]:
        return self.ask(
            Client(),
            "POST",
            "/api/password-link/",
            {"who": link.who, "token": link.token, "new": new},
        )

    def test_end_the_present_password_and_every_session_and_set_a_new_one_once(self) -> None:
        client = Client()
        self.sign_in(client)

        link = make_link(ANYBODY, self.mara.pk, self.now)

        self.assertEqual(
            (self.is_in(client), self.sign_in(Client())), (False, "operator.wrong_password")
        )
        self.assertEqual(self.use(link, "short")[1]["problems"][0]["field"], "new")
        self.assertEqual(self.use(link)[0], 204)
        self.assertEqual(self.use(link, "another-and-longer")[1]["title"], "password.link_over")
        self.assertEqual(self.sign_in(Client(), NEW), "")

    def test_are_over_after_a_day_or_by_a_newer_one_or_when_they_never_were(self) -> None:
        # the framework's token goes by its own clock
        later = datetime.now() + timedelta(hours=25)  # noqa: DTZ005
        first, second = (make_link(ANYBODY, self.mara.pk, self.now) for _ in range(2))
        self.assertEqual(self.use(first)[0], 422)
        with mock.patch(
            "django.contrib.auth.tokens.PasswordResetTokenGenerator._now", return_value=later
        ):
            self.assertEqual(self.use(second)[0], 422)
        for who in ("", "!", "OTk5OTk5", "4pi6", "w7w", second.who[::-1] + "AAAAAAAAAAAAAAAAAAAA"):
            with self.subTest(who):
                self.assertEqual(self.use(second._replace(who=who))[0], 422)
        self.assertEqual(self.use(second)[0], 204)

    def test_are_of_no_use_to_whoever_may_not_come_in(self) -> None:
        link = make_link(ANYBODY, self.mara.pk, self.now)
        Operator.objects.filter(pk=self.mara.pk).update(is_active=False)

        self.assertEqual(self.use(link)[0], 422)


class Codes(ComingIn):
    def setUp(self) -> None:
        super().setUp()
        self.client_in = Client()
        self.sign_in(self.client_in)
        _, proposed = self.ask(self.client_in, "POST", "/api/account/codes/")
        self.secret = proposed["secret"]

    def code(self, steps: int = 0) -> str:
        return pyotp.TOTP(self.secret).at(self.now, counter_offset=steps)

    def turn_on(self) -> list[str]:
        _, answer = self.ask(self.client_in, "PUT", "/api/account/codes/", {"code": self.code()})
        codes: list[str] = answer["codes"]
        self.now += timedelta(seconds=STEP_SECONDS)
        return codes

    def test_are_asked_for_once_they_were_confirmed_and_not_before(self) -> None:
        self.assertEqual(self.sign_in(Client()), "")
        wrong, _ = self.ask(self.client_in, "PUT", "/api/account/codes/", {"code": self.code(5)})
        self.assertEqual(wrong, 422)

        self.turn_on()

        self.assertEqual(self.sign_in(Client()), "operator.code_needed")
        self.assertEqual(self.sign_in(Client(), "guess"), "operator.wrong_password")
        self.assertEqual(self.sign_in(Client(), code=self.code()), "")

    def test_are_taken_once_and_never_after_a_later_one(self) -> None:
        self.turn_on()
        code, next_code = self.code(), self.code(1)

        self.assertEqual(self.sign_in(Client(), code=next_code), "")
        self.assertEqual(self.sign_in(Client(), code=next_code), "operator.wrong_code")
        self.assertEqual(self.sign_in(Client(), code=code), "operator.wrong_code")

    def test_that_are_wrong_count_as_wrong_passwords_do(self) -> None:
        self.turn_on()
        right = {self.code(steps) for steps in (-1, 0, 1)}
        guess = next(code for n in range(4) if (code := f"{n:06}") not in right)

        found = [self.sign_in(Client(), code=guess) for _ in range(6)]

        self.assertEqual(found, ["operator.wrong_code"] * 5 + ["operator.must_wait"])

    def test_for_recovery_let_in_once_each(self) -> None:
        codes = self.turn_on()

        self.assertEqual(len(set(codes)), 10)
        self.assertEqual(self.sign_in(Client(), code=f" {codes[3].upper()} "), "")
        self.assertEqual(self.sign_in(Client(), code=codes[3]), "operator.wrong_code")
        self.assertEqual(
            self.ask(self.client_in, "GET", "/api/account/")[1]["recovery_codes_left"], 9
        )

    def test_and_their_secret_are_readable_nowhere(self) -> None:
        codes = self.turn_on()

        kept = str(list(OneTimeSecret.objects.values())) + str(list(RecoveryCode.objects.values()))
        kept += str(list(Entry.objects.values()))
        for secret in (self.secret, *codes):
            self.assertNotIn(secret, kept)

    def test_are_turned_off_with_the_password_or_by_an_administrator(self) -> None:
        self.turn_on()
        wrong, _ = self.ask(
            self.client_in, "POST", "/api/account/codes/off/", {"password": "guess"}
        )
        self.assertEqual((wrong, self.sign_in(Client())), (422, "operator.code_needed"))
        self.ask(self.client_in, "POST", "/api/account/codes/off/", {"password": PASSWORD})
        self.assertEqual(self.sign_in(Client()), "")

        _, proposed = self.ask(self.client_in, "POST", "/api/account/codes/")
        self.secret = proposed["secret"]
        self.turn_on()
        self.assertEqual(self.sign_in(Client()), "operator.code_needed")
        self.ask(self.client_in, "DELETE", f"/api/operators/{self.mara.pk}/codes/")
        self.assertEqual(self.sign_in(Client()), "")
        self.assertEqual(self.acts().count("operator.codes_off"), 2)


class Sessions(ComingIn):
    def test_end_when_nobody_was_at_the_page_for_long(self) -> None:
        idle, present = Client(), Client()
        for client in (idle, present):
            self.sign_in(client)
            self.assertTrue(self.is_in(client))
        for _ in range(6):
            self.now += timedelta(minutes=10)
            self.assertTrue(self.is_in(present, **{"X-Present": "1"}))
            still_in = self.is_in(idle)  # the page asks by itself, and that keeps nothing going

        self.assertFalse(still_in)

    def test_end_for_whoever_may_not_come_in_any_more_and_by_signing_out(self) -> None:
        one, other = Client(), Client()
        self.sign_in(one)
        self.sign_in(other)
        self.ask(one, "DELETE", "/api/session/")
        self.assertEqual((self.is_in(one), self.is_in(other)), (False, True))

        Operator.objects.filter(pk=self.mara.pk).update(is_active=False)

        self.assertFalse(self.is_in(other))
        self.assertEqual(self.sign_in(Client()), "operator.wrong_password")

    def test_elsewhere_are_ended_by_their_operator(self) -> None:
        here, elsewhere = Client(), Client()
        self.sign_in(here)
        self.sign_in(elsewhere)

        self.ask(here, "DELETE", "/api/account/sessions/")

        self.assertEqual((self.is_in(here), self.is_in(elsewhere)), (True, False))

    def test_are_told_in_the_journal_with_where_they_came_from(self) -> None:
        client = Client(REMOTE_ADDR="192.0.2.7")
        self.sign_in(client, "guess")
        self.sign_in(client)
        self.ask(client, "DELETE", "/api/session/")

        told = list(Entry.objects.order_by("id").values_list("action", "operator_name", "address"))
        acts = ("session.refused", "session.begun", "session.ended")
        self.assertEqual(told, [(act, "Mara", "192.0.2.7") for act in acts])

    def test_get_a_new_key_when_they_begin(self) -> None:
        session = SessionStore()
        session["planted"] = True
        session.save()
        planted, client = str(session.session_key), Client()
        client.cookies["sessionid"] = planted
        self.sign_in(client)
        thief = Client()
        thief.cookies["sessionid"] = planted

        self.assertNotEqual(client.cookies["sessionid"].value, planted)
        self.assertEqual((self.is_in(client), self.is_in(thief)), (True, False))


class OnesOwnCountry(TestCase):
    def test_is_chosen_beside_the_language_and_told_when_signing_in(self) -> None:
        client, operator = Client(), an_operator("mara", Permission.SEE)
        client.force_login(operator)

        def put(**body: str) -> int:
            answer = client.put("/api/account/", body, content_type="application/json")
            return answer.status_code

        self.assertEqual(put(language="de", region="AT"), 200)
        told = client.get("/api/session/").json()
        self.assertEqual((told["language"], told["region"]), ("de", "AT"))
        entry = Entry.objects.latest("id")
        self.assertEqual(entry.changes, {"language": ["en", "de"], "region": ["", "AT"]})
        self.assertEqual(put(language="de", region="XX"), 422)
        self.assertEqual(put(language="de", region="AT"), 200)
        self.assertEqual(Entry.objects.latest("id"), entry, "nothing changed")


class OnesOwnNotices(TestCase):
    def setUp(self) -> None:
        self.operator = an_operator("mara", Permission.SEE)
        self.ways = OwnWays("en", "", notices_by_mail=True)

    def choose(self) -> None:
        set_own_ways(actor_of(self.operator), self.operator, self.ways, timezone.now())

    def test_by_mail_are_chosen_and_in_the_journal(self) -> None:
        self.choose()

        self.operator.refresh_from_db()
        self.assertTrue(self.operator.notices_by_mail)
        changes = Entry.objects.latest("id").changes
        self.assertEqual(changes, {"notices_by_mail": [False, True]})

    def test_are_not_chosen_where_the_journal_cannot_be_written(self) -> None:
        with (
            mock.patch("cadrin.accounts.commands.operators.record", side_effect=OSError),
            self.assertRaises(OSError),
        ):
            self.choose()

        self.operator.refresh_from_db()
        self.assertEqual((self.operator.notices_by_mail, self.operator.version), (False, 1))
