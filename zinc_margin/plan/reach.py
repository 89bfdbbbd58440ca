"""How large a photo goes, from where it looks sharp, and what grade that makes."""

from __future__ import annotations

import math
from fractions import Fraction

from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.makers import Maker, find_maker, usual_maker
from zinc_margin.measure.sizes import PrintSize

NEAREST_MM = 300.0
GRADES = ("full", "good", "distant", "thin")

_ARC_MINUTE = math.tan(math.radians(1 / 60))


def maker_of(line: SizeLine) -> Maker:
    """Return where a print is made."""
    return usual_maker() if line.maker is None else find_maker(line.maker)


def target_of(line: SizeLine) -> Fraction:
    """Return the ppi that is asked: the person's own figure, else the maker's."""
    return line.ppi or maker_of(line).asks


def floor_of(line: SizeLine) -> Fraction:
    """Return the ppi under which enlarging is preferred."""
    return line.floor or maker_of(line).floor


def reach(width: int, height: int, ppi: Fraction) -> tuple[Fraction, Fraction]:
    """Return the print, in mm, that so many pixels make at `ppi`."""
    return width / ppi * MM_PER_INCH, height / ppi * MM_PER_INCH


def sharp_from(ppi: float) -> float:
    """Return the nearest distance, in mm, from which `ppi` looks fully sharp (1 arc-minute)."""
    return 25.4 / (ppi * _ARC_MINUTE)


def needed_ppi(distance_mm: float) -> float:
    """Return the resolution that the eye can use from a distance."""
    return 25.4 / (distance_mm * _ARC_MINUTE)


def usual_distance(size: PrintSize) -> float:
    """Return the print's diagonal, and never less than 30 cm."""
    return max(NEAREST_MM, math.hypot(float(size.width_mm), float(size.height_mm)))


def grade_for(effective: float, target: float, floor: float, needed: float) -> str:
    """Return the grade of a print, in a word."""
    effective *= 1 + 1e-9  # who asks 300 and has 300 is not to fail by a rounding
    if effective >= target:
        return "full"
    if effective >= needed:
        return "good" if effective >= floor else "distant"
    return "thin"


def default_choice(effective: Fraction, target: Fraction, needed: float) -> str:
    """Return ``keep``, ``enlarge`` or ``reduce``."""
    if effective < min(needed, float(target)):
        return "enlarge"
    return "reduce" if effective > 2 * target else "keep"


def lies_upright(width: int, height: int, size: PrintSize, lie: str) -> PrintSize:
    """Return a size lying the way the photo lies (or as the docket says)."""
    if lie == "as-given":
        return size
    if width == height:
        return size.swapped() if lie == "across" else size
    upright = height > width
    return size.lying(not upright if lie == "across" else upright)
