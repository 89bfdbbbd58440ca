"""Several prints on one page, in bands, in one colour space."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.colour import Colour, as_sixteen, transform
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.drawing import Drawing
from zinc_margin.pixels.page import Rendered
from zinc_margin.pixels.sheets import page_of
from zinc_margin.plan.finish.shared_sheet import SharedSheet as Layout


def common_colour(photos: Sequence[Photo]) -> Photo:
    """Return the photo whose colour space the page has: the first in colour, else the first."""
    return next((photo for photo in photos if not photo.colour.grey), photos[0])


class Turned(Rendered):
    """A print rotated by 90° to the left.

    Parameters
    ----------
    inner : Rendered
        The upright print.
    """

    def __init__(self, inner: Rendered) -> None:
        self._inner = inner
        self.dtype = inner.dtype
        high, wide, channels = inner.shape
        self.shape = (wide, high, channels)

    def region(self, left: int, top: int, width: int, height: int, job: Job = IDLE) -> Codes:
        """Return a region: the same pixels as in the upright print."""
        # Its rows are the upright print's columns, from the right.
        part = self._inner.region(self.shape[0] - top - height, left, height, width, job)
        return np.rot90(part)


class Together(Rendered):
    """A page of prints.

    Parameters
    ----------
    photos : sequence of Photo
        Photos in the layout's order.
    bits : int
        8 or 16.
    """

    def __init__(self, photos: Sequence[Photo], layout: Layout, bits: int) -> None:
        self._layout = layout
        first = common_colour(photos)
        self.colour = first.colour
        self.dtype = np.dtype(np.uint8 if bits == 8 else np.uint16)
        channels = 1 if self.colour.grey else 3
        self.shape = (layout.page.height, layout.page.width, channels)
        of_plan = {  # copies share one renderer
            id(cell.plan): page_of(photos[cell.which], cell.plan) for cell in layout.cells
        }
        self._pages = [
            Turned(of_plan[id(cell.plan)]) if cell.turned else of_plan[id(cell.plan)]
            for cell in layout.cells
        ]
        self._colours = [photos[cell.which].colour for cell in layout.cells]
        self._drawn = Drawing(first, self.dtype, "#ffffff", layout.marks, layout.words)

    def region(self, left: int, top: int, width: int, height: int, job: Job = IDLE) -> Codes:
        """Return part of the page."""
        out = self._drawn.paper(height, width)
        for cell, rendered, colour in zip(
            self._layout.cells, self._pages, self._colours, strict=True
        ):
            high, wide, _ = rendered.shape
            x0, x1 = max(left, cell.left), min(left + width, cell.left + wide)
            y0, y1 = max(top, cell.top), min(top + height, cell.top + high)
            if x0 < x1 and y0 < y1:
                part = rendered.region(x0 - cell.left, y0 - cell.top, x1 - x0, y1 - y0, job)
                shown = convert(part, colour, self.colour, self.dtype)
                out[y0 - top : y1 - top, x0 - left : x1 - left] = shown
        self._drawn.onto(out, left, top)
        return out


def convert(codes: Codes, own: Colour, goal: Colour, dtype: np.dtype) -> Codes:
    """Convert samples (H, W, C) between colour spaces in 16 bits with Little CMS.

    Relative colorimetric, with black-point compensation.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    own : Colour
        The photo's colour space.
    dtype : dtype
        uint8 or uint16.
    """
    if own.icc != goal.icc:
        codes = transform(codes, own.profiled, goal.profiled, black_point=True)
    if codes.dtype == dtype:
        return codes
    if dtype == np.uint8:
        return ((codes.astype(np.uint32) + 128) // 257).astype(np.uint8)
    return as_sixteen(codes)
