"""A controller's clock: told where it is wrong, set right when somebody asks, or kept right."""

from cadrin.delivery.commands import keep_clock, set_clock
from cadrin.delivery.controllers import controllers
from tests.house import ANYBODY, NOON
from tests.line_case import LineCase


class Clocks(LineCase):
    def test_a_clock_that_is_wrong_is_told(self) -> None:
        self.standins.switch(self.house.north.pk, clock_off_seconds=-600)

        self.rounds()

        self.assertAlmostEqual(controllers(ANYBODY, NOON)[0]["clock_off_seconds"], -600, delta=5)

    def test_a_clock_is_set_right_once_somebody_asks(self) -> None:
        self.standins.switch(self.house.north.pk, clock_off_seconds=-600)
        self.rounds()

        set_clock(ANYBODY, self.house.north.pk, NOON)
        self.rounds()

        self.assertEqual(controllers(ANYBODY, NOON)[0]["clock_off_seconds"], 0)
        self.standins.switch(self.house.north.pk, clock_off_seconds=-600)
        self.rounds()
        self.assertAlmostEqual(controllers(ANYBODY, NOON)[0]["clock_off_seconds"], -600, delta=5)

    def test_a_clock_that_is_kept_is_set_right_whenever_it_is_off(self) -> None:
        self.rounds()
        keep_clock(ANYBODY, self.house.north.pk, True, NOON)
        self.rounds()
        for seconds in (-600, 90):
            self.standins.switch(self.house.north.pk, clock_off_seconds=seconds)
            self.rounds()
            self.rounds()
            self.assertEqual(controllers(ANYBODY, NOON)[0]["clock_off_seconds"], 0)
