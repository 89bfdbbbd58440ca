"""What of a print is not seen: under a mat, or past the edge of a borderless sheet."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.parts import Sides


def unseen(line: SizeLine, size: PrintSize, made_up: bool) -> Sides:
    """Return what of a print will not be seen on each side, in its own mm.

    A borderless driver enlarges the picture, both ways alike, until it reaches past every edge of
    the paper by the overspill; what passes the edge is lost.

    Parameters
    ----------
    made_up : bool
        Whether the sheet makes up for the overspill.
    """
    way = line.way
    if way is not None and way.kind == "mat":
        over = max(Fraction(0), -way.values[2])
        return Sides(over, over, over, over)
    spill = overspill_of(line, size)
    if not spill or made_up:
        return Sides.none()
    scale = max((side + 2 * spill) / side for side in (size.width_mm, size.height_mm))
    across, down = ((side - side / scale) / 2 for side in (size.width_mm, size.height_mm))
    return Sides(across, down, across, down)


def overspill_of(line: SizeLine, size: PrintSize) -> Fraction:
    """Return by how much a borderless driver passes each edge, in mm; 0 if it does not."""
    if line.overspill_mm is not None:
        return line.overspill_mm
    if line.overspill_share is not None:
        return line.overspill_share * max(size.width_mm, size.height_mm)
    return Fraction(0)
