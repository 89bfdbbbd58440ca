"""How many pixels a size asks for, without a photo: at what is asked, at least, and to the eye."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.resolution import HIGHEST_PPI, LOWEST_PPI
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.pixels.boxes import pixels_for
from zinc_margin.plan.size.distance import distances, needed_ppi
from zinc_margin.plan.size.grade import least_ppi
from zinc_margin.plan.size.target import floor_of, target_of


@dataclass(frozen=True)
class Need:
    """What a size asks for, for one reason.

    Attributes
    ----------
    code : str
        ``asked`` by who prints it, the ``least`` that prints well, or what the eye can use from
        the ``near`` end of where it is seen, or from the ``far`` one.
    ppi : Fraction
    pixels : (int, int)
        Width and height.
    mm : float or None
        From where it is seen.
    """

    code: str
    ppi: Fraction
    pixels: tuple[int, int]
    mm: float | None = None


def needs(size: PrintSize, line: SizeLine) -> tuple[Need, ...]:
    """Return what a size asks for: two answers of who prints it, and one or two of the eye.

    Parameters
    ----------
    line : SizeLine
        Says who prints it, what is asked, and from where it is seen.
    """
    target = target_of(line)
    least = Fraction(least_ppi(float(floor_of(line)), float(target))).limit_denominator(1000)
    rows = [Need("asked", target, pixels_for(size, target))]
    rows.append(Need("least", least, pixels_for(size, least)))
    near, far = distances(size, line.distance)
    for code, mm in (("near", near), ("far", far)):
        if code == "far" and far == near:
            continue
        ppi = min(HIGHEST_PPI, max(LOWEST_PPI, Fraction(needed_ppi(mm)).limit_denominator(1000)))
        rows.append(Need(code, ppi, pixels_for(size, ppi), mm))
    return tuple(rows)
