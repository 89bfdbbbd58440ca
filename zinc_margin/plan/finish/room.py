"""The space that a sheet leaves for the picture."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.finish import FinishLine, Margins
from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.words import pair
from zinc_margin.plan.finish.page import Page
from zinc_margin.plan.finish.sides import beyond_mm
from zinc_margin.plan.size.hidden_edges import overspill_of
from zinc_margin.plan.size.orientation import lies_upright

_ZERO = Fraction(0)


def paper_for(line: FinishLine, width: int, height: int) -> PrintSize | None:
    """Return the paper, oriented for a picture of this shape, or None."""
    if line.sheet is None:
        return None
    lies = "across" if line.turned else "auto"
    return lies_upright(width, height, line.sheet, lies)


def room_for(line: FinishLine, size_line: SizeLine, width: int, height: int) -> PrintSize | None:
    """Return the picture's size on its sheet; None if it keeps its own.

    Parameters
    ----------
    size_line : SizeLine
        Provides the borderless overspill.
    width, height : int
        Shape of the picture.

    Raises
    ------
    BadRequest
        If margins and sides leave no space.
    """
    paper = paper_for(line, width, height)
    if paper is None or not line.scales:
        return None
    keep = line.margins or Margins(_ZERO, _ZERO, _ZERO, _ZERO)
    around = 2 * (beyond_mm(line, overspill_of(size_line, paper)) + line.staple_mm)
    wide = paper.width_mm - keep.left - keep.right - around
    high = paper.height_mm - keep.top - keep.bottom - around
    if min(wide, high) <= 0:
        raise BadRequest(
            f"The margins leave no space for the picture on {paper.label}. Make them narrower."
        )
    return PrintSize(pair(wide, high, "cm"), wide, high)


def scales_on(line: FinishLine, sheet: PrintSize, page: Page | None, asked: bool) -> bool:
    """Return whether a picture takes its size from the chosen sheet.

    Parameters
    ----------
    line : FinishLine
        The current line.
    sheet : PrintSize
        The newly chosen sheet.
    page : Page or None
        The page without the sheet; None if its size is unknown.
    asked : bool
        Whether a size is requested together with the sheet; it is then kept even if it does not
        fit.
    """
    if asked:
        return False
    if page is None:
        return True
    body = sorted((page.width_mm, page.height_mm))
    sides = sorted((sheet.width_mm, sheet.height_mm))
    # A smaller picture keeps its size; a larger one shrinks to the space on the sheet.
    return line.scales or body[0] > sides[0] or body[1] > sides[1]
