"""Finished pages in bands: the print on its sheet, or one piece of it.

Every pixel depends on its position alone, so bands, regions and pieces agree exactly.
"""

from __future__ import annotations

from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.around import Sides
from zinc_margin.pixels.drawing import Drawing
from zinc_margin.pixels.page import Rendered
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.finish.page import Piece, Sheet
from zinc_margin.plan.model import PrintPlan

_INK = 0.12


def page_of(
    photo: Photo, plan: PrintPlan, threads: int | None = None, bits: int | None = None
) -> Rendered:
    """Return the renderer of a plan's file: the print, its sheet, or one piece of it.

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
        self._drawing = Drawing(
            photo, self.dtype, sheet.tone, sheet.marks, sheet.words, sheet.overlay
        )
        self._sides = None
        if sheet.around is not None:
            self._sides = Sides(sheet.around, inner, photo.colour)

    def region(self, left: int, top: int, width: int, height: int, job: Job = IDLE) -> Codes:
        """Return part of the sheet; the same bits however it is divided."""
        out = self._drawing.paper(height, width)
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
        self._drawing.onto(out, left, top)
        return out


class _Piece(Rendered):
    """One piece of a large print on its own sheet."""

    def __init__(self, photo: Photo, piece: Piece, whole: Rendered) -> None:
        self._piece, self._whole = piece, whole
        self.dtype = whole.dtype
        self.shape = (piece.page.height, piece.page.width, whole.shape[2])
        self._drawing = Drawing(photo, self.dtype, "#ffffff", piece.marks, piece.words)

    def region(self, left: int, top: int, width: int, height: int, job: Job = IDLE) -> Codes:
        """Return part of the piece's sheet."""
        out = self._drawing.paper(height, width)
        piece = self._piece
        from_x, from_y, wide, high = piece.part
        x0, x1 = max(left, piece.left), min(left + width, piece.left + wide)
        y0, y1 = max(top, piece.top), min(top + height, piece.top + high)
        if x0 < x1 and y0 < y1:
            part = self._whole.region(
                from_x + x0 - piece.left, from_y + y0 - piece.top, x1 - x0, y1 - y0, job
            )
            out[y0 - top : y1 - top, x0 - left : x1 - left] = part
        self._drawing.onto(out, left, top)
        return out
