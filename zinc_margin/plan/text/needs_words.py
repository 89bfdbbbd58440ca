"""How many pixels a size asks for, in words."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.plan.size.needs import Need


def need_words(need: Need, maker: str, units: str = "cm") -> tuple[str, str]:
    """Return why so many pixels are asked for, and how many.

    Parameters
    ----------
    maker : str
        The name of who prints it.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    seen = words.length(need.mm, units) if need.mm is not None else ""
    why = {
        "asked": f"asked by a {maker}",
        "least": "the least that prints well",
        "near": f"enough from {seen}",
        "far": f"enough from {seen}",
    }[need.code]
    pixels = f"{need.pixels[0]} × {need.pixels[1]} px, {words.megapixels(*need.pixels)}"
    return f"{words.resolution(need.ppi, units)}, {why}", pixels
