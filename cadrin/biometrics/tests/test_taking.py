"""Taking fingers: presses, what is refused, and whose a finger is already."""

import io
from base64 import b64encode
from datetime import timedelta
from typing import Any

import numpy as np
import orjson
from django.test import TestCase
from PIL import Image

from cadrin.biometrics.captures import (
    KEPT,
    PICTURE,
    CaptureWanted,
    begin_capture,
    get_capture,
    is_whole,
    picture_in,
    take_file,
)
from cadrin.biometrics.desk_readers import keep_press
from cadrin.biometrics.models import Capture
from cadrin.biometrics.search import search_everybody
from cadrin.biometrics.tests.hands import png, record, taken, with_finger
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.credentials.finger.quality import Advice
from cadrin.core.errors import Invalid, NotFound, NotPermitted
from cadrin.core.made_up.fingers import Press
from cadrin.core.tests.test_fingers import picture
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from tests.house import NOON, House, an_operator


def as_png(pixels: Any, dots: int = 500) -> bytes:
    file = io.BytesIO()
    Image.fromarray(pixels).save(file, "PNG", dpi=(dots, dots))
    return file.getvalue()


class Taking(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor

    def begin(self, **more: Any) -> Capture:
        token = begin_capture(self.actor, CaptureWanted(Finger.RIGHT_INDEX, **more), NOON)
        return get_capture(self.actor, token)

    def last(self, capture: Capture) -> dict[str, Any]:
        shown: dict[str, Any] = capture.presses[-1]
        return shown

    def test_three_good_presses_make_a_finger_and_their_picture_is_there_meanwhile(self) -> None:
        capture = self.begin()

        for press in range(3):
            self.assertFalse(is_whole(capture))
            take_file(capture, png(1, press))

        self.assertTrue(is_whole(capture))
        self.assertEqual(picture_in(capture), png(1, 2))
        self.assertTrue(all(shown["quality"] >= 60 for shown in capture.presses))
        for secret in (capture.sealed, capture.sealed_picture):
            self.assertTrue(secret.startswith("gAAAA"))  # sealed, as Fernet begins

    def test_a_poor_press_is_not_taken_and_says_what_to_do(self) -> None:
        capture = self.begin()

        take_file(capture, as_png(picture(1, 3, Press(wetness=-0.95, roughness=0.7, creases=6))))

        shown = self.last(capture)
        self.assertEqual(
            (shown["problem"]["code"], shown["advice"]), ("finger.poor_press", Advice.DRY)
        )
        self.assertFalse(search_is_possible(capture))

    def test_another_finger_than_before_is_not_taken(self) -> None:
        capture = self.begin()
        take_file(capture, record(1, 0))

        take_file(capture, record(2, 0))

        self.assertEqual(self.last(capture)["problem"]["code"], "finger.another_finger")
        take_file(capture, record(1, 1))
        self.assertIsNone(self.last(capture)["problem"])

    def test_whatever_is_no_finger_is_told_and_nothing_is_taken(self) -> None:
        rng = np.random.default_rng(5)
        face = np.full((500, 400), 240, np.uint8)
        face[150:350, 120:280] = 90
        inverted = 255 - picture(1, 0)
        good = record(1, 0)
        cases = {
            b"no picture at all": "finger_picture.not_readable",
            b"": "finger_picture.not_readable",
            as_png(picture(1, 0), dots=100): "finger_picture.resolution",
            as_png(np.full((500, 400), 250, np.uint8)): "finger_picture.empty",
            as_png(rng.integers(0, 255, (500, 400), np.uint8)): "finger_picture.not_a_finger",
            as_png(np.zeros((40, 40), np.uint8)): "finger_picture.size",
            as_png(face): "finger_picture.not_a_finger",
            as_png(inverted): "finger_picture.inverted",
            b"FMR\0": "finger_record.not_a_record",
            b"FMR\0 99\0" + good[8:]: "finger_record.version",
            good + b"!": "finger_record.length",
            good[:-5]: "finger_record.length",
        }
        for content, code in cases.items():
            with self.subTest(code):
                capture = self.begin()
                take_file(capture, content)
                self.assertEqual(self.last(capture)["problem"]["code"], code)
                self.assertFalse(search_is_possible(capture))
        with self.assertRaises(Invalid) as caught:
            take_file(self.begin(), bytes(20 * 2**20))
        self.assertEqual(caught.exception.problems[0].code, "finger.file_too_large")

    def test_less_is_asked_only_by_whoever_may_and_says_why(self) -> None:
        plain = actor_of(an_operator("desk", Permission.BIOMETRICS))
        less = CaptureWanted(Finger.RIGHT_INDEX, least_quality=20)

        with self.assertRaises(NotPermitted):
            begin_capture(plain, less._replace(lowered_because="worn by ropes"), NOON)
        with self.assertRaises(Invalid) as caught:
            begin_capture(self.actor, less, NOON)
        self.assertEqual(caught.exception.problems[0].field, "lowered_because")
        capture = self.begin(least_quality=20, lowered_because="worn by ropes")
        take_file(capture, as_png(picture(1, 3, Press(wetness=-0.95, roughness=0.7, creases=6))))
        self.assertIsNone(self.last(capture)["problem"])

    def test_a_capture_is_its_operators_alone_and_only_for_a_while(self) -> None:
        capture = self.begin()
        other = actor_of(an_operator("other", Permission.BIOMETRICS))

        with self.assertRaises(NotFound):
            get_capture(other, capture.token)
        begin_capture(other, CaptureWanted(Finger.LEFT_THUMB), NOON + KEPT + timedelta(seconds=1))
        with self.assertRaises(NotFound):
            get_capture(self.actor, capture.token)

    def test_what_a_scanner_tells_twice_counts_once_and_for_nobody_who_does_not_wait(self) -> None:
        reader_id = self.house.desk_reader.pk
        told = orjson.dumps({"kind": PICTURE, "content": b64encode(png(1, 0)).decode()})
        keep_press(reader_id, "x:1", told, NOON)
        self.assertFalse(Capture.objects.exists())
        capture = self.begin(reader_id=reader_id)

        for event in ("x:2", "x:2", "x:3"):
            keep_press(reader_id, event, told, NOON)
        keep_press(reader_id, "x:4", b"nothing that can be read", NOON)

        capture.refresh_from_db()
        self.assertEqual(
            [bool(press["problem"]) for press in capture.presses], [False, False, True]
        )

    def test_a_finger_that_is_somebodys_is_found_with_the_name_of_the_finger(self) -> None:
        draft = self.house.draft()
        object.__setattr__(draft, "biometrics", with_finger(self.actor, 1, Finger.LEFT_THUMB))
        holder_id = self.house.enrol(draft)

        token = begin_capture(self.actor, CaptureWanted(Finger.RIGHT_INDEX), NOON)
        for press in (4, 5, 6):
            take_file(get_capture(self.actor, token), record(1, press))
        (found,) = search_everybody(get_capture(self.actor, token))
        nobody = get_capture(self.actor, taken(self.actor, 3, Finger.RIGHT_INDEX))

        self.assertEqual((found.holder_id, found.finger), (holder_id, Finger.LEFT_THUMB))
        self.assertEqual(search_everybody(nobody), [])


def search_is_possible(capture: Capture) -> bool:
    try:
        search_everybody(capture)
    except Invalid:
        return False
    return True
