from unittest import TestCase

from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.false_matches import RULE_OF_THREE, false_matches


class FalseMatchRates(TestCase):
    def test_a_stricter_threshold_never_has_more(self) -> None:
        for factor, stricter in ((Factor.FINGER, 1), (Factor.FACE, -1)):
            known = [false_matches(factor, at) for at in range(101)][::stricter]
            rates = [1 / found.one_in for found in known if found is not None]
            self.assertEqual(rates, sorted(rates, reverse=True))

    def test_nothing_is_claimed_below_what_so_many_comparisons_can_show(self) -> None:
        for factor, strictest, compared in ((Factor.FINGER, 100, 19_900), (Factor.FACE, 0, 28_322)):
            found = false_matches(factor, strictest)
            assert found is not None
            self.assertEqual(found, (compared // RULE_OF_THREE, True))

    def test_what_was_not_measured_is_not_told(self) -> None:
        self.assertIsNone(false_matches(Factor.FINGER, 19))
        self.assertIsNone(false_matches(Factor.FACE, 71))
