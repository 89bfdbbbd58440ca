"""Limits of sharpening: noise and blocks (coring), existing halos, a soft photo."""

from __future__ import annotations

from zinc_margin.facts.measurements import Measured
from zinc_margin.plan.parts import Repair
from zinc_margin.plan.photo.photo import BLOCKS_FROM, HALO_FROM, SOFT_FROM

NOTHING = Repair()


HALO = 9.0
"""Highest overshoot beside an edge, in L*, in a photo without existing halos."""


LEAN = 0.2  # weight of broad edges for a sharp photo


_QUIETEST, _LOUDEST = 0.12, 2.0
"""Range of coring, in L*: a clean 8-bit photo still has steps; above the upper end texture would be
lost.
"""


def coring(measured: Measured | None, scale: float = 1.0, repair: Repair = NOTHING) -> float:
    """Return the coring threshold, in L*: smaller differences count as noise or artefacts.

    Reducing (`scale` under 1) averages both; enlarging spreads them without lowering them. Repair
    has already removed most of what it treats.

    Parameters
    ----------
    measured : Measured or None
        None until the pixels are measured.
    scale : float
        Output ÷ source pixels.
    repair : Repair
        Earlier repairs.
    """
    if measured is None:
        return _QUIETEST
    blocks = measured.blocks if measured.blocks > BLOCKS_FROM else 0.0
    noise = measured.noise * (1 - 0.8 * min(1.0, repair.denoise / 100))
    blocks *= 1 - 0.8 * min(1.0, repair.clean / 100)
    loudest = 2.5 * max(noise, blocks) * min(1.0, scale)
    return min(_LOUDEST, max(_QUIETEST, loudest))


def halo_limit(measured: Measured | None) -> float:
    """Return the largest overshoot of sharpening, in L*.

    Parameters
    ----------
    measured : Measured or None
        None until the pixels are measured.
    """
    if measured is None or measured.halo <= HALO_FROM:
        return HALO
    return HALO * max(1 / 3, 1 - 2 * (measured.halo - HALO_FROM / 2))


def usual_breadth(measured: Measured | None) -> float:
    """Return the automatic weight of broad edges: more for a soft photo, up to a half.

    Parameters
    ----------
    measured : Measured or None
        None until the pixels are measured.
    """
    if measured is None or measured.edge_px is None or measured.edge_px <= SOFT_FROM:
        return LEAN
    return min(0.5, LEAN + 0.2 * (measured.edge_px - SOFT_FROM))
