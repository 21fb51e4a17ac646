from collections import Counter
from dataclasses import replace
from datetime import date
from math import exp
from random import Random
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.credentials.factors import Evidence, ReaderPolicy
from cadrin.core.credentials.pin.duplicates import PinInUse, mistaken_for_another, not_anothers
from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.credentials.pin.generation import generate
from cadrin.core.credentials.pin.hashing import PinAtDoors, keyed_hash
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.credentials.pin.rule import (
    NOTHING_KNOWN,
    OwnNumbers,
    PinRule,
    problems_with_pin,
    problems_with_rule,
)
from cadrin.core.decision.decide import decide
from cadrin.core.errors import Invalid
from cadrin.core.tests.builders import (
    FRONT_READER,
    MONDAY_NOON,
    Asks,
    a_card,
    a_holder,
    a_plan,
    a_read,
    held,
)

RULE = PinRule()
KEY = PinAtDoors("5a" * 32)
CHI_SQUARE_9_0_999 = 27.877
"""Upper 0.999 value for nine degrees of freedom: NIST/SEMATECH e-Handbook, table 1.3.6.7.4."""
digits = st.text("0123456789", min_size=4, max_size=9)


def codes(pin: str, rule: PinRule = RULE, own: OwnNumbers = NOTHING_KNOWN) -> list[str]:
    return [problem.code for problem in problems_with_pin(pin, rule, own)]


class Rule(TestCase):
    def test_tells_every_reason_at_once(self) -> None:
        self.assertEqual(codes("12345"), ["pin.length", "pin.runs"])
        self.assertEqual(codes("111111"), ["pin.repeats", "pin.date"])
        self.assertEqual(codes("484848"), ["pin.repeats"])
        self.assertEqual(codes("48 509"), ["pin.not_digits"])
        self.assertEqual(codes("٤٨١٥٠٩"), ["pin.not_digits"])  # digits, but on no keypad
        self.assertEqual(codes("481509"), [])

    def test_refuses_what_anybody_who_knows_the_cardholder_would_try(self) -> None:
        own = OwnNumbers(date(1987, 5, 23), ("S-00481", "87-04751", "04751"))

        self.assertEqual(codes("230587", own=own), ["pin.date", "pin.birth_date"])
        self.assertEqual(codes("870475", own=own), ["pin.own_number"])
        self.assertEqual(codes("947519", own=own), ["pin.own_number"])
        self.assertEqual(codes("948193", own=own), [])  # 481 is too short a number to mean anything

    def test_a_pin_of_four_digits_reads_as_a_year_or_a_day(self) -> None:
        four = PinRule(4, forbids_runs=False, forbids_repeats=False)

        for pin, is_day in (
            ("1987", True),
            ("2099", True),
            ("2105", True),
            ("2199", False),
            ("3012", True),
            ("1230", True),
            ("3113", False),
        ):
            self.assertEqual("pin.date" in codes(pin, four), is_day, pin)
        self.assertNotIn("pin.date", codes("19871", PinRule(5)))

    def test_asks_only_what_it_was_told_to(self) -> None:
        easy = PinRule(
            4,
            forbids_repeats=False,
            forbids_runs=False,
            forbids_dates=False,
            forbids_own_numbers=False,
        )
        self.assertEqual(codes("1111", easy, OwnNumbers(date(2011, 11, 11), ("1111",))), [])
        self.assertEqual(codes("1234", easy), [])

    def test_has_its_own_bounds(self) -> None:
        wrong = PinRule(length=3, max_attempts=0, holds_days=0, lockout_seconds=0, remembered=-1)

        self.assertEqual(len(problems_with_rule(wrong)), 5)
        self.assertEqual(problems_with_rule(RULE), ())
        bounds = {
            "length": (4, 9),
            "remembered": (0, 20),
            "holds_days": (1, 3650),
            "max_attempts": (1, 20),
            "lockout_seconds": (1, 3600),
        }
        for field, (lowest, highest) in bounds.items():
            for value, is_right in (
                (lowest - 1, False),
                (lowest, True),
                (highest, True),
                (highest + 1, False),
            ):
                rule = replace(RULE, **{field: value})  # type: ignore[arg-type]
                found = [problem.field for problem in problems_with_rule(rule)]
                self.assertEqual(found, [] if is_right else [field], value)


class Duress(TestCase):
    @given(digits, st.sampled_from(DuressRule))
    def test_is_undone_by_the_way_back(self, pin: str, rule: DuressRule) -> None:
        self.assertEqual(rule.changed(rule.changed(pin), -1), pin)

    @given(digits, st.sampled_from(DuressRule), st.sampled_from(DuressRule), st.integers(-2, 2))
    def test_no_two_that_may_stand_side_by_side_are_taken_for_one_another(
        self, one: str, duress: DuressRule, apart: DuressRule, by: int
    ) -> None:
        """What one types, plainly or under duress, the other never types: tried with a close
        neighbour.
        """
        other = apart.changed(one, by)
        may_both_be = other not in not_anothers(one, PinRule(duress=duress))

        typed_alike = {one, duress.changed(one)} & {other, duress.changed(other)}

        self.assertEqual(may_both_be, not typed_alike)

    def test_a_controller_finds_the_pin_from_what_was_typed_under_duress(self) -> None:
        at_doors = PinAtDoors("0b" * 32, duress=DuressRule.LAST_DIGIT_UP)

        self.assertEqual(
            at_doors.hashes("481500")[1], keyed_hash(bytes.fromhex("0b" * 32), "481509")
        )


class KeyedHash(TestCase):
    def test_is_that_of_rfc_4231(self) -> None:
        """RFC 4231, test case 1: HMAC-SHA-256, cut to its first 16 bytes."""
        self.assertEqual(keyed_hash(b"\x0b" * 20, "Hi There"), "b0344c61d8db38535ca8afceaf0bf12b")


class Generating(TestCase):
    def test_every_allowed_pin_is_equally_likely(self) -> None:
        """A chi-square test over the first digit and over the last, against their shares among what
        is allowed.
        """
        rule, random, count = PinRule(length=4), Random(5), 20_000
        allowed = [f"{n:04}" for n in range(10_000) if not codes(f"{n:04}", rule)]
        made = [generate(rule, below=random.randrange) for _ in range(count)]

        self.assertTrue(set(made) <= set(allowed))
        for place in (0, 3):
            share = Counter(pin[place] for pin in allowed)
            seen = Counter(pin[place] for pin in made)
            expected = {digit: count * share[digit] / len(allowed) for digit in share}
            chi_square = sum((seen[digit] - mean) ** 2 / mean for digit, mean in expected.items())
            self.assertLess(chi_square, CHI_SQUARE_9_0_999)

    def test_uniqueness_must_be_seen_to_and_is(self) -> None:
        """The birthday bound: of 1,000 random PINs of six digits two are alike in four houses of
        ten.
        """
        random, people, houses = Random(9), 1_000, 400
        bound = 1 - exp(-people * (people - 1) / (2 * 10**6))

        alike = sum(
            len({random.randrange(10**6) for _ in range(people)}) < people for _ in range(houses)
        )
        taken: set[str] = set()
        for _ in range(people):
            taken.add(generate(RULE, taken.__contains__))

        self.assertAlmostEqual(alike / houses, bound, delta=0.08)
        self.assertEqual(len(taken), people)

    def test_finds_the_last_that_is_left_and_says_when_none_is(self) -> None:
        rule = PinRule(length=4)
        left = {"4815"}

        self.assertEqual(generate(rule, lambda pin: pin not in left), "4815")
        with self.assertRaises(Invalid) as caught:
            generate(rule, lambda pin: True)
        self.assertEqual(caught.exception.code, "pin.none_left")


class MistakenForAnother(TestCase):
    """A PIN is its owner's or nobody's, typed plainly or under duress, alone or beside a card."""

    in_use = st.lists(
        st.builds(
            PinInUse,
            st.just(0),
            st.integers(1, 3),
            st.sampled_from(["4810", "4811", "4812", "4819"]),
            st.booleans(),
        ),
        max_size=5,
    ).map(lambda pins: [pin._replace(id=place) for place, pin in enumerate(pins)])

    @given(in_use, st.sampled_from(DuressRule), st.integers(0, 4), st.booleans(), st.booleans())
    def test_what_is_left_without_those_opens_as_nobody_else(
        self,
        pins: list[PinInUse],
        duress: DuressRule,
        place: int,
        has_card: bool,
        is_threatened: bool,
    ) -> None:
        mistaken = mistaken_for_another(pins, PinRule(duress=duress))
        left = [pin for pin in pins if pin not in mistaken]
        if not left:
            return
        mine = left[place % len(left)]
        doors = replace(KEY, duress=duress)
        people = [
            a_holder(
                id_=who,
                cards=(a_card(who),),
                pins=tuple(
                    Pin(pin.id, doors.hashes(pin.digits)[0], pin.opens_alone)
                    for pin in left
                    if pin.holder_id == who
                ),
            )
            for who in (1, 2, 3)
        ]
        plan = replace(a_plan({FRONT_READER: ReaderPolicy(Asks.CARD_OR_PIN)}), pins=doors)
        typed = duress.changed(mine.digits) if is_threatened else mine.digits
        shown = a_read(a_card(mine.holder_id)) if has_card else None

        verdict = decide(Evidence(shown, typed), FRONT_READER, MONDAY_NOON, held(plan, *people))

        opens = has_card or mine.opens_alone
        self.assertEqual(
            verdict.holder.id if verdict.is_granted and verdict.holder else None,
            mine.holder_id if opens else None,
        )
        if opens:
            self.assertEqual(verdict.is_duress, is_threatened and duress is not DuressRule.NONE)

    def test_two_who_need_a_card_beside_it_may_have_the_same(self) -> None:
        one, other = PinInUse(1, 1, "481509", False), PinInUse(2, 2, "481509", False)

        self.assertEqual(
            mistaken_for_another([one, other], PinRule(duress=DuressRule.LAST_DIGIT_UP)), ()
        )
        self.assertEqual(
            mistaken_for_another([one, other._replace(holder_id=1)], PinRule()),
            (other._replace(holder_id=1),),
        )
