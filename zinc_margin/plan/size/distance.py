"""Viewing distance, and the resolvable ppi there."""

from __future__ import annotations

import math

from zinc_margin.measure.distances import Seen
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.model import Plan

# The smallest angle that normal vision (20/20) resolves.
_ARC_MINUTE = math.tan(math.radians(1 / 60))


def sharp_from(ppi: float) -> float:
    """Return the nearest distance, in mm, from which `ppi` looks fully sharp (1 arc-minute).

    Examples
    --------
    >>> round(sharp_from(300))
    291
    """
    return 25.4 / (ppi * _ARC_MINUTE)


def needed_ppi(distance_mm: float) -> float:
    """Return the resolvable ppi at a viewing distance.

    Parameters
    ----------
    distance_mm : float
        Viewing distance in mm, above 0.

    Examples
    --------
    >>> round(needed_ppi(450))
    194
    """
    return 25.4 / (distance_mm * _ARC_MINUTE)


NEAR_MM, NEAR_MOST_MM = 300.0, 500.0
"""The range from which people inspect a print, whatever its size, in mm."""


def distances(size: PrintSize, seen: Seen | None) -> tuple[float, float]:
    """Return the near and far viewing distance, in mm: as typed, else the default for the size.

    Parameters
    ----------
    seen : Seen or None
        As typed, or None.
    """
    if seen is not None:
        return float(seen.near_mm), float(seen.far_mm)
    far = usual_distance(size)
    return min(NEAR_MOST_MM, max(NEAR_MM, far / 2)), far


def usual_distance(size: PrintSize) -> float:
    """Return the print's diagonal, at least 30 cm, in mm."""
    return max(NEAR_MM, math.hypot(float(size.width_mm), float(size.height_mm)))


DESK_MM = 600.0
"""The usual distance from a screen, in mm."""


def life_zoom(plan: Plan, screen_ppi: float) -> float:
    """Return the screen pixels per file pixel that show the print at its true size.

    Parameters
    ----------
    screen_ppi : float
        Resolution of the screen.
    """
    return screen_ppi * float(plan.size.width_mm) / 25.4 / plan.pixels.width


def seen_zoom(plan: Plan, screen_ppi: float) -> float:
    """Return the zoom at which the print, seen from a desk, looks as it will from near by.

    Parameters
    ----------
    screen_ppi : float
        Resolution of the screen.
    """
    return life_zoom(plan, screen_ppi) * DESK_MM / plan.near_mm
