"""Pictures for the made-up logbook, painted here so that nobody's animal is shown."""

from __future__ import annotations

import io
from typing import Literal

from PIL import Image, ImageDraw, ImageFilter

SIZE = (960, 720)
Name = Literal["lizard", "scales", "shed"]


def picture(name: str) -> bytes:
    """One of them as PNG; KeyError for any other name."""
    image = Image.new("RGB", SIZE, "#cdb68f")
    {"lizard": _lizard, "scales": _scales, "shed": _shed}[name](ImageDraw.Draw(image))
    out = io.BytesIO()
    image.filter(ImageFilter.GaussianBlur(1.5)).save(out, "PNG")
    return out.getvalue()


def _ground(draw: ImageDraw.ImageDraw, colour: str) -> None:
    draw.rectangle((0, 430, *SIZE), fill=colour)
    for i in range(420):
        x, y = (i * 271) % SIZE[0], 440 + (i * 137) % 280
        draw.ellipse((x, y, x + 4, y + 3), fill="#8d7550")


def _lizard(draw: ImageDraw.ImageDraw) -> None:
    _ground(draw, "#a98a5b")
    draw.rounded_rectangle((520, 300, 900, 600), 40, fill="#5d5148")
    draw.line([(90, 560), (230, 520), (340, 500)], fill="#7f7a4a", width=20, joint="curve")
    draw.ellipse((310, 440, 600, 540), fill="#86824e")
    draw.ellipse((560, 430, 690, 515), fill="#8f8a55")
    for x in (350, 540):
        draw.line([(x, 520), (x - 30, 590), (x + 20, 610)], fill="#7f7a4a", width=18, joint="curve")
    draw.arc((540, 420, 610, 530), 100, 260, fill="#26241d", width=12)
    draw.ellipse((640, 452, 654, 466), fill="#171510")


def _scales(draw: ImageDraw.ImageDraw) -> None:
    draw.rectangle((0, 0, *SIZE), fill="#d9dcd6")
    draw.rounded_rectangle((180, 360, 780, 640), 30, fill="#9aa3a0")
    draw.rounded_rectangle((380, 540, 580, 610), 10, fill="#2d3a34")
    for i in range(4):
        draw.rectangle((410 + 42 * i, 556, 430 + 42 * i, 594), fill="#a8d9b0")
    draw.ellipse((260, 200, 700, 420), fill="#f2efe6", outline="#b9b4a4", width=6)
    draw.ellipse((380, 270, 600, 340), fill="#86824e")
    draw.ellipse((575, 265, 660, 325), fill="#8f8a55")


def _shed(draw: ImageDraw.ImageDraw) -> None:
    _ground(draw, "#7d6a4d")
    course = [(80, 620), (240, 500), (420, 600), (600, 470), (800, 560), (900, 480)]
    draw.line(course, fill="#e9e2d0", width=46, joint="curve")
    draw.line(course, fill="#cfc6ad", width=6, joint="curve")
