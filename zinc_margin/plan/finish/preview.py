"""The print's share of a page, and the visible share of a print, for small previews."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.plan.model import Plan, PrintPlan

Share = tuple[float, float, float, float]
"""Left, top, width and height, each 0 to 1 of the whole."""

WHOLE: Share = (0.0, 0.0, 1.0, 1.0)


def print_on_page(plan: PrintPlan) -> Share:
    """Return the print's place on its page."""
    if plan.sheet is None:
        return WHOLE
    wide, high = plan.whole.width_mm, plan.whole.height_mm
    top, _, _, left = plan.sheet.margins_mm
    return (
        float(left / wide),
        float(top / high),
        float(plan.size.width_mm / wide),
        float(plan.size.height_mm / high),
    )


def face_on_page(plan: PrintPlan) -> Share:
    """Return the part of a page visible from the front once a canvas is on its bars."""
    sheet = plan.sheet
    if sheet is None or not sheet.side_mm:
        return WHOLE
    left, top, width, height = print_on_page(plan)
    if not sheet.sides_within:
        return left, top, width, height
    # The sides are inside the picture.
    across = width * float(sheet.side_mm / plan.size.width_mm)
    down = height * float(sheet.side_mm / plan.size.height_mm)
    return left + across, top + down, width - 2 * across, height - 2 * down


def seen_of_print(plan: PrintPlan) -> Share:
    """Return the part of a print that a mat or a borderless driver leaves visible."""
    lost, size = plan.unseen_mm, plan.size
    return (
        float(lost.left / size.width_mm),
        float(lost.top / size.height_mm),
        float(1 - (lost.left + lost.right) / size.width_mm),
        float(1 - (lost.top + lost.bottom) / size.height_mm),
    )


def small_docket(plan: Plan, longest: int) -> Docket:
    """Return a docket for the same finished sheet with about this many pixels on its longer side.

    It renders quickly: reduced with a plain kernel, without repair and sharpening.
    """
    docket, whole = plan.settled, plan.whole
    ppi = max(Fraction(1), longest * MM_PER_INCH / max(whole.width_mm, whole.height_mm))
    # never finer than the print itself
    ppi = min(ppi, whole.ppi).limit_denominator(1000)
    return Docket(
        photo=docket.photo,
        size=docket.size.at(plan.size, ppi),
        crop=docket.crop,
        pixels=PixelsLine(
            choice="resample",
            method="lanczos",
            clean=Fraction(0),
            denoise=Fraction(0),
            dehalo=Fraction(0),
            grain=Fraction(0),
        ),
        sharpen=replace(docket.sharpen, on=False),
        finish=replace(docket.finish, pieces=None, roll_mm=None),
        file=replace(docket.file, format="tiff", bits=8, max_bytes=None),
    )
