"""Images: what is read and what is refused, and that nothing of the file comes along but the
picture.
"""

import io
import zlib
from collections.abc import Iterator
from dataclasses import replace

from django.test import TestCase
from PIL import Image as Pillow
from PIL import ImageFilter

from cadrin.core.credentials.face.portrait import Box, Finding
from cadrin.core.errors import Invalid
from cadrin.demo.portraits import portrait
from cadrin.photos.checking import check_photos
from cadrin.photos.commands import crop_image, forget_unsaved, images_of, take_image
from cadrin.photos.files import SIZES, path_of
from cadrin.photos.models import Image
from cadrin.photos.reading import read_image
from tests.house import DAY, NOON, House


def written(picture: Pillow.Image, kind: str, **more: object) -> bytes:
    file = io.BytesIO()
    picture.save(file, kind, **more)  # type: ignore[arg-type]
    return file.getvalue()


def a_bomb() -> bytes:
    """Return a PNG of a few kilobytes that would unpack to 30,000 by 30,000 pixels."""

    def chunk(kind: bytes, body: bytes) -> bytes:
        return len(body).to_bytes(4) + kind + body + zlib.crc32(kind + body).to_bytes(4)

    header = (30_000).to_bytes(4) * 2 + b"\x08\x00\x00\x00\x00"
    body = chunk(b"IDAT", zlib.compress(b"\0" * 10_000))
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + body + chunk(b"IEND", b"")


class Reading(TestCase):
    def setUp(self) -> None:
        self.picture = Pillow.open(io.BytesIO(portrait(1)))

    def test_every_format_is_read(self) -> None:
        for kind in ("JPEG", "PNG", "WEBP", "HEIF"):
            with self.subTest(kind):
                self.assertEqual(read_image(written(self.picture, kind)).size, self.picture.size)

    def test_is_turned_upright_and_loses_its_metadata(self) -> None:
        exif = Pillow.Exif()
        exif[0x0112] = 6  # orientation: turned a quarter (EXIF 2.3, table 4)
        exif[0x010F] = "Camera of somebody"

        read = read_image(written(self.picture, "JPEG", exif=exif))

        self.assertEqual(read.size, (self.picture.height, self.picture.width))
        self.assertEqual((dict(read.getexif()), read.info), ({}, {}))

    def test_what_is_no_picture_is_refused(self) -> None:
        gif = written(self.picture.convert("P"), "GIF")
        svg = b'<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'
        jpeg = portrait(1)
        for name, sent, code in (
            ("nothing", b"", "photo.not_readable"),
            ("a script", svg, "photo.not_readable"),
            ("another format", gif, "photo.not_readable"),
            ("half a file", jpeg[: len(jpeg) // 2], "photo.not_readable"),
            (
                "a text that says it is a picture",
                b"\xff\xd8\xff" + b"hello" * 99,
                "photo.not_readable",
            ),
            ("a bomb", a_bomb(), "photo.too_many_pixels"),
            ("a dot", written(Pillow.new("RGB", (4, 4)), "PNG"), "photo.too_few_pixels"),
        ):
            with self.subTest(name), self.assertRaises(Invalid) as caught:
                read_image(sent)
            self.assertEqual(caught.exception.code, code)


class Taking(TestCase):
    def setUp(self) -> None:
        self.house = House()

    def test_an_image_without_its_files_is_named_and_files_without_an_image_too(self) -> None:
        kept, lost, stray = self.take(1), self.take(2), self.take(3)
        path_of(lost, "page").unlink()
        Image.objects.filter(token=stray).delete()

        found = check_photos()

        self.assertEqual(found.without_files, [f"{lost}, nobody's"])
        self.assertIn(stray, found.without_image)
        self.assertNotIn(kept, found.without_image)

    def take(self, seed: int = 1) -> str:
        return take_image(self.house.actor, portrait(seed), NOON).token

    def findings(self, picture: Pillow.Image) -> Iterator[str]:
        return (
            found
            for found, _ in take_image(self.house.actor, written(picture, "PNG"), NOON).findings
        )

    def test_faces_are_found_in_drawn_portraits_and_the_crop_fits(self) -> None:
        for seed in range(6):
            with self.subTest(seed):
                image = take_image(self.house.actor, portrait(seed), NOON)
                told = {finding for finding, _ in image.findings} - {Finding.TOO_SMALL}
                self.assertEqual(told, set())

    def test_what_is_wrong_with_a_picture_is_said(self) -> None:
        good = Pillow.open(io.BytesIO(portrait(3)))
        two = Pillow.new("RGB", (960, 600))
        two.paste(good, (0, 0))
        two.paste(good, (480, 0))
        self.assertIn(Finding.NO_FACE, self.findings(Pillow.new("RGB", (480, 600), "teal")))
        self.assertIn(Finding.SEVERAL_FACES, self.findings(two))
        self.assertIn(Finding.BLURRED, self.findings(good.filter(ImageFilter.GaussianBlur(9))))
        self.assertIn(Finding.TOO_DARK, self.findings(good.point(lambda value: value // 5)))
        self.assertIn(Finding.TOO_SMALL, self.findings(good.resize((160, 200))))

    def test_is_saved_with_the_file_and_the_former_one_is_kept(self) -> None:
        first, second = self.take(1), self.take(2)
        draft = self.house.draft(number="S-1")
        id_ = self.house.enrol(replace(draft, images=(first, None, None)))
        self.house.save(id_, replace(draft, images=(second, None, None), version=1))

        self.assertEqual(images_of([id_])[id_], (second, None, None))
        self.assertEqual(Image.objects.get(token=first).cardholder_id, id_)
        for size, most in SIZES.items():
            with Pillow.open(path_of(second, size)) as made:
                self.assertLessEqual(made.size, most)
        with self.assertRaises(Invalid) as caught:
            self.house.enrol(replace(draft, images=(second, None, None), cards=()))
        self.assertIn("photo.not_found", [problem.code for problem in caught.exception.problems])

    def test_another_crop_is_another_image_of_the_same_original(self) -> None:
        token = self.take()

        image = crop_image(self.house.actor, token, Box(10, 20, 200, 250), NOON)

        self.assertNotEqual(image.token, token)
        with Pillow.open(path_of(image.token, "print")) as made:
            self.assertEqual(made.size, (960, 1200))
        for crop in (Box(-5, 0, 100, 100), Box(0, 0, 9000, 100), Box(0, 0, 3, 3)):
            with self.subTest(crop), self.assertRaises(Invalid):
                crop_image(self.house.actor, token, crop, NOON)

    def test_what_was_never_saved_is_forgotten(self) -> None:
        token = self.take()

        forget_unsaved(NOON + DAY)
        self.assertTrue(path_of(token, "list").exists())
        forget_unsaved(NOON + 3 * DAY)

        self.assertFalse(path_of(token, "list").exists())
        self.assertFalse(Image.objects.exists())
