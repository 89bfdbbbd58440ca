"""The same print made small: for the screen, and for maps."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.plan.model import Plan


def small_docket(plan: Plan, longest: int) -> Docket:
    """Return a docket for the same finished sheet with about so many pixels on its longer side.

    It is quick to render: reduced plainly, not repaired, not sharpened.

    Parameters
    ----------
    longest : int
        In pixels.
    """
    docket, whole = plan.settled, plan.whole
    ppi = max(Fraction(1), longest * MM_PER_INCH / max(whole.width_mm, whole.height_mm))
    # never finer than the print itself
    ppi = min(ppi, Fraction(*whole.tag_x)).limit_denominator(1000)
    size = replace(docket.size, size=plan.size, way=None, lie="as-given", ppi=ppi)
    return Docket(
        photo=docket.photo,
        size=size,
        crop=docket.crop,
        pixels=PixelsLine(
            choice="resample",
            method="lanczos",
            clean=Fraction(0),
            denoise=Fraction(0),
            dehalo=Fraction(0),
        ),
        sharpen=replace(docket.sharpen, on=False, grain=Fraction(0)),
        finish=replace(docket.finish, pieces=None, roll_mm=None),
        file=replace(docket.file, format="tiff", bits=8, max_bytes=None),
    )
