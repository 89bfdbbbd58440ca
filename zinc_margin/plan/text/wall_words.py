"""The finished thing on a wall, in words."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.plan.finish.wall import Scene
from zinc_margin.plan.model import Plan


def wall_sentence(plan: Plan, scene: Scene, units: str) -> str:
    """Say from where it is seen.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    seen = words.length(plan.far_mm, units)
    return f"Seen from {seen} it fills {scene.angle:.0f}° of the view."
