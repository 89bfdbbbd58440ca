"""How large a pixel of the file must be on a screen, for life size and for a distance."""

from __future__ import annotations

from zinc_margin.plan.model import Plan

DESK_MM = 600.0
"""From where a screen is usually looked at."""


def life_zoom(plan: Plan, screen_ppi: float) -> float:
    """Return screen pixels for a pixel of the file, so that the print is as large as it will be.

    Parameters
    ----------
    screen_ppi : float
        Of the screen.
    """
    return screen_ppi * float(plan.size.width_mm) / 25.4 / plan.pixels.width


def seen_zoom(plan: Plan, screen_ppi: float) -> float:
    """Return the same for the print as large as it looks from near by, seen from a desk.

    Parameters
    ----------
    screen_ppi : float
        Of the screen.
    """
    return life_zoom(plan, screen_ppi) * DESK_MM / plan.near_mm
