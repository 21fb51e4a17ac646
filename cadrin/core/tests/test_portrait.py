"""Portrait geometry on faces that are laid out by hand, and what the findings say of them."""

import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.credentials.face.portrait import (
    HEAD_SHARE,
    RATIO,
    Box,
    Face,
    Finding,
    Measures,
    Point,
    findings,
    geometry_of,
    proposed_crop,
)

GOOD_LIGHT = Measures(40, 130, 0.01, 0.01, 1.0, 5)


def a_face(
    x: float = 500, y: float = 500, apart: float = 120, roll: float = 0, aside: float = 0
) -> Face:
    """Lay out a face around the middle of its eyes: the mouth as far below as the eyes
    are apart.
    """

    def at(across: float, down: float) -> Point:
        angle = math.radians(roll)
        return Point(
            x + across * math.cos(angle) - down * math.sin(angle),
            y + across * math.sin(angle) + down * math.cos(angle),
        )

    box = Box(x - apart, y - apart, apart * 2, apart * 2.6)
    return Face(box, at(-apart / 2, 0), at(apart / 2, 0), at(aside, apart * 0.6), at(0, apart))


def found(*faces: Face, crop: Box | None = None, measures: Measures = GOOD_LIGHT) -> set[Finding]:
    kept = crop or proposed_crop(1000, 1400, faces)
    return {one.finding for one in findings(faces, kept, measures)}


class Geometry(TestCase):
    def test_tilt_is_measured_and_does_not_change_the_rest(self) -> None:
        upright, tilted = geometry_of(a_face()), geometry_of(a_face(roll=20))

        self.assertAlmostEqual(tilted.roll, 20)
        self.assertAlmostEqual(upright.head_height, tilted.head_height)
        self.assertAlmostEqual(upright.yaw, 0)

    def test_a_head_is_about_as_high_as_three_and_a_quarter_times_its_eyes_are_apart_here(
        self,
    ) -> None:
        # the factors of the head: 1.62 times eyes to mouth below the eyes, and 1.02 times that
        # above
        self.assertAlmostEqual(geometry_of(a_face(apart=100)).head_height, 100 * 1.62 * 2.02)


class Crop(TestCase):
    def test_puts_the_head_where_it_should_be(self) -> None:
        crop = proposed_crop(1000, 1400, [a_face()])

        self.assertAlmostEqual(geometry_of(a_face()).head_height / crop.height, HEAD_SHARE)
        self.assertEqual(found(a_face(), crop=crop), set())

    @given(
        st.integers(64, 4000),
        st.integers(64, 4000),
        st.floats(0, 4000),
        st.floats(0, 4000),
        st.floats(5, 2000),
    )
    def test_always_lies_within_the_picture_and_has_the_ratio(
        self, width: int, height: int, x: float, y: float, apart: float
    ) -> None:
        for faces in ([], [a_face(x, y, apart)]):
            crop = proposed_crop(width, height, faces)

            self.assertAlmostEqual(crop.width / crop.height, RATIO)
            self.assertGreaterEqual(min(crop.x, crop.y), 0)
            self.assertLessEqual(crop.x + crop.width, width + 1e-6)
            self.assertLessEqual(crop.y + crop.height, height + 1e-6)


class Findings(TestCase):
    def test_each_thing_wrong_is_found_and_nothing_else(self) -> None:
        tall, low = Box(300, 200, 400, 2000), Box(260, 60, 480, 600)
        cases: dict[Finding, set[Finding]] = {
            Finding.NO_FACE: found(),
            Finding.SEVERAL_FACES: found(a_face(), a_face(x=200, y=1000, apart=90)),
            Finding.TOO_SMALL: found(a_face(apart=60)),
            Finding.TILTED: found(a_face(roll=12)),
            Finding.TURNED: found(a_face(aside=25)),
            Finding.HEAD_TOO_LARGE: found(a_face(), crop=Box(340, 320, 320, 400)),
            Finding.OFF_CENTRE: found(a_face(), crop=Box(300, 260, 320, 545)),
            Finding.BLURRED: found(a_face(), measures=Measures(3, 130, 0, 0, 1, None)),
            Finding.TOO_DARK: found(a_face(), measures=Measures(40, 30, 0.4, 0, 1, None)),
            Finding.TOO_BRIGHT: found(a_face(), measures=Measures(40, 230, 0, 0.3, 1, None)),
            Finding.UNEVEN_LIGHT: found(a_face(), measures=Measures(40, 130, 0, 0, 2.2, None)),
            Finding.BUSY_BACKGROUND: found(a_face(), measures=Measures(40, 130, 0, 0, 1, 30)),
        }
        for finding, told in cases.items():
            with self.subTest(finding):
                self.assertEqual(told, {finding})
        self.assertIn(Finding.HEAD_TOO_SMALL, found(a_face(), crop=tall))
        self.assertIn(Finding.EYES_TOO_HIGH, found(a_face(), crop=tall))
        self.assertIn(Finding.EYES_TOO_LOW, found(a_face(), crop=low))
        self.assertEqual(
            {*cases, Finding.HEAD_TOO_SMALL, Finding.EYES_TOO_HIGH, Finding.EYES_TOO_LOW},
            set(Finding),
        )
