"""Which way a size lies."""

from __future__ import annotations

from zinc_margin.measure.sizes import PrintSize


def lies_upright(width: int, height: int, size: PrintSize, lie: str) -> PrintSize:
    """Return a size lying the way the photo lies (or as the docket says).

    Parameters
    ----------
    width, height : int
        In pixels.
    size : PrintSize
    lie : str
        ``auto``, ``as-given`` or ``across``.
    """
    if lie == "as-given":
        return size
    if width == height:
        return size.swapped() if lie == "across" else size
    upright = height > width
    return size.lying(not upright if lie == "across" else upright)
