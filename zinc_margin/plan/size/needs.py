"""The pixels that a size needs, without a photo: for target, minimum and the eye."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.resolution import HIGHEST_PPI, LOWEST_PPI, reach
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.model import Plan
from zinc_margin.plan.pixels.boxes import pixels_for
from zinc_margin.plan.size.distance import distances, needed_ppi
from zinc_margin.plan.size.grade import floor_of, least_ppi, target_of


@dataclass(frozen=True)
class Need:
    """The pixels that a size needs, for one reason.

    Attributes
    ----------
    code : str
        ``asked`` (target), ``least`` (minimum), or resolvable from the ``near`` or ``far`` viewing
        distance.
    ppi : Fraction
    pixels : (int, int)
        Width and height.
    mm : float or None
        Viewing distances.
    """

    code: str
    ppi: Fraction
    pixels: tuple[int, int]
    mm: float | None = None


def needs(size: PrintSize, line: SizeLine) -> tuple[Need, ...]:
    """Return the pixels that a size needs: two rows for the maker, one or two for the eye.

    Parameters
    ----------
    line : SizeLine
        Provides maker, target and viewing distance.
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


@dataclass(frozen=True)
class Answers:
    """Answers to follow-up questions about a size.

    Attributes
    ----------
    unenlarged_mm : (Fraction, Fraction)
        The largest print in the picture's shape that meets the target without enlarging.
    unseen_mm : (Fraction, Fraction)
        The largest print that still looks fully sharp from the far viewing distance.
    pixels : (int, int)
        Pixels of the chosen size at the target.
    megapixels : float
        The same, in millions.
    """

    unenlarged_mm: tuple[Fraction, Fraction]
    unseen_mm: tuple[Fraction, Fraction]
    pixels: tuple[int, int]
    megapixels: float


def answers(plan: Plan) -> Answers:
    """Return the answers for the rotated picture and the chosen size."""
    width, height = plan.turned.set_width, plan.turned.set_height
    pixels = pixels_for(plan.size, plan.target_ppi)
    return Answers(
        unenlarged_mm=reach(width, height, plan.target_ppi),
        unseen_mm=reach(width, height, Fraction(plan.far_ppi)),
        pixels=pixels,
        megapixels=pixels[0] * pixels[1] / 1e6,
    )
