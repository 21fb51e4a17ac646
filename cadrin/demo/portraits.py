"""Portraits of the demo, drawn from a seed: nobody has ever looked like this."""

import io
from random import Random
from typing import NamedTuple

from PIL import Image, ImageChops, ImageDraw, ImageFilter

WIDTH, HEIGHT = 480, 600
Colour = tuple[int, int, int]
SKINS: tuple[Colour, ...] = (
    (245, 216, 194),
    (233, 194, 165),
    (214, 166, 130),
    (178, 126, 92),
    (139, 94, 66),
    (98, 66, 48),
)
HAIRS: tuple[Colour, ...] = (
    (30, 24, 22),
    (62, 42, 30),
    (112, 76, 46),
    (178, 138, 84),
    (140, 70, 38),
    (168, 166, 164),
)
CLOTHES: tuple[Colour, ...] = (
    (44, 58, 92),
    (70, 76, 84),
    (118, 44, 50),
    (36, 84, 76),
    (92, 70, 108),
    (188, 190, 196),
)
WALLS: tuple[Colour, ...] = ((222, 228, 234), (236, 235, 231), (208, 220, 228))


class _Look(NamedTuple):
    skin: Colour
    hair: Colour
    clothes: Colour
    wall: Colour
    face_width: float
    face_height: float
    eyes_apart: float
    has_beard: bool
    has_long_hair: bool
    has_glasses: bool
    light_from_left: bool


def portrait(seed: int) -> bytes:
    """Draw somebody, the same every time, as a JPEG."""
    random = Random(seed)  # noqa: S311 - the demo must be the same every time
    look = _Look(
        random.choice(SKINS),
        random.choice(HAIRS),
        random.choice(CLOTHES),
        random.choice(WALLS),
        random.uniform(92, 108),
        random.uniform(128, 142),
        random.uniform(38, 44),
        random.random() < 0.2,
        random.random() < 0.45,
        random.random() < 0.25,
        random.random() < 0.5,
    )
    picture = _drawn(look, random)
    file = io.BytesIO()
    picture.save(file, "JPEG", quality=88)
    return file.getvalue()


def _shade(colour: Colour, by: float) -> Colour:
    red, green, blue = (max(0, min(255, round(part * by))) for part in colour)
    return red, green, blue


def _oval(
    draw: ImageDraw.ImageDraw, x: float, y: float, wide: float, tall: float, fill: Colour
) -> None:
    draw.ellipse((x - wide, y - tall, x + wide, y + tall), fill=fill)


def _drawn(look: _Look, random: Random) -> Image.Image:
    picture = Image.new("RGB", (WIDTH, HEIGHT), look.wall)
    draw = ImageDraw.Draw(picture)
    x, y = WIDTH / 2, 270.0
    wide, tall = look.face_width, look.face_height
    if look.has_long_hair:
        _oval(draw, x, y + 30, wide + 34, tall + 60, look.hair)
    draw.rounded_rectangle((x - 200, y + tall + 62, x + 200, HEIGHT + 60), 90, fill=look.clothes)
    draw.rectangle((x - 44, y + tall - 50, x + 44, y + tall + 80), fill=_shade(look.skin, 0.82))
    _oval(draw, x, y - 34, wide + 16, tall - 4, look.hair)
    for side in (-1, 1):
        _oval(draw, x + side * (wide + 2), y + 8, 14, 26, _shade(look.skin, 0.9))
    _oval(draw, x, y, wide, tall, look.skin)
    if look.has_beard:
        _beard(picture, look, x, y)
    _soften(picture, look, x, y)
    draw = ImageDraw.Draw(picture)
    _hairline(draw, look, x, y)
    _features(draw, look, x, y - 4, random)
    return picture.filter(ImageFilter.GaussianBlur(0.8))


def _beard(picture: Image.Image, look: _Look, x: float, y: float) -> None:
    mask = Image.new("L", picture.size, 0)
    draw = ImageDraw.Draw(mask)
    draw.ellipse(
        (x - look.face_width, y - look.face_height, x + look.face_width, y + look.face_height),
        fill=255,
    )
    upper = Image.new("L", picture.size, 255)
    ImageDraw.Draw(upper).ellipse(
        (x - look.face_width + 8, y - 150, x + look.face_width - 8, y + 62), fill=0
    )
    mask = ImageChops.multiply(mask, upper)
    ImageDraw.Draw(mask).rectangle((0, 0, WIDTH, y + 20), fill=0)
    picture.paste(look.hair, mask=mask.point(lambda value: round(value * 0.8)))


def _soften(picture: Image.Image, look: _Look, x: float, y: float) -> None:
    """Let light fall on the face from one side, and round it off."""
    shadow = Image.new("L", picture.size, 0)
    draw = ImageDraw.Draw(shadow)
    side = 1 if look.light_from_left else -1
    draw.ellipse((x - look.face_width, y - 142, x + look.face_width, y + 142), fill=110)
    draw.ellipse(
        (x - look.face_width - side * 26, y - 140, x + look.face_width - side * 26, y + 128), fill=0
    )
    for eye in (-1, 1):
        at = x + eye * look.eyes_apart
        draw.ellipse((at - 26, y - 34, at + 26, y + 4), fill=46)
    draw.ellipse((x - 18, y + 18, x + 18, y + 52), fill=40)
    picture.paste(_shade(look.skin, 0.5), mask=shadow.filter(ImageFilter.GaussianBlur(14)))


def _hairline(draw: ImageDraw.ImageDraw, look: _Look, x: float, y: float) -> None:
    draw.chord(
        (x - look.face_width - 8, y - look.face_height - 26, x + look.face_width + 8, y + 70),
        192,
        348,
        fill=look.hair,
    )


def _features(draw: ImageDraw.ImageDraw, look: _Look, x: float, y: float, random: Random) -> None:
    dark = _shade(look.skin, 0.55)
    iris = random.choice(((70, 46, 30), (84, 116, 140), (92, 104, 62)))
    for side in (-1, 1):
        at = x + side * look.eyes_apart
        draw.line(
            (at - 22, y - 30 - side, at + 22, y - 30 + side), fill=_shade(look.hair, 0.8), width=8
        )
        _oval(draw, at, y - 6, 19, 10, (246, 244, 240))
        _oval(draw, at, y - 6, 9, 9, iris)
        _oval(draw, at, y - 6, 4, 4, (12, 10, 10))
        _oval(draw, at - 3, y - 9, 2, 2, (255, 255, 255))
        draw.arc((at - 21, y - 20, at + 21, y + 6), 185, 355, fill=_shade(look.skin, 0.35), width=4)
        if look.has_glasses:
            draw.rounded_rectangle(
                (at - 32, y - 26, at + 32, y + 18), 14, outline=(40, 38, 44), width=4
            )
    if look.has_glasses:
        draw.line((x - 10, y - 8, x + 10, y - 8), fill=(40, 38, 44), width=4)
    draw.line((x - 7, y - 8, x - 13, y + 34), fill=_shade(look.skin, 0.82), width=5)
    draw.arc((x - 20, y + 26, x + 20, y + 50), 20, 160, fill=dark, width=5)
    for side in (-1, 1):
        _oval(draw, x + side * 11, y + 43, 4, 3, _shade(look.skin, 0.4))
    lips = _shade((196, 98, 92), 0.55 + sum(look.skin) / 1500)
    draw.chord((x - 36, y + 66, x + 36, y + 98), 0, 180, fill=lips)
    draw.chord((x - 36, y + 72, x + 36, y + 92), 180, 360, fill=_shade(lips, 0.85))
    draw.line((x - 34, y + 82, x + 34, y + 82), fill=_shade(lips, 0.55), width=3)
