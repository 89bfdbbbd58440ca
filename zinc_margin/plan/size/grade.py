"""The grade of a print."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.makers import Maker, find_maker, usual_maker

AMPLE, GOOD, DISTANT, FEW = "ample", "good", "from a distance", "too few pixels"
GRADES = (AMPLE, GOOD, DISTANT, FEW)
"""Best first."""


def least_ppi(floor: float, target: float) -> float:
    """Return the lowest resolution graded good: the minimum, if it is well below the target.

    Parameters
    ----------
    floor : float
        The minimum, in ppi.
    target : float
        The target, in ppi.
    """
    return min(floor, 2 * target / 3)


def grade_for(ppi: float, target: float, floor: float, needed: float) -> str:
    """Return the grade of a print.

    Parameters
    ----------
    ppi : float
        Resolution before enlarging, or of the file if that is lower.
    target : float
        The target, in ppi.
    floor : float
        The minimum, in ppi.
    needed : float
        Resolvable ppi at the far viewing distance.

    Examples
    --------
    >>> grade_for(ppi=340, target=300, floor=150, needed=200)
    'ample'
    >>> grade_for(ppi=160, target=300, floor=150, needed=100)
    'good'
    """
    ppi *= 1 + 1e-9  # a print at exactly the target must not fail by rounding
    least = least_ppi(floor, target)
    if ppi >= target:
        return AMPLE
    if ppi >= least:
        return GOOD
    return DISTANT if ppi >= min(needed, least / 2) else FEW


def grade_on_screen(share: float) -> str:
    """Return the grade of a picture for a screen.

    Parameters
    ----------
    share : float
        The photo's pixels relative to the screen's, along a side.
    """
    share *= 1 + 1e-9
    return AMPLE if share >= 1 else GOOD if share >= 2 / 3 else FEW


def target_of(line: SizeLine) -> Fraction:
    """Return the target ppi: the user's, else the maker's."""
    return line.ppi or _maker(line).asks


def floor_of(line: SizeLine) -> Fraction:
    """Return the minimum ppi, below which the photo should be enlarged."""
    return line.floor or _maker(line).floor


def _maker(line: SizeLine) -> Maker:
    return usual_maker() if line.maker is None else find_maker(line.maker)
