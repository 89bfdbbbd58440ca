"""Moving the picture on its sheet by hand."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.finish import Margins
from zinc_margin.plan.model import Plan

_ZERO = Fraction(0)
_NEAR = 0.03


def placed(plan: Plan, x: float, y: float, right_mm: float, down_mm: float) -> Docket:
    """Return the docket with the picture moved on its sheet, drawn to the middle of its room.

    Parameters
    ----------
    x, y : float
        Its place before, 0 to 1 each.
    right_mm, down_mm : float
        By how much.
    """
    sheet, line = plan.sheet, plan.docket.finish
    assert sheet is not None
    keep = line.margins or Margins(_ZERO, _ZERO, _ZERO, _ZERO)
    top, right, bottom, left = (float(mm) for mm in sheet.margins_mm)
    free_x = left + right - float(keep.left + keep.right)
    free_y = top + bottom - float(keep.top + keep.bottom)
    rows = []
    for at, by, free in ((x, right_mm, free_x), (y, down_mm, free_y)):
        share = min(1.0, max(0.0, at + by / free)) if free > 0.01 else 0.5
        share = 0.5 if abs(share - 0.5) < _NEAR else share
        rows.append(Fraction(round(share * 1000), 1000))
    moved = replace(line, place_x=rows[0], place_y=rows[1])
    return replace(plan.docket, finish=moved)
