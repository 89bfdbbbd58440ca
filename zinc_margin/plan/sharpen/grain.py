"""Grain: how strong and how large it is in the file."""

from __future__ import annotations

from zinc_margin.docket.sharpen import SharpenLine
from zinc_margin.plan.parts import Grain

_GRAIN_FULL = 5.0
"""L* of the deviation of grain at 100."""


def grain(line: SharpenLine, output_ppi: float) -> Grain | None:
    """Return the grain that is laid on; None where none is.

    Parameters
    ----------
    output_ppi : float
        Of the file.
    """
    if not line.grain:
        return None
    size_px = float(line.grain_mm) / 25.4 * output_ppi
    return Grain(float(line.grain) / 100 * _GRAIN_FULL, size_px)
