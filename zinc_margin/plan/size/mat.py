"""A mat as it lies over a print."""

from __future__ import annotations

from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.parts import Mat


def mat_of(line: SizeLine, size: PrintSize) -> Mat | None:
    """Return the mat that a Size line asks for, lying as the print lies."""
    way = line.way
    if way is None or way.kind != "mat":
        return None
    reveal = way.values[2]
    opening = (size.width_mm + 2 * reveal, size.height_mm + 2 * reveal)
    frame = way.frame
    if frame is not None and (frame[0] > frame[1]) != (opening[0] > opening[1]):
        frame = (frame[1], frame[0])
    return Mat(opening, reveal, frame)
