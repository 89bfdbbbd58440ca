"""What lies round the picture and over its edges: a mat, a borderless driver's overspill."""

from __future__ import annotations

from fractions import Fraction

from ..docket.docket import Docket
from ..measure.sizes import PrintSize
from .model import Mat, Sides


def mat_parts(docket: Docket, size: PrintSize) -> Mat | None:
    """Return the mat that a docket asks for, lying as the print lies."""
    way = docket.size.way
    if way is None or way.kind != "mat":
        return None
    reveal = way.values[2]
    opening = (size.width_mm + 2 * reveal, size.height_mm + 2 * reveal)
    frame = way.frame
    if frame is not None and (frame[0] > frame[1]) != (opening[0] > opening[1]):
        frame = (frame[1], frame[0])
    return Mat(opening, reveal, frame)


def unseen(docket: Docket, size: PrintSize) -> Sides:
    """Return what of a print will not be seen on each side, in its own mm.

    A borderless driver enlarges the picture, both ways alike, until it reaches past every edge of
    the paper by the overspill; what passes the edge is lost.
    """
    way = docket.size.way
    if way is not None and way.kind == "mat":
        over = max(Fraction(0), -way.values[2])
        return Sides(over, over, over, over)
    spill = docket.size.overspill_mm
    if not spill:
        return Sides.none()
    scale = max((side + 2 * spill) / side for side in (size.width_mm, size.height_mm))
    across, down = ((side - side / scale) / 2 for side in (size.width_mm, size.height_mm))
    return Sides(across, down, across, down)
