"""Keep the pixels, reduce them, or enlarge: what is done where nobody says."""

from __future__ import annotations

import math
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import HIGHEST_PPI, LOWEST_PPI
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.ways import IN_PIXELS
from zinc_margin.plan.size.target import maker_of, target_of


def default_choice(effective: Fraction, target: Fraction, needed: float) -> str:
    """Return ``keep``, ``enlarge`` or ``reduce``."""
    if effective < min(needed, float(target)):
        return "enlarge"
    return "reduce" if effective > 2 * target else "keep"


LEAST_FACTOR, MOST_FACTOR = Fraction(1, 100), 32


def resample_ppi(docket: Docket, size: PrintSize, effective: Fraction) -> Fraction:
    """Return the resolution of a resampled file: what is asked, or what its own target comes to.

    Raises
    ------
    BadRequest
        When the target is a factor under 0.01 or over 32, or comes to no ppi from 1 to 10000.
    """
    target = docket.pixels.target
    if target is None:
        return target_of(docket.size)
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


def _choice(docket: Docket, effective: Fraction, target: Fraction, needed: float) -> str:
    """Return what happens to the pixels; `target` is the resolution of a resampled file."""
    line = docket.pixels
    if line.choice == "keep":
        return "keep"
    way = docket.size.way
    if line.target is None and way is not None and way.kind in IN_PIXELS:
        return "enlarge" if effective < target else "reduce"
    if line.choice == "resample" or line.target is not None:
        return "enlarge" if effective < target else "reduce" if effective > target else "keep"
    if maker_of(docket.size).untouched:
        return "keep"
    return default_choice(effective, target, needed)
