"""A line's bell: it is rung for what is to be sent and for what a controller tells, and never in vain."""

import threading
import time
from unittest import TestCase as PlainTestCase

from cadrin.delivery.models import Link
from cadrin.worker.bells import Bells, Last, listen
from tests.line_case import LineCase

LONG = 20.0
A_MOMENT = 0.2


class RingingBells(PlainTestCase):
    def waited(self, bells: Bells, controller_id: int, seconds: float) -> float:
        began = time.monotonic()
        bells.wait(controller_id, seconds)
        return time.monotonic() - began

    def test_whoever_comes_after_it_was_rung_does_not_wait_and_the_next_one_does(self) -> None:
        bells = Bells()
        bells.ring(1)
        self.assertLess(self.waited(bells, 1, LONG), LONG / 2)
        self.assertGreaterEqual(self.waited(bells, 1, A_MOMENT), A_MOMENT * 0.9)

    def test_one_is_not_rung_for_another(self) -> None:
        bells = Bells()
        for controller_id in (1, 2):
            bells.wait(controller_id, 0.0)
        bells.ring(1)
        self.assertGreaterEqual(self.waited(bells, 2, A_MOMENT), A_MOMENT * 0.9)
        self.assertLess(self.waited(bells, 1, LONG), LONG / 2)


class ListeningForEvents(LineCase):
    def listen(self, last: Last | None, turns: int) -> int:
        """Listen for so many rounds, and return how often the bell was rung."""
        rung, pauses = [0], [0]

        def ring() -> None:
            rung[0] += 1

        def pause(seconds: float) -> None:
            pauses[0] += 1

        listen(self.wire, lambda: last, ring, lambda: pauses[0] >= turns, pause)
        return rung[0]

    def test_rings_for_what_was_not_taken_yet_and_for_another_memory(self) -> None:
        person = self.house.enrol()
        self.assertTrue(person)
        self.house.mark_everything()
        self.rounds()
        self.shown(4751)
        link = Link.objects.get(controller=self.house.north)
        self.assertEqual(self.listen(Last(link.store, link.last_event), 1), 1)
        self.assertEqual(self.listen(Last("of another box", 0), 1), 1)

    def test_does_not_ring_before_the_line_began_nor_when_nobody_answers(self) -> None:
        self.assertEqual(self.listen(None, 2), 0)
        self.standins.stop()
        self.assertEqual(self.listen(Last("", 0), 2), 0)

    def test_does_not_ring_for_what_was_taken(self) -> None:
        self.rounds()
        link = Link.objects.get(controller=self.house.north)
        over = threading.Event()
        rung: list[int] = []
        thread = threading.Thread(
            target=listen,
            args=(
                self.wire,
                lambda: Last(link.store, link.last_event),
                lambda: rung.append(1),
                over.is_set,
                over.wait,
            ),
        )
        thread.start()
        time.sleep(A_MOMENT)
        over.set()
        thread.join()
        self.assertEqual(rung, [])
