"""Faces: what blocks a template, how far two are apart, and how they are written and found."""

import struct
from base64 import b64decode, b64encode
from dataclasses import replace
from functools import cache
from unittest import TestCase

import numpy as np
from PIL import Image

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.biometric import AGAINST_A_FACE, Biometric
from cadrin.core.credentials.face.descriptor import NUMBERS, PUBLISHED_MATCH, distance
from cadrin.core.credentials.face.enrolment import (
    FaceRule,
    FaceShot,
    is_same_face,
    problem_with_shot,
    shot_of,
)
from cadrin.core.credentials.face.search import nearest_faces
from cadrin.core.credentials.face.template import FaceTemplate, face_in, record_of_face
from cadrin.core.credentials.factors import Evidence, Factor, ReaderPolicy
from cadrin.core.decision.decide import decide
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import Invalid
from cadrin.core.made_up.face.drawing import Shot, drawn
from cadrin.core.made_up.face.person import person
from cadrin.core.records.biometrics import FaceSample
from cadrin.core.tests.builders import (
    FRONT_READER,
    MONDAY_NOON,
    a_card,
    a_holder,
    a_plan,
    a_read,
    held,
)

DRAWN = FaceRule(match=0.33)
"""Drawn faces are more alike than people are."""
PLAIN, TURNED = Shot(), Shot(yaw=6.0, smile=0.4)


@cache
def shot(who: int, how: Shot = PLAIN) -> FaceShot:
    return shot_of(Image.fromarray(drawn(person(who), how, 1)))


def template(who: int, how: Shot = PLAIN) -> FaceTemplate:
    found = shot(who, how).template
    assert found is not None
    return found


class Faces(TestCase):
    def test_of_one_person_are_near_and_of_two_people_far(self) -> None:
        same = [distance(template(who).numbers, template(who, TURNED).numbers) for who in (1, 2, 3)]
        other = [
            distance(template(one).numbers, template(two).numbers)
            for one, two in ((1, 2), (2, 3), (1, 3))
        ]

        self.assertLess(max(same), DRAWN.match)
        self.assertGreater(min(other), DRAWN.match)
        self.assertTrue(is_same_face(template(1), [template(2), template(1, TURNED)], DRAWN))
        self.assertFalse(is_same_face(template(1), [template(2)], DRAWN))

    def test_are_128_numbers_and_the_published_threshold_is_the_usual_one(self) -> None:
        # dlib's face recognition model (D. King, 2017): 128 numbers, 0.6
        self.assertEqual(template(1).numbers.shape, (128,))
        self.assertEqual((NUMBERS, PUBLISHED_MATCH, FaceRule().match), (128, 0.6, 0.6))

    def test_what_would_only_be_advice_for_a_portrait_blocks_a_template(self) -> None:
        wall = np.full((600, 480, 3), 230, np.uint8)
        face = drawn(person(1), PLAIN, 1)
        small = np.full((600, 480, 3), 230, np.uint8)
        small[200:350, 180:300] = np.asarray(Image.fromarray(face).resize((120, 150)))
        cases = {
            "face.no_face": wall,
            "face.several_faces": np.hstack([face, drawn(person(2), PLAIN, 1)]),
            "face.too_small": small,
            "face.blurred": drawn(person(1), Shot(blur=7.0), 1),
        }
        for code, pixels in cases.items():
            with self.subTest(code):
                found = shot_of(Image.fromarray(pixels))
                problem = problem_with_shot(found, FaceRule())
                assert problem is not None
                self.assertEqual(problem.code, code)
                self.assertIsNone(found.template)

    def test_a_turned_head_is_a_poor_picture_and_a_straight_one_is_not(self) -> None:
        turned = problem_with_shot(shot(1, Shot(yaw=20.0)), FaceRule())

        self.assertIsNone(problem_with_shot(shot(1), FaceRule()))
        assert turned is not None
        self.assertEqual(turned.code, "face.poor_picture")

    def test_dark_skin_is_no_blurred_picture(self) -> None:
        """Edges are as weak as the skin is dark: sharpness is measured at one brightness."""
        for tone in ((250, 224, 204), (86, 56, 42)):
            somebody = replace(person(1), skin=tone)
            found = shot_of(Image.fromarray(drawn(somebody, PLAIN, 1)))
            self.assertNotIn("blurred", [item.finding for item in found.found], tone)

    def test_are_written_and_read_back_and_nothing_else_is_read(self) -> None:
        record = record_of_face(template(1))
        read = face_in(record)

        np.testing.assert_array_equal(read.numbers, template(1).numbers)
        self.assertEqual(read.quality, template(1).quality)
        content = b64decode(record)
        nan = content[:5] + struct.pack(">f", float("nan")) + content[9:]
        huge = content[:5] + struct.pack(">f", 1e30) + content[9:]
        for wrong in (
            b"",
            content[:-1],
            content + b"!",
            b"XXXX" + content[4:],
            content[:4] + b"\xff" + content[5:],
            nan,
            huge,
        ):
            with self.subTest(wrong[:9]), self.assertRaises(Invalid):
                face_in(b64encode(wrong).decode())
        with self.assertRaises(Invalid):
            face_in("not base64 at all!")

    def test_the_nearest_of_many_is_found_first_and_none_beyond_the_distance(self) -> None:
        many = {who: template(who).numbers for who in (1, 2, 3)}

        found = nearest_faces(template(2, TURNED).numbers, many, DRAWN.match)

        self.assertEqual([face.key for face in found], [2])
        self.assertEqual(nearest_faces(template(2).numbers, {}, 1.0), [])


def a_face(who: int) -> Biometric:
    record = record_of_face(template(who))
    return Biometric(100 + who, record, AGAINST_A_FACE)


class FacesAtDoors(TestCase):
    def reason(self, policy: ReaderPolicy, holder: Holder, evidence: Evidence) -> Reason:
        other = replace(a_holder(id_=2, cards=(a_card(99),)), faces=(a_face(2),))
        records = held(a_plan({FRONT_READER: policy}), holder, other)
        return decide(evidence, FRONT_READER, MONDAY_NOON, records).reason

    def test_each_way_of_asking_takes_the_right_face_and_no_other(self) -> None:
        face = ReaderPolicy(((Factor.FACE,),), face_match=33)
        both = ReaderPolicy(((Factor.CARD, Factor.FACE),), face_match=33)
        either = ReaderPolicy(((Factor.CARD,), (Factor.FACE,)), face_match=33)
        holder = replace(a_holder(), faces=(a_face(1),))
        mine, theirs, strange = (
            FaceSample(template(who, TURNED if who < 3 else PLAIN).numbers) for who in (1, 2, 3)
        )
        read = a_read(a_card())
        cases = (
            (face, Evidence(face=mine), Reason.GRANTED),
            (face, Evidence(face=theirs), Reason.GRANTED),
            (face, Evidence(face=strange), Reason.UNKNOWN_FACE),
            (both, Evidence(read, face=mine), Reason.GRANTED),
            (both, Evidence(read, face=theirs), Reason.FACE_OF_ANOTHER),
            (both, Evidence(read), Reason.FACE_MISSING),
            (both, Evidence(face=mine), Reason.CARD_MISSING),
            (either, Evidence(read), Reason.GRANTED),
            (either, Evidence(face=strange), Reason.UNKNOWN_FACE),
        )
        for policy, evidence, expected in cases:
            with self.subTest(policy.alternatives, shown=evidence.factors):
                self.assertIs(self.reason(policy, holder, evidence), expected)
