"""Where a print is made, in a sentence of three parts: who prints it, on what, how large."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.measure.papers import SCREEN
from zinc_margin.plan.model import Plan

_ON_SCREENS = {"screen": "Shown on a"}


def destination_parts(plan: Plan, units: str) -> tuple[str, str, str | None, str]:
    """Return how the sentence begins, the maker, the paper (None for screens) and the size.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    maker, size = plan.maker, plan.size
    if maker.for_screen:
        begins = _ON_SCREENS.get(maker.key, "Sent to a")
        return begins, maker.name, None, f"{plan.pixels.width} × {plan.pixels.height} px"
    paper = plan.settled.sharpen.paper or SCREEN
    named = not size.label[:1].isdigit()
    sides = words.pair(size.width_mm, size.height_mm, units)
    return "Printed by a", maker.name, paper, size.label if named else sides
