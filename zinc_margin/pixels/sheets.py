"""Finished pages in bands: the print on its sheet with what lies round it, or one piece of it.

Every pixel depends on its place alone, so bands, regions and pieces agree to the bit.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PIL import Image

from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.errors import BadRequest
from zinc_margin.photo.colour import codes_of, srgb, transformed
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.around import Sides
from zinc_margin.pixels.lettering import written
from zinc_margin.pixels.render import Renderer
from zinc_margin.pixels.rendered import Rendered
from zinc_margin.plan.finish.page import Overlay, Piece, Rule, Sheet, Words
from zinc_margin.plan.model import PrintPlan

_INK = 0.12


def page_of(
    photo: Photo, plan: PrintPlan, threads: int | None = None, bits: int | None = None
) -> Rendered:
    """Return what renders a plan's file: the print, its sheet, or the piece that is cut from it.

    Parameters
    ----------
    threads : int or None
        All processors by default.
    bits : int or None
        8 or 16; the plan's by default.
    """
    inner: Rendered = Renderer(photo, plan, threads, bits)
    if plan.sheet is not None:
        inner = _Sheet(photo, plan.sheet, inner)
    if plan.cut is not None:
        inner = _Piece(photo, plan.cut, inner)
    return inner


class _Sheet(Rendered):
    """The print on its sheet."""

    def __init__(self, photo: Photo, sheet: Sheet, inner: Rendered) -> None:
        self._sheet, self._inner = sheet, inner
        self.dtype = inner.dtype
        self._print = inner.shape[:2]
        self.shape = (sheet.page.height, sheet.page.width, inner.shape[2])
        self._drawn = Drawn(photo, self.dtype, sheet.tone, sheet.marks, sheet.words, sheet.overlay)
        self._sides = None
        if sheet.around is not None:
            self._sides = Sides(sheet.around, inner, photo.colour)

    def region(self, left: int, top: int, width: int, height: int, job: Job = IDLE) -> np.ndarray:
        """Return part of the sheet; the same to the bit however it is divided."""
        out = self._drawn.paper(height, width)
        sheet, (print_h, print_w) = self._sheet, self._print
        inner = self._inner if self._sides is None else self._sides
        reach = (0, 0) if sheet.around is None else (sheet.around.across, sheet.around.down)
        x0 = max(left, sheet.left - reach[0])
        x1 = min(left + width, sheet.left + print_w + reach[0])
        y0 = max(top, sheet.top - reach[1])
        y1 = min(top + height, sheet.top + print_h + reach[1])
        if x0 < x1 and y0 < y1:
            part = inner.region(x0 - sheet.left, y0 - sheet.top, x1 - x0, y1 - y0, job)
            out[y0 - top : y1 - top, x0 - left : x1 - left] = part
        self._drawn.onto(out, left, top)
        return out


class _Piece(Rendered):
    """One piece of a whole on a sheet of its own."""

    def __init__(self, photo: Photo, piece: Piece, whole: Rendered) -> None:
        self._piece, self._whole = piece, whole
        self.dtype = whole.dtype
        self.shape = (piece.page.height, piece.page.width, whole.shape[2])
        self._drawn = Drawn(photo, self.dtype, "#ffffff", piece.marks, piece.words)

    def region(self, left: int, top: int, width: int, height: int, job: Job = IDLE) -> np.ndarray:
        """Return part of the piece's sheet."""
        out = self._drawn.paper(height, width)
        piece = self._piece
        from_x, from_y, wide, high = piece.part
        x0, x1 = max(left, piece.left), min(left + width, piece.left + wide)
        y0, y1 = max(top, piece.top), min(top + height, piece.top + high)
        if x0 < x1 and y0 < y1:
            part = self._whole.region(
                from_x + x0 - piece.left, from_y + y0 - piece.top, x1 - x0, y1 - y0, job
            )
            out[y0 - top : y1 - top, x0 - left : x1 - left] = part
        self._drawn.onto(out, left, top)
        return out


class Drawn:
    """Paper, lines and lettering in a photo's own codes."""

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
        self._paper = self._codes(tone)
        self._marks = [(rule.box, self._codes(rule.tone)) for rule in marks]
        self._words = [
            (ink * np.float32(line.strength), x, y, self._codes(line.tone))
            for line in words
            for ink, x, y in (_set(line),)
        ]
        self._overlay = None if overlay is None else _laid(overlay, photo, self._most)

    def _codes(self, tone: str) -> np.ndarray:
        return np.rint(codes_of(tone, self._colour) * self._most).astype(self._dtype)

    def paper(self, height: int, width: int) -> np.ndarray:
        """Return empty paper.

        Parameters
        ----------
        height, width : int
            In pixels.
        """
        out = np.empty((height, width, len(self._paper)), self._dtype)
        out[:] = self._paper
        return out

    def onto(self, out: np.ndarray, left: int, top: int) -> None:
        """Draw what falls into a region whose corner lies at (left, top).

        Parameters
        ----------
        out : ndarray
            (H, W, C), written in place.
        left, top : int
            In pixels.
        """
        for (x, y, wide, high), codes in self._marks:
            _window(out, x - left, y - top, wide, high)[:] = codes
        for ink, x, y, codes in self._words:
            part = _window(out, x - left, y - top, ink.shape[1], ink.shape[0])
            if part.size:
                share = ink[
                    max(0, top - y) : max(0, top - y) + part.shape[0],
                    max(0, left - x) : max(0, left - x) + part.shape[1],
                    None,
                ]
                mixed = part + share * (codes.astype(np.float32) - part)
                part[:] = np.rint(mixed).astype(out.dtype)
        if self._overlay is not None:
            codes, alpha, x, y = self._overlay
            part = _window(out, x - left, y - top, codes.shape[1], codes.shape[0])
            if part.size:
                here = (
                    slice(max(0, top - y), max(0, top - y) + part.shape[0]),
                    slice(max(0, left - x), max(0, left - x) + part.shape[1]),
                )
                mixed = part + alpha[here][..., None] * (codes[here] - part)
                part[:] = np.rint(mixed).astype(out.dtype)


def _window(out: np.ndarray, x: int, y: int, wide: int, high: int) -> np.ndarray:
    """Return what of a rectangle lies in an array, as a view."""
    return out[max(0, y) : max(0, y + high), max(0, x) : max(0, x + wide)]


def _laid(overlay: Overlay, photo: Photo, most: int) -> tuple[np.ndarray, np.ndarray, int, int]:
    """Return an overlay in a photo's own codes (H, W, C), its cover (H, W), and its place.

    Raises
    ------
    BadRequest
        When its file cannot be read.
    """
    try:
        with Image.open(overlay.path) as image:
            image.draft("RGB", (overlay.box[2], overlay.box[3]))
            image.thumbnail((overlay.box[2], overlay.box[3]), Image.Resampling.LANCZOS)
            rgba = np.asarray(image.convert("RGBA"), np.uint8)
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise BadRequest(
            f"The mark {overlay.path} could not be read; choose another picture."
        ) from None
    left, top, wide, high = overlay.box
    x = left + round((wide - rgba.shape[1]) * overlay.across)
    y = top + round((high - rgba.shape[0]) * overlay.down)
    codes = transformed(rgba[..., :3], srgb().profiled, photo.colour.profiled)
    alpha = rgba[..., 3].astype(np.float32) / 255 * np.float32(overlay.strength)
    return codes.astype(np.float32) * np.float32(most / 65535), alpha, x, y


def _set(line: Words) -> tuple[np.ndarray, int, int]:
    """Return a line's ink, and where it lies."""
    left, top, wide, high = line.box
    ink = written(line.text, high, line.face, wide)
    free = wide - ink.shape[1]
    return ink, left + {"left": 0, "centre": free // 2, "right": free}[line.lies], top
