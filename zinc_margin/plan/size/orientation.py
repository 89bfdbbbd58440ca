"""The orientation of a size."""

from __future__ import annotations

from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.model import Plan


def lies_upright(width: int, height: int, size: PrintSize, lie: str) -> PrintSize:
    """Return a size oriented as the photo, or as the docket says.

    Parameters
    ----------
    lie : str
        ``auto``, ``as-given`` or ``across``.
    """
    if lie == "as-given":
        return size
    if width == height:
        return size.swapped() if lie == "across" else size
    upright = height > width
    return size.lying(not upright if lie == "across" else upright)


def lie_of(plan: Plan, size: PrintSize) -> str:
    """Return the docket's word for a size in its final orientation, ``auto`` or ``across``."""
    turned = plan.turned
    lying = lies_upright(turned.set_width, turned.set_height, size, "auto")
    alike = (lying.width_mm, lying.height_mm) == (size.width_mm, size.height_mm)
    return "auto" if alike else "across"
