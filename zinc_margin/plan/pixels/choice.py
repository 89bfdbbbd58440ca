"""Keep the pixels, reduce them, or enlarge: as the docket says, and where nobody says."""

from __future__ import annotations

import math
from fractions import Fraction

from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import HIGHEST_PPI, LOWEST_PPI
from zinc_margin.plan.size.size import SizePart

LEAST_FACTOR, MOST_FACTOR = Fraction(1, 100), 32


def default_choice(effective: Fraction, target: Fraction, needed: float) -> str:
    """Return what is done where nobody says: ``keep``, ``enlarge`` or ``reduce``.

    Parameters
    ----------
    effective, target : Fraction
        In ppi: of the photo's own pixels on the print; what is asked.
    needed : float
        What the eye can use from the print's distance, in ppi.
    """
    if effective < min(needed, float(target)):
        return "enlarge"
    return "reduce" if effective > 2 * target else "keep"


def choice_for(line: PixelsLine, sized: SizePart, effective: Fraction, goal: Fraction) -> str:
    """Return what happens to the pixels.

    Parameters
    ----------
    line : PixelsLine
    sized : SizePart
    effective, goal : Fraction
        In ppi: of the photo's own pixels on the print; of a resampled file.
    """
    if line.choice == "keep":
        return "keep"
    if line.target is None and sized.in_pixels:
        return "enlarge" if effective < goal else "reduce"
    if line.choice == "resample" or line.target is not None:
        return "enlarge" if effective < goal else "reduce" if effective > goal else "keep"
    if sized.maker.untouched:
        return "keep"
    return default_choice(effective, goal, sized.needed_ppi)


def goal_ppi(line: PixelsLine, sized: SizePart, effective: Fraction) -> Fraction:
    """Return the resolution of a resampled file: what is asked, or what its own target comes to.

    Parameters
    ----------
    line : PixelsLine
    sized : SizePart
    effective : Fraction
        Of the photo's own pixels on the print, in ppi.

    Raises
    ------
    BadRequest
        When the target is a factor under 0.01 or over 32, or comes to no ppi from 1 to 10000.
    """
    target, size = line.target, sized.size
    if target is None:
        return sized.target
    (value,) = target.values
    wide, high = size.width_mm / MM_PER_INCH, size.height_mm / MM_PER_INCH
    if target.kind == "scale":
        if not LEAST_FACTOR <= value <= MOST_FACTOR:
            raise BadRequest("Pixels are resampled by a factor from 0.01 to 32.")
        ppi = effective * value
    elif target.kind == "megapixels":
        across = math.isqrt((value * 1_000_000 * wide / high).__floor__())
        ppi = max(1, across) / wide
    elif target.kind == "long-edge-px":
        ppi = value / max(wide, high)
    else:
        ppi = value
    if not LOWEST_PPI <= ppi <= HIGHEST_PPI:
        raise BadRequest(f"That comes to {float(ppi):.3g} ppi; a resolution runs from 1 to 10000.")
    return ppi
