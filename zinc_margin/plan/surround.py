"""What lies round the picture and over its edges: a mat, a borderless driver's overspill."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.words import small
from zinc_margin.plan.model import Mat, Sides
from zinc_margin.plan.sheets import overspill_of


def border_of(docket: Docket, size: PrintSize) -> Fraction:
    """Return the least border round the picture, in mm; 0 where none is asked for.

    Raises
    ------
    BadRequest
        When it would leave nothing for the picture.
    """
    if docket.crop.fit != "border":
        return Fraction(0)
    shorter = min(size.width_mm, size.height_mm)
    border = docket.crop.border_mm
    if border is None:
        return Fraction(max(1, (shorter / 20).__floor__())) if shorter > 4 else Fraction(0)
    if 2 * border >= shorter:
        raise BadRequest(
            f"A border of {small(border, 'cm')} leaves nothing of a print that is "
            f"{small(shorter, 'cm')} on its shorter side."
        )
    return border


def least_border(docket: Docket, size: PrintSize) -> Fraction:
    """Return the border that a size would have; a tenth of it where the asked one is too wide."""
    try:
        return border_of(docket, size)
    except BadRequest:
        return min(size.width_mm, size.height_mm) / 10


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
    spill = overspill_of(docket, size)
    if not spill or docket.finish.make_up:
        return Sides.none()
    scale = max((side + 2 * spill) / side for side in (size.width_mm, size.height_mm))
    across, down = ((side - side / scale) / 2 for side in (size.width_mm, size.height_mm))
    return Sides(across, down, across, down)
