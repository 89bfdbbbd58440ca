"""The hidden edges of a print: under a mat, or beyond the paper in borderless printing."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.parts import Sides


def unseen(line: SizeLine, size: PrintSize, made_up: bool) -> Sides:
    """Return the hidden part of a print on each side, in mm on the print.

    A borderless driver enlarges the picture uniformly until it passes every edge of the paper by
    the overspill; the excess is lost.

    Parameters
    ----------
    made_up : bool
        Whether the sheet compensates for the overspill.
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
    """Return how far a borderless driver passes each edge, in mm; 0 if it does not."""
    if line.overspill_mm is not None:
        return line.overspill_mm
    if line.overspill_share is not None:
        return line.overspill_share * max(size.width_mm, size.height_mm)
    return Fraction(0)
