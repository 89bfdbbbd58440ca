"""Fewer pixels for the same print, where a byte limit asks for them."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.plan.model import Plan

_LEAST_SIDE = 16


def docket_with_fewer_pixels(plan: Plan, times: float) -> Docket | None:
    """Return a docket with fewer pixels each way for a print of the same size.

    Parameters
    ----------
    times : float
        Over 0, of the plan's own pixels each way.

    Returns
    -------
    Docket or None
        None where nothing would be left of the picture.
    """
    ppi = Fraction(*plan.pixels.tag_x) * Fraction(times).limit_denominator(10**6)
    sides = plan.pixels.width * times, plan.pixels.height * times
    if min(sides) < _LEAST_SIDE or ppi < 1:
        return None
    docket = plan.settled
    return replace(
        docket,
        size=replace(docket.size, size=plan.size, way=None, lie="as-given", ppi=ppi),
        pixels=replace(docket.pixels, choice="resample"),
    )
