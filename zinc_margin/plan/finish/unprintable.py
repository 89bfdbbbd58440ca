"""What the printer's unprintable edge takes of a print."""

from __future__ import annotations

from zinc_margin.measure.sizes import PrintSize, catalogue

_PAPERS = ("paper", "paper inch")


def _is_paper(size: PrintSize) -> bool:
    """Tell whether a print is as large as a paper that is sold."""
    sides = sorted((size.width_mm, size.height_mm))
    return any(
        sides == sorted((paper.width_mm, paper.height_mm))
        for paper in catalogue()
        if paper.family in _PAPERS
    )
