"""The focal length that a photograph tells of itself."""

from __future__ import annotations

import math
from pathlib import Path

from PIL import Image

_IFD, _OF_SMALL_FILM = 0x8769, 0xA405
_DIAGONAL_MM = math.hypot(36, 24)


def focal_px(path: Path, width: int, height: int) -> float | None:
    """Return a camera's focal length in pixels; None where the file does not tell.

    Parameters
    ----------
    width, height : int
        Of the whole picture, in pixels.

    References
    ----------
    Exif 2.32, FocalLengthIn35mmFilm.
    """
    try:
        with Image.open(path) as image:
            told = float(image.getexif().get_ifd(_IFD).get(_OF_SMALL_FILM, 0))
    except (OSError, ValueError, TypeError, SyntaxError, Image.DecompressionBombError):
        return None
    return told / _DIAGONAL_MM * math.hypot(width, height) if 5 <= told <= 1000 else None
