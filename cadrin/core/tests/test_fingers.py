"""Fingers: what is seen in a picture, how good it is, and whether two are one finger."""

import io
import itertools
import struct
from functools import cache
from unittest import TestCase, skipUnless

import numpy as np
from PIL import Image

from cadrin.core.credentials.finger.comparison import Prints, prints_of, similarity
from cadrin.core.credentials.finger.enrolment import (
    FingerPress,
    FingerRule,
    press_of,
    problem_with_press,
    template_from,
)
from cadrin.core.credentials.finger.minutiae import Minutia, MinutiaKind, minutiae_in
from cadrin.core.credentials.finger.picture import (
    LARGEST_BYTES,
    read_picture,
    ridges_of_finger,
    write_picture,
)
from cadrin.core.credentials.finger.quality import Advice
from cadrin.core.credentials.finger.ridges import Picture
from cadrin.core.credentials.finger.search import Gallery
from cadrin.core.credentials.finger.skeleton import neighbours_of, thinned
from cadrin.core.credentials.finger.template import FingerTemplate
from cadrin.core.errors import Invalid
from cadrin.core.made_up.fingers import Press, pressed, ridges_of

try:
    import nbis  # the registries' public-domain extractor and matcher, for x86-64 alone
except ImportError:
    nbis = None


@cache
def picture(finger: int, press: int = 0, how: Press = Press()) -> Picture:  # noqa: B008 - it is frozen
    return pressed(ridges_of(finger), how, press)


@cache
def laid(finger: int, press: int = 0, how: Press = Press()) -> FingerPress:  # noqa: B008
    return press_of(picture(finger, press, how))


def template(finger: int, press: int = 0, how: Press = Press()) -> FingerTemplate:  # noqa: B008
    found = laid(finger, press, how).template
    assert found is not None
    return found


def prints(finger: int, press: int = 0, how: Press = Press()) -> Prints:  # noqa: B008
    return prints_of(template(finger, press, how).minutiae)


TURNED = Press(turned=35, right=20, down=-15)
RULE = FingerRule()


class Minutiae(TestCase):
    def test_a_line_that_is_drawn_ends_where_it_was_drawn_to_end(self) -> None:
        drawn = np.zeros((60, 60), np.uint8)
        drawn[28:33, 10:50] = 1

        lines = thinned(drawn)

        on_line = np.argwhere(lines)
        self.assertTrue((on_line[:, 0] == 30).all())
        ends = [x for y, x in on_line if neighbours_of(lines)[y, x].bit_count() == 1]
        self.assertEqual(len(ends), 2)
        self.assertLess(abs(min(ends) - 12) + abs(max(ends) - 47), 6)

    @skipUnless(nbis, "the reference is there for x86-64 alone")
    def test_a_public_domain_extractor_sees_the_same_minutiae(self) -> None:
        # NIST Biometric Image Software's mindtct, as the registries package it
        for finger in (1, 2):
            content = write_picture(picture(finger))
            theirs = [
                _as_ours(row) for row in struct.iter_unpack(">HHBB", _reference(content)[26:])
            ]
            ours = minutiae_in(picture(finger))

            same = [
                (abs((a.angle - b.angle + 128) % 256 - 128))
                for a in theirs
                for b in ours
                if np.hypot(a.x - b.x, a.y - b.y) < 6
            ]

            with self.subTest(finger):
                self.assertGreater(len(same), 0.7 * min(len(ours), len(theirs)))
                self.assertLess(np.percentile(same, 90), 12)  # 256ths of a turn: 17 degrees

    @skipUnless(nbis, "the reference is there for x86-64 alone")
    def test_a_public_domain_matcher_tells_our_minutiae_apart(self) -> None:
        # its usual threshold is 40 (NBIS, bozorth3: from memory)
        first, again, other = (
            _extractor().load_iso_19794_2_2005(_for_reference(template(*press)))
            for press in ((1, 0), (1, 1, TURNED), (2, 0))
        )

        self.assertGreater(first.compare(again), 60)
        self.assertLess(first.compare(other), 40)


def _extractor() -> "nbis.NbisExtractor":
    settings = nbis.NbisExtractorSettings(
        min_quality=0.0, get_center=False, check_fingerprint=False, compute_nfiq2=False, ppi=500
    )
    return nbis.new_nbis_extractor(settings)


def _reference(content: bytes) -> bytes:
    found: bytes = _extractor().extract_minutiae(content).to_iso_19794_2_2005()
    return bytes(found)


def _as_ours(row: tuple[int, int, int, int]) -> Minutia:
    return Minutia(MinutiaKind(row[0] >> 14), row[0] & 0x3FFF, row[1] & 0x3FFF, row[2], row[3])


def _for_reference(finger: FingerTemplate) -> bytes:
    """Write minutiae as the reference takes them: as the standard has them, after a header of its
    own of 26 bytes.
    """
    count = len(finger.minutiae)
    head = b"FMR\0 20\0" + struct.pack(
        ">LHHHHBBHBB", 26 + 6 * count, 0, finger.width, finger.height, 0, 50, 0, 0, 0, count
    )
    rows = (struct.pack(">HHBB", m.kind << 14 | m.x, m.y, m.angle, 50) for m in finger.minutiae)
    return head + b"".join(rows)


class Comparison(TestCase):
    def test_the_same_finger_is_alike_however_it_was_laid(self) -> None:
        for how in (Press(), TURNED, Press(wetness=0.5, roughness=0.3), Press(area=0.75)):
            with self.subTest(how=how):
                self.assertGreater(similarity(prints(1), prints(1, 3, how)), RULE.match)

    def test_different_fingers_are_not(self) -> None:
        for a, b in itertools.combinations(range(1, 6), 2):
            with self.subTest(a=a, b=b):
                self.assertLess(similarity(prints(a), prints(b)), RULE.match)

    def test_it_is_the_same_both_ways_round(self) -> None:
        pairs = ((prints(1), prints(1, 3, TURNED)), (prints(1), prints(2)))

        self.assertEqual([similarity(a, b) for a, b in pairs], [similarity(b, a) for a, b in pairs])

    def test_a_finger_is_found_among_many_and_a_strange_one_is_not(self) -> None:
        gallery = Gallery({finger: prints(finger) for finger in range(1, 9)})

        self.assertEqual([m.key for m in gallery.search(prints(3, 1, TURNED), RULE.match)], [3])
        self.assertEqual(gallery.search(prints(3, 1, TURNED), RULE.match, besides=[3]), [])
        self.assertEqual(gallery.search(prints(20), RULE.match), [])
        self.assertEqual(Gallery({}).search(prints(3), RULE.match), [])

    def test_too_few_minutiae_are_nobodys(self) -> None:
        few = prints_of(template(1).minutiae[:5])

        self.assertEqual(similarity(few, prints(1)), 0)
        self.assertEqual(similarity(prints_of(()), prints(1)), 0)


class Quality(TestCase):
    def test_what_makes_a_press_worse_lowers_its_quality(self) -> None:
        good = laid(1).quality
        worse = (Press(wetness=-0.9, roughness=0.4), Press(area=0.45), Press(roughness=0.9))

        self.assertGreater(good, 90)
        for how in worse:
            with self.subTest(how=how):
                self.assertLess(laid(1, 0, how).quality, good - 15)

    def test_each_advice_is_given_for_its_fault(self) -> None:
        faults = {
            None: Press(),
            Advice.DRY: Press(wetness=-0.9, roughness=0.45),
            Advice.WET: Press(wetness=0.95, roughness=0.45),
            Advice.MORE_OF_THE_FINGER: Press(area=0.45),
            Advice.MOVE_RIGHT: Press(right=-110, area=0.55),
            Advice.MOVE_LEFT: Press(right=110, area=0.55),
            Advice.MOVE_UP: Press(down=140, area=0.55),
            Advice.MOVE_DOWN: Press(down=-140, area=0.55),
        }

        for advice, how in faults.items():
            with self.subTest(advice):
                self.assertEqual(laid(1, 0, how).advice, advice)


class Enrolment(TestCase):
    def test_a_poor_press_and_another_finger_are_not_taken(self) -> None:
        before = [template(1)]

        self.assertIsNone(problem_with_press(laid(1, 1), before, RULE))
        poor = problem_with_press(laid(1, 0, Press(area=0.4)), before, RULE)
        another = problem_with_press(laid(2), before, RULE)

        self.assertEqual(
            (poor and poor.code, another and another.code),
            ("finger.poor_press", "finger.another_finger"),
        )

    def test_the_press_that_agrees_best_is_kept(self) -> None:
        odd = template(1, 2, Press(roughness=0.55, area=0.8))

        kept = template_from([odd, template(1), template(1, 1)], RULE)

        self.assertIn(kept, (template(1), template(1, 1)))

    def test_no_template_comes_of_too_few_presses_or_of_two_fingers(self) -> None:
        cases = {
            "finger.presses_missing": [template(1), template(1, 1)],
            "finger.another_finger": [template(1), template(1, 1), template(2)],
        }

        for code, presses in cases.items():
            with self.subTest(code), self.assertRaises(Invalid) as refused:
                template_from(presses, RULE)
            self.assertEqual(refused.exception.code, code)


class Pictures(TestCase):
    def test_a_picture_is_read_as_it_was_written(self) -> None:
        self.assertTrue((read_picture(write_picture(picture(1))) == picture(1)).all())

    def test_each_bad_picture_is_refused_with_its_reason(self) -> None:
        good = picture(1)
        files = {
            "finger_picture.too_large": bytes(LARGEST_BYTES + 1),
            "finger_picture.not_readable": b"no picture",
            "finger_picture.size": _png(good[:40, :40]),
            "finger_picture.resolution": _png(good, dots=100),
        }
        pictures = {
            "finger_picture.empty": np.full((500, 400), 235, np.uint8),
            "finger_picture.inverted": 255 - good,
            "finger_picture.not_a_finger": np.random.default_rng(1)
            .integers(0, 255, (500, 400))
            .astype(np.uint8),
        }

        for code, content in files.items():
            with self.subTest(code), self.assertRaises(Invalid) as refused:
                read_picture(content)
            self.assertEqual(refused.exception.code, code)
        for code, shown in pictures.items():
            with self.subTest(code), self.assertRaises(Invalid) as refused:
                ridges_of_finger(shown)
            self.assertEqual(refused.exception.code, code)

    def test_a_file_that_is_cut_short_is_refused(self) -> None:
        content = write_picture(picture(1))

        for length in range(0, len(content) - 20, len(content) // 9):
            with self.subTest(length), self.assertRaises(Invalid):
                read_picture(content[:length])


def _png(shown: Picture, dots: int = 500) -> bytes:
    file = io.BytesIO()
    Image.fromarray(shown).save(file, "PNG", dpi=(dots, dots))
    return file.getvalue()
