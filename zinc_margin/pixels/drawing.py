"""Draw paper, lines, lettering and overlays on finished pages."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont

from zinc_margin.fonts import FACES, font_file
from zinc_margin.gate.files import check_is_file
from zinc_margin.measure.errors import BadRequest
from zinc_margin.photo.arrays import Codes, Plane
from zinc_margin.photo.colour import codes_of, srgb, transform
from zinc_margin.photo.pixels import Photo
from zinc_margin.plan.finish.page import Overlay, Rule, Words


class Drawing:
    """Paper, lines and lettering in a photo's colour space."""

    def __init__(
        self,
        photo: Photo,
        dtype: np.dtype,
        tone: str,
        marks: Sequence[Rule],
        words: Sequence[Words],
        overlay: Overlay | None = None,
    ) -> None:
        self._most = int(np.iinfo(dtype).max)
        self._dtype, self._colour = dtype, photo.colour
        self._overlay = None if overlay is None else _place_overlay(overlay, photo, self._most)
        lines = [(*_typeset(line), line.tone) for line in words]
        self._words = [(ink, x, y, self._codes(colour)) for ink, x, y, colour in lines]
        self._marks = [(rule.box, self._codes(rule.tone)) for rule in marks]
        self._paper = self._codes(tone)

    def _codes(self, tone: str) -> np.ndarray:
        return np.rint(codes_of(tone, self._colour) * self._most).astype(self._dtype)

    def paper(self, height: int, width: int) -> Codes:
        """Return empty paper."""
        out = np.empty((height, width, len(self._paper)), self._dtype)
        out[:] = self._paper
        return out

    def onto(self, out: Codes, left: int, top: int) -> None:
        """Draw onto a region whose corner is at (left, top).

        Parameters
        ----------
        out : ndarray
            (H, W, C), written in place.
        """
        for (x, y, wide, high), codes in self._marks:
            _window(out, x - left, y - top, wide, high)[:] = codes
        for ink, x, y, codes in self._words:
            _mix(out, x - left, y - top, codes.astype(np.float32), ink)
        if self._overlay is not None:
            codes, alpha, x, y = self._overlay
            _mix(out, x - left, y - top, codes, alpha)


def _mix(out: Codes, x: int, y: int, codes: Plane, share: Plane) -> None:
    """Blend colour `codes`, (C,) or (H, W, C), into an array by weights `share` (H, W)."""
    part = _window(out, x, y, share.shape[1], share.shape[0])
    if not part.size:
        return
    here = (
        slice(max(0, -y), max(0, -y) + part.shape[0]),
        slice(max(0, -x), max(0, -x) + part.shape[1]),
    )
    ink = codes if codes.ndim == 1 else codes[here]
    part[:] = np.rint(part + share[here][..., None] * (ink - part)).astype(out.dtype)


def _window(out: Codes, x: int, y: int, wide: int, high: int) -> np.ndarray:
    """Return the part of a rectangle inside an array, as a view."""
    return out[max(0, y) : max(0, y + high), max(0, x) : max(0, x + wide)]


def _place_overlay(
    overlay: Overlay, photo: Photo, most: int
) -> tuple[np.ndarray, np.ndarray, int, int]:
    """Return an overlay in a photo's colours (H, W, C), its opacity (H, W), and its place.

    Raises
    ------
    BadRequest
        If its file is unreadable.
    """
    try:
        check_is_file(Path(overlay.path))
        with Image.open(overlay.path) as image:
            image.draft("RGB", (overlay.box[2], overlay.box[3]))
            image.thumbnail((overlay.box[2], overlay.box[3]), Image.Resampling.LANCZOS)
            rgba = np.asarray(image.convert("RGBA"), np.uint8)
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise BadRequest(
            f"The watermark {overlay.path} could not be read. Choose another one."
        ) from None
    left, top, wide, high = overlay.box
    x = left + round((wide - rgba.shape[1]) * overlay.across)
    y = top + round((high - rgba.shape[0]) * overlay.down)
    codes = transform(rgba[..., :3], srgb().profiled, photo.colour.profiled)
    alpha = rgba[..., 3].astype(np.float32) / 255 * np.float32(overlay.strength)
    return codes.astype(np.float32) * np.float32(most / 65535), alpha, x, y


def _typeset(line: Words) -> tuple[np.ndarray, int, int]:
    """Return a line's ink and its position."""
    left, top, wide, high = line.box
    ink = ink_of(line.text, high, line.face, wide) * np.float32(line.strength)
    free = wide - ink.shape[1]
    return ink, left + {"left": 0, "centre": free // 2, "right": free}[line.lies], top


_CONTROL = re.compile("[\x00-\x1f\x7f-\x9f\ud800-\udfff]")
"""What the layout library refuses: line breaks, other controls, bytes that are no text."""


@lru_cache(maxsize=32)
def _font(face: str, size: int) -> ImageFont.FreeTypeFont:
    return ImageFont.truetype(str(font_file(FACES[face])), size)


def ink_of(
    words: str, height: int, face: str = "sans", widest: int | None = None
) -> NDArray[np.float32]:
    """Return text as ink.

    Parameters
    ----------
    height : int
        Height of the line, in pixels.
    face : str
        ``serif`` or ``sans``.
    widest : int, optional
        Longer text is cut and ends in an ellipsis.

    Returns
    -------
    ndarray (height, W), float32
        0 to 1.
    """
    words = _CONTROL.sub(" ", words)
    font = _font(face, max(4, round(height * 0.78)))
    if widest is not None and font.getlength(words) > widest:
        while words and font.getlength(words + "…") > widest:
            words = words[:-1]
        words = words.rstrip() + "…"
    width = max(1, int(np.ceil(font.getlength(words))) + 2)
    image = Image.new("L", (width, height), 0)
    ImageDraw.Draw(image).text((1, height * 0.76), words, 255, font, anchor="ls")
    return np.asarray(image, np.float32) / np.float32(255)
