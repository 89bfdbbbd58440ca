"""Words drawn into pictures, in the fonts that ship with the program."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from zinc_margin.fonts import FACES, font_file


@lru_cache(maxsize=32)
def _font(face: str, size: int) -> ImageFont.FreeTypeFont:
    return ImageFont.truetype(str(font_file(FACES[face])), size)


def written(words: str, height: int, face: str = "sans", widest: int | None = None) -> np.ndarray:
    """Return words as ink.

    Parameters
    ----------
    height : int
        Of a line, in pixels.
    face : str
        ``serif`` or ``sans``.
    widest : int, optional
        Longer words are cut, and end in an ellipsis.

    Returns
    -------
    ndarray (height, W), float32
        0 to 1.
    """
    font = _font(face, max(4, round(height * 0.78)))
    if widest is not None and font.getlength(words) > widest:
        while words and font.getlength(words + "…") > widest:
            words = words[:-1]
        words = words.rstrip() + "…"
    width = max(1, int(np.ceil(font.getlength(words))) + 2)
    image = Image.new("L", (width, height), 0)
    ImageDraw.Draw(image).text((1, height * 0.76), words, 255, font, anchor="ls")
    return np.asarray(image, np.float32) / 255
