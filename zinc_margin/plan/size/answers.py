"""Answers in both directions: how large at a resolution, how many pixels for a size."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.plan.model import Plan
from zinc_margin.plan.pixels.boxes import pixels_for
from zinc_margin.plan.size.reach import reach


@dataclass(frozen=True)
class Answers:
    """What a photographer asks next about a size.

    Attributes
    ----------
    unenlarged_mm : (Fraction, Fraction)
        The largest print of the picture's own shape that meets what is asked without new pixels.
    unseen_mm : (Fraction, Fraction)
        The largest that still looks fully sharp from the far end of where it is seen.
    pixels : (int, int)
        What the chosen size asks for at the target.
    megapixels : float
        The same, in millions.
    """

    unenlarged_mm: tuple[Fraction, Fraction]
    unseen_mm: tuple[Fraction, Fraction]
    pixels: tuple[int, int]
    megapixels: float


def answers(plan: Plan) -> Answers:
    """Answer for the picture as it is turned, and the size that is chosen."""
    width, height = plan.turned.set_width, plan.turned.set_height
    pixels = pixels_for(plan.size, plan.target_ppi)
    return Answers(
        unenlarged_mm=reach(width, height, plan.target_ppi),
        unseen_mm=reach(width, height, Fraction(plan.far_ppi)),
        pixels=pixels,
        megapixels=pixels[0] * pixels[1] / 1e6,
    )
