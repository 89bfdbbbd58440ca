"""Lettering and line drawings, made anew for every patch: what the lettering net learns from."""

from __future__ import annotations

import string
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw, ImageFont

FONTS = Path(__file__).parents[1] / "zinc_margin" / "fonts"
OVER = 4  # drawn so many times larger, then reduced: clean anti-aliased edges


def drawing(random: np.random.Generator, side: int) -> np.ndarray:
    """One drawing, (side, side) float32 from 0 to 1: text, rules, curves on a plain ground."""
    big = side * OVER
    paper, ink = random.uniform(0, 1, 2)
    if abs(paper - ink) < 0.35:
        paper, ink = (1.0, 0.0) if random.random() < 0.7 else (0.1, 0.9)
    image = Image.new("L", (big, big), int(paper * 255))
    pen = ImageDraw.Draw(image)
    if random.random() < 0.75:
        _lettering(random, pen, big, int(ink * 255))
    if random.random() < 0.6:
        _lines(random, pen, big, int(ink * 255))
    image = image.rotate(
        random.normal(0, 3) if random.random() < 0.4 else 0, fillcolor=int(paper * 255)
    )
    small = image.resize((side, side), Image.Resampling.BOX)
    return np.asarray(small, np.float32) / 255.0


def _lettering(random: np.random.Generator, pen: ImageDraw.ImageDraw, big: int, ink: int) -> None:
    faces = sorted(FONTS.glob("*.ttf")) + sorted(FONTS.glob("*.otf"))
    size = int(random.uniform(7, 40)) * OVER
    font = ImageFont.truetype(str(faces[random.integers(len(faces))]), size)
    letters = np.array(list(string.ascii_letters + string.digits + ",.;:!?&()/-+" + " " * 12))
    y = int(random.uniform(-0.5, 0.5) * size)
    while y < big:
        line = "".join(random.choice(letters, 60))
        pen.text((int(random.uniform(-30, 0) * OVER), y), line, ink, font)
        y += int(size * random.uniform(1.05, 1.6))


def _lines(random: np.random.Generator, pen: ImageDraw.ImageDraw, big: int, ink: int) -> None:
    for _ in range(random.integers(2, 8)):
        a, b = random.uniform(-0.2, 1.2, (2, 2)) * big
        width = int(random.uniform(0.6, 6) * OVER)
        box = (*np.minimum(a, b), *np.maximum(a, b))
        shape = random.integers(4)
        if shape == 0:
            pen.ellipse(box, outline=ink, width=width)
        elif shape == 1:
            pen.rectangle(box, outline=ink, width=width)
        elif shape == 2:
            pen.polygon([tuple(p) for p in random.uniform(0, 1, (3, 2)) * big], fill=ink)
        else:
            pen.line((*a, *b), ink, width)


def grating(random: np.random.Generator, side: int) -> np.ndarray:
    """Even waves at any angle, (side, side) float32, 0 to 1: repeats must stay what they are."""
    y, x = np.mgrid[:side, :side].astype(np.float32)
    angle, period = random.uniform(0, np.pi), random.uniform(4.5, 24)
    along = x * np.cos(angle) + y * np.sin(angle)
    if random.random() < 0.4:  # upright or level, as the worst of them are
        along = x if random.random() < 0.5 else y
    swing = random.uniform(0.05, 0.4)
    wave = 0.5 + swing * np.sin(2 * np.pi * along / period + random.uniform(0, 6.3))
    return np.asarray(np.clip(wave + random.uniform(-0.1, 0.1), 0, 1), np.float32)
