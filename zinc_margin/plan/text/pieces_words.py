"""Pieces in words."""

from __future__ import annotations

from zinc_margin.measure.words import pair
from zinc_margin.plan.finish.page import Page, Pieces
from zinc_margin.plan.text.on_paper import laid_words, paper_name


def pieces_told(pieces: Pieces, whole: Page, units: str) -> tuple[str, str]:
    """Say over what a picture is spread, and how large its pieces are.

    Parameters
    ----------
    whole : Page
        The page that is spread.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    first = pieces.each[0]
    per_mm = whole.width / whole.width_mm, whole.height / whole.height_mm
    wide, high = (round(float(first.part[2 + i] / per_mm[i])) for i in (0, 1))
    each = f"Each about {pair(wide, high, units)}"
    count = len(pieces.each)
    if count == 1:
        return f"One piece on {paper_name(pieces)}", each
    return laid_words(pieces), each
