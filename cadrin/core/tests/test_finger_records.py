"""Records of fingers: their bytes, both ways, and whatever else comes."""

import os
from contextlib import suppress
from random import Random
from unittest import TestCase

from hypothesis import example, given
from hypothesis import strategies as st

from cadrin.core.credentials.finger.iso_record import FingerView, decode_fingers, encode_fingers
from cadrin.core.credentials.finger.minutiae import Minutia, MinutiaKind
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.credentials.finger.template import FingerTemplate
from cadrin.core.errors import Invalid

WIDTH, HEIGHT = 400, 500


def minutiae() -> st.SearchStrategy[Minutia]:
    return st.builds(
        Minutia,
        st.sampled_from(MinutiaKind),
        st.integers(0, WIDTH - 1),
        st.integers(0, HEIGHT - 1),
        st.integers(0, 255),
        st.integers(0, 100),
    )


def views() -> st.SearchStrategy[FingerView]:
    many = st.lists(minutiae(), min_size=6, max_size=254).map(tuple)
    templates = st.builds(
        FingerTemplate, st.just(WIDTH), st.just(HEIGHT), many, st.integers(0, 100)
    )
    return st.builds(FingerView, st.sampled_from(Finger) | st.none(), templates)


SIX = tuple(Minutia(MinutiaKind.ENDING, 10 * n, 20 * n, 40 * n, 50 + n) for n in range(1, 7))
RECORD = encode_fingers((FingerView(Finger.RIGHT_INDEX, FingerTemplate(WIDTH, HEIGHT, SIX, 80)),))


class FingerRecords(TestCase):
    def test_a_record_has_the_bytes_of_the_standard(self) -> None:
        # ISO/IEC 19794-2:2005, 7.3 and 7.4 (from memory): written out by hand
        head = bytes.fromhex(
            "464d5200 20323000 00000042 0000 0190 01f4 00c5 00c5 01 00"  # general header
            "02 00 50 06"  # right index finger, view 0, live-scan plain, quality 80, six minutiae
            "400a 0014 28 33"  # an ending at 10, 20; 40/256 of a turn; quality 51
        )

        self.assertEqual((len(RECORD), RECORD[:34]), (24 + 4 + 6 * 6 + 2, head))
        self.assertEqual(RECORD[-2:], b"\0\0")

    @given(st.lists(views(), min_size=1, max_size=3).map(tuple))
    def test_what_is_written_is_read_again(self, written: tuple[FingerView, ...]) -> None:
        self.assertEqual(decode_fingers(encode_fingers(written)), written)

    @given(st.binary(max_size=200) | st.binary(max_size=60).map(lambda tail: RECORD[:28] + tail))
    @example(b"")
    def test_whatever_comes_is_read_or_refused(self, record: bytes) -> None:
        try:
            decode_fingers(record)
        except Invalid as refused:
            self.assertTrue(refused.code.startswith(("finger_record.", "finger.")))

    def test_many_that_were_spoiled_are_read_or_refused(self) -> None:
        """`make fuzz` does a million."""
        random = Random(1)
        for _ in range(int(os.environ.get("CADRIN_SPOILED_RECORDS", "5000"))):
            with suppress(Invalid):
                decode_fingers(_spoiled(random))

    @given(st.integers(0, len(RECORD) - 1), st.integers(0, 255))
    def test_a_byte_that_was_changed_is_noticed_or_harmless(self, place: int, byte: int) -> None:
        changed = bytearray(RECORD)
        changed[place] = byte

        try:
            found = decode_fingers(bytes(changed))
        except Invalid:
            return

        self.assertEqual(len(found[0].template.minutiae), 6)

    def test_each_fault_is_named(self) -> None:
        def with_bytes(place: int, value: str) -> bytes:
            bytes_ = bytes.fromhex(value)
            return RECORD[:place] + bytes_ + RECORD[place + len(bytes_) :]

        faults = {
            "finger_record.not_a_record": with_bytes(0, "00"),
            "finger_record.version": with_bytes(5, "333000"),
            "finger_record.length": RECORD + b"\0",
            "finger_record.resolution": with_bytes(18, "0027 0027"),
            "finger_record.views": with_bytes(22, "00"),
            "finger_record.finger": with_bytes(24, "0b"),
            "finger_record.minutiae_count": with_bytes(27, "ff"),
            "finger.minutiae_count": _with_minutiae(0),
            "finger_record.ends_early": with_bytes(27, "0c"),
            "finger.minutia_outside": with_bytes(28, "4190"),
            "finger_record.minutia_kind": with_bytes(28, "c00a"),
            "finger.size": with_bytes(14, "0000"),
            "finger.quality_range": with_bytes(26, "65"),
            "finger_record.trailing_bytes": _with_length(RECORD + b"\0"),
            "finger_record.too_long": b"FMR\0" + bytes(70_000),
        }

        for code, record in faults.items():
            with self.subTest(code), self.assertRaises(Invalid) as refused:
                decode_fingers(record)
            self.assertEqual(refused.exception.code, code)


def _with_length(record: bytes) -> bytes:
    return record[:8] + len(record).to_bytes(4, "big") + record[12:]


def _with_minutiae(count: int) -> bytes:
    return _with_length(RECORD[:27] + bytes([count]) + RECORD[28 : 28 + 6 * count] + b"\0\0")


def _spoiled(random: Random) -> bytes:
    """Return a record with some bytes changed, cut, put in, or nothing but chance."""
    record = bytearray(RECORD)
    match random.randrange(4):
        case 0:
            return random.randbytes(random.randrange(120))
        case 1:
            for _ in range(random.randrange(1, 6)):
                record[random.randrange(len(record))] = random.randrange(256)
            return bytes(record)
        case 2:
            record = record[: random.randrange(12, len(record))]
            record += random.randbytes(random.randrange(30))
        case _:
            place = random.randrange(24, len(record))
            record[place:place] = random.randbytes(random.randrange(1, 20))
    record[8:12] = len(record).to_bytes(4, "big")
    return bytes(record)
