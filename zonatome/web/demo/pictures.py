"""Made-up photos for the sample workroom: drawn, since it has no camera."""

from __future__ import annotations

import io
import math
import random

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image, ImageDraw, ImageFilter

WIDTH = 1200
HEIGHT = 900
WOOD = (150, 108, 66)
WOOD_DARK = (112, 78, 46)
STEEL = (196, 198, 200)
CARD = (222, 214, 194)
CLOTHS = ((64, 92, 110), (120, 60, 52), (98, 110, 74), (132, 110, 74))


def picture_of(words: str, seed: int) -> SimpleUploadedFile:
    """Return a drawn photo: a whole chair, a corner, a strip on a rail, or worn cloth, by what the words say."""
    chance = random.Random(seed)
    picture = Image.new("RGB", (WIDTH, HEIGHT), (70, 66, 60))
    draw = ImageDraw.Draw(picture)
    cloth = CLOTHS[seed % len(CLOTHS)]
    if "whole" in words:
        _chair(draw, cloth)
    elif "strip" in words:
        _rail(draw, cloth, chance, card="card" in words)
    elif "corner" in words:
        _corner(draw, cloth)
    else:
        _worn(draw, cloth, chance)
    picture = picture.filter(ImageFilter.GaussianBlur(1.4))
    grain = Image.effect_noise((WIDTH, HEIGHT), 26).convert("RGB")
    content = io.BytesIO()
    Image.blend(picture, grain, 0.13).save(content, "JPEG", quality=84)
    return SimpleUploadedFile("photo.jpg", content.getvalue(), content_type="image/jpeg")


def _shade(colour: tuple[int, int, int], by: float) -> tuple[int, int, int]:
    return tuple(max(0, min(255, round(c * by))) for c in colour)  # type: ignore[return-value]


def _chair(draw: ImageDraw.ImageDraw, cloth: tuple[int, int, int]) -> None:
    draw.rectangle((0, 690, WIDTH, HEIGHT), fill=(96, 84, 70))
    draw.polygon([(400, 110), (800, 110), (830, 520), (370, 520)], fill=cloth)
    for side in (-1, 1):
        x = 600 + side * 250
        draw.polygon(
            [(600 + side * 200, 130), (x + side * 40, 200), (x + side * 30, 470), (600 + side * 230, 500)],
            fill=_shade(cloth, 0.75),
        )
        draw.rectangle((min(x, x + side * 70), 470, max(x, x + side * 70), 680), fill=_shade(cloth, 0.85))
        draw.rectangle((x - 14, 680, x + 14, 770), fill=WOOD_DARK)
    draw.polygon([(370, 500), (830, 500), (850, 600), (350, 600)], fill=_shade(cloth, 1.2))
    draw.rectangle((350, 600, 850, 690), fill=_shade(cloth, 0.92))


def _rail(draw: ImageDraw.ImageDraw, cloth: tuple[int, int, int], chance: random.Random, *, card: bool) -> None:
    draw.rectangle((0, 300, WIDTH, 640), fill=WOOD)
    for n in range(9):
        y = 300 + n * 38 + chance.randint(-8, 8)
        draw.line([(x, y + 7 * math.sin(x / 140 + n)) for x in range(0, WIDTH, 20)], fill=WOOD_DARK, width=2)
    draw.rectangle((0, 0, WIDTH, 320), fill=cloth)
    draw.rectangle((0, 340, WIDTH, 396), fill=CARD if card else STEEL)
    for x in range(40, WIDTH, 74):
        at = x + chance.randint(-6, 6)
        if card:
            draw.line((at, 366, at + 34, 368), fill=STEEL, width=6)
        else:
            draw.polygon([(at, 396), (at + 12, 396), (at + 6, 442)], fill=_shade(STEEL, 0.8))
    draw.rectangle((0, 640, WIDTH, HEIGHT), fill=_shade(cloth, 0.55))


def _corner(draw: ImageDraw.ImageDraw, cloth: tuple[int, int, int]) -> None:
    draw.polygon([(0, 260), (760, 200), (900, 900), (0, 900)], fill=cloth)
    draw.polygon([(760, 200), (1200, 330), (1200, 900), (900, 900)], fill=_shade(cloth, 0.7))
    draw.polygon([(560, 560), (830, 470), (905, 900), (640, 900)], fill=_shade(cloth, 1.25))
    draw.line((560, 560, 640, 900), fill=_shade(cloth, 0.5), width=7)
    for n in range(4):
        draw.line((690 + n * 40, 830 - n * 12, 720 + n * 40, 824 - n * 12), fill=STEEL, width=7)


def _worn(draw: ImageDraw.ImageDraw, cloth: tuple[int, int, int], chance: random.Random) -> None:
    draw.rectangle((0, 0, WIDTH, HEIGHT), fill=cloth)
    for _ in range(900):
        x, y = chance.gauss(600, 170), chance.gauss(430, 120)
        draw.line(
            (x, y, x + chance.randint(-30, 30), y + chance.randint(8, 30)),
            fill=_shade(CARD, chance.uniform(0.7, 1)),
            width=2,
        )
    draw.line([(0, 700), (WIDTH, 660)], fill=_shade(cloth, 0.6), width=16)
