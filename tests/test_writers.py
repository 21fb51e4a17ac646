"""Several writers at once: nobody is turned away, and what they write is whole."""

import threading
from dataclasses import replace

from django.db import connection, transaction
from django.test import TransactionTestCase

from cadrin.access.models import AccessGroup
from cadrin.core.errors import Invalid
from cadrin.credentials.models import Pin
from cadrin.credentials.pin_draft import PinDraft
from cadrin.enrolment.draft import CardholderDraft
from cadrin.people.models import Company
from tests.house import House
from tests.running import PATIENCE_SECONDS

WRITERS, TIMES = 6, 20


class Writers(TransactionTestCase):
    def together(self, *works: "threading.Thread") -> None:
        for work in works:
            work.start()
        for work in works:
            work.join(timeout=PATIENCE_SECONDS)

    def test_take_turns_and_lose_nothing(self) -> None:
        company = Company.objects.create(name="0")
        failed: list[Exception] = []

        def write() -> None:
            try:
                for _ in range(TIMES):
                    with transaction.atomic():
                        mine = Company.objects.get(pk=company.pk)
                        Company.objects.filter(pk=company.pk).update(name=str(int(mine.name) + 1))
            except Exception as error:
                failed.append(error)
            finally:
                connection.close()

        self.together(*(threading.Thread(target=write) for _ in range(WRITERS)))

        self.assertEqual(failed, [])
        self.assertEqual(Company.objects.get().name, str(WRITERS * TIMES))

    def test_of_two_who_set_the_same_pin_at_once_one_is_refused(self) -> None:
        house = House()
        drafts = [
            replace(
                house.draft(f"S-{n}"), cards=(), pins=(PinDraft(entry="481509", again="481509"),)
            )
            for n in (1, 2)
        ]
        start, refused = threading.Barrier(2), []

        def set_pin(draft: CardholderDraft) -> None:
            start.wait(PATIENCE_SECONDS)
            try:
                house.enrol(draft)
            except Invalid as error:
                refused.append(error.code)
            finally:
                connection.close()

        self.together(*(threading.Thread(target=set_pin, args=(draft,)) for draft in drafts))

        self.assertEqual(refused, ["pin.choose_another"])
        self.assertEqual(Pin.objects.count(), 1)

    def test_one_that_failed_gives_its_turn_back(self) -> None:
        with self.assertRaises(ZeroDivisionError), transaction.atomic():
            AccessGroup.objects.create(name="Never")
            1 / 0  # noqa: B018 - whatever goes wrong in a command

        def write() -> None:
            AccessGroup.objects.create(name="After")
            connection.close()

        self.together(threading.Thread(target=write))

        self.assertEqual(list(AccessGroup.objects.values_list("name", flat=True)), ["After"])
