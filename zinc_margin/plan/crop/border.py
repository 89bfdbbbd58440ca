"""The least border round a picture that is shown whole."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.crop import CropLine
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.words import small


def border_of(line: CropLine, size: PrintSize) -> Fraction:
    """Return the least border round the picture, in mm; 0 where none is asked for.

    Raises
    ------
    BadRequest
        When it would leave nothing for the picture.
    """
    if line.fit != "border":
        return Fraction(0)
    shorter = min(size.width_mm, size.height_mm)
    border = line.border_mm
    if border is None:
        return Fraction(max(1, (shorter / 20).__floor__())) if shorter > 4 else Fraction(0)
    if 2 * border >= shorter:
        raise BadRequest(
            f"A border of {small(border, 'cm')} leaves nothing of a print that is "
            f"{small(shorter, 'cm')} on its shorter side."
        )
    return border


def least_border(line: CropLine, size: PrintSize) -> Fraction:
    """Return the border that a size would have; a tenth of it where the asked one is too wide."""
    try:
        return border_of(line, size)
    except BadRequest:
        return min(size.width_mm, size.height_mm) / 10
