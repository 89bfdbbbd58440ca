"""Which part of a page is the print, and which part of the print is seen: as shares.

Whoever draws a page small takes these, whatever its scale.
"""

from __future__ import annotations

from zinc_margin.plan.model import PrintPlan

Share = tuple[float, float, float, float]
"""Left, top, width and height, each 0 to 1 of what it is a part of."""

WHOLE: Share = (0.0, 0.0, 1.0, 1.0)


def print_on_page(plan: PrintPlan) -> Share:
    """Return where the print lies on its page."""
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
    """Return what of a page is seen from the front once a canvas is on its bars."""
    sheet = plan.sheet
    if sheet is None or not sheet.side_mm:
        return WHOLE
    left, top, width, height = print_on_page(plan)
    if not sheet.sides_within:
        return left, top, width, height
    # the sides lie inside the picture
    across = width * float(sheet.side_mm / plan.size.width_mm)
    down = height * float(sheet.side_mm / plan.size.height_mm)
    return left + across, top + down, width - 2 * across, height - 2 * down


def seen_of_print(plan: PrintPlan) -> Share:
    """Return what a mat or a borderless driver leaves to be seen of a print."""
    lost, size = plan.unseen_mm, plan.size
    return (
        float(lost.left / size.width_mm),
        float(lost.top / size.height_mm),
        float(1 - (lost.left + lost.right) / size.width_mm),
        float(1 - (lost.top + lost.bottom) / size.height_mm),
    )
