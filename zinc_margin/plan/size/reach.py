"""How large a print so many pixels make."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.measure.lengths import MM_PER_INCH


def reach(width: int, height: int, ppi: Fraction) -> tuple[Fraction, Fraction]:
    """Return the print, in mm, that so many pixels make at `ppi`.

    Parameters
    ----------
    width, height : int
        In pixels.
    """
    return width / ppi * MM_PER_INCH, height / ppi * MM_PER_INCH
