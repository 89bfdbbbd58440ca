"""Canvas sides and bleed: how far the picture extends beyond its edge, and its content there."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.finish import FinishLine
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.plan.finish.page import Around

_ZERO = Fraction(0)


def side_mm(line: FinishLine) -> Fraction:
    """Return the width of a canvas's sides, in mm: bar depth plus the fold at the back."""
    return (line.wrap_mm or _ZERO) + (line.tuck_mm or _ZERO)


def beyond_mm(line: FinishLine, overspill_mm: Fraction) -> Fraction:
    """Return how far the picture extends beyond its edge, in mm.

    Parameters
    ----------
    overspill_mm : Fraction
        Overspill past each edge, in mm; 0 if not borderless.
    """
    side = side_mm(line)
    if side and not line.wrap_own:
        return side
    return max(line.bleed_mm, overspill_mm if line.make_up else _ZERO)


def around_for(line: FinishLine, beyond: Fraction, per: tuple[Fraction, Fraction]) -> Around | None:
    """Return the picture's extension beyond its edge, or None.

    Parameters
    ----------
    beyond : Fraction
        Extension in mm.
    per : (Fraction, Fraction)
        Pixels per mm, across and down.
    """
    if not beyond:
        return None
    across, down = (max(1, round_half_up(beyond * by)) for by in per)
    if not side_mm(line):
        return Around(across, down)
    strip = line.wrap_strip_mm
    share = Fraction(1) if strip is None else min(Fraction(1), strip / beyond)
    return Around(across, down, share, float(line.wrap_soften_mm / beyond), line.wrap_tone)
