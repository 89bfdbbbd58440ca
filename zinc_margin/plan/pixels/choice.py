"""Keep, reduce or enlarge the pixels: the docket's choice, or the automatic one."""

from __future__ import annotations

import math
from fractions import Fraction

from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import HIGHEST_PPI, LOWEST_PPI
from zinc_margin.plan.parts import SizePart
from zinc_margin.plan.size.grade import least_ppi

# Limits of a typed factor; beyond them it is a typing mistake.
LEAST_FACTOR, MOST_FACTOR = Fraction(1, 100), 32


def default_choice(
    effective: Fraction, target: Fraction, floor: Fraction, near: float, is_said: bool
) -> tuple[str, Fraction]:
    """Return what is done where no one says, and to which resolution.

    ========================================================  ==========================
    the photo's own ppi on the print                          done
    ========================================================  ==========================
    over twice what is asked, and can be seen from near       reduced to the higher of both
    under the minimum, or two thirds of what is asked         enlarged to what is asked
    the same, but enough from the distance that was said      kept
    all others                                                kept
    ========================================================  ==========================

    Parameters
    ----------
    effective, target, floor : Fraction
        In ppi: before enlarging; target; minimum.
    near : float
        Resolvable ppi at the near viewing distance.
    is_said : bool
        Whether a viewing distance was typed.

    Returns
    -------
    choice : str
        ``keep``, ``enlarge`` or ``reduce``.
    goal : Fraction
        In ppi.
    """
    most = max(target, Fraction(near).limit_denominator(1000))
    if effective > 2 * most:
        return "reduce", most
    too_few = effective < least_ppi(float(floor), float(target))
    if too_few and not (is_said and effective >= near):
        return "enlarge", target
    return "keep", target


def choice_for(
    line: PixelsLine, sized: SizePart, effective: Fraction, goal: Fraction
) -> tuple[str, Fraction]:
    """Return the treatment of the pixels, and the resolution of a resampled file.

    Parameters
    ----------
    effective, goal : Fraction
        In ppi: before enlarging; of a resampled file.
    """
    if line.choice == "keep":
        return "keep", goal
    if line.target is None and sized.in_pixels:
        return "enlarge" if effective < goal else "reduce", goal
    if line.choice == "resample" or line.target is not None:
        return "enlarge" if effective < goal else "reduce" if effective > goal else "keep", goal
    if sized.maker.untouched:
        return "keep", goal
    return default_choice(effective, goal, sized.floor_ppi, sized.near_ppi, sized.distance_said)


def goal_ppi(line: PixelsLine, sized: SizePart, effective: Fraction) -> Fraction:
    """Return the resolution of a resampled file: the target, or the result of a pixel target.

    Parameters
    ----------
    effective : Fraction
        Resolution before enlarging, in ppi.

    Raises
    ------
    BadRequest
        If the target is a factor outside 0.01 to 32, or results in less than 1 or more than 10000
        ppi.
    """
    target, size = line.target, sized.size
    if target is None:
        return sized.target_ppi
    (value,) = target.values
    wide, high = size.width_mm / MM_PER_INCH, size.height_mm / MM_PER_INCH
    if target.kind == "scale":
        if not LEAST_FACTOR <= value <= MOST_FACTOR:
            raise BadRequest("The resampling factor must be from 0.01 to 32.")
        ppi = effective * value
    elif target.kind == "megapixels":
        across = math.isqrt((value * 1_000_000 * wide / high).__floor__())
        ppi = max(1, across) / wide
    elif target.kind == "long-edge-px":
        ppi = value / max(wide, high)
    else:
        ppi = value
    if not LOWEST_PPI <= ppi <= HIGHEST_PPI:
        raise BadRequest(
            f"The result would be {float(ppi):.3g} ppi. A resolution is 1 to 10000 ppi."
        )
    return ppi
