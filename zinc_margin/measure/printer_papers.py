"""A printer's papers and their unprintable edges."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

Four = tuple[Fraction, Fraction, Fraction, Fraction]
"""Top, right, bottom, left, in mm."""
NEAR_MM = Fraction(1, 2)
"""Papers that differ by less are the same paper: printers report A4 as 210 or 209.9 mm."""


def turned_edges(edges: Four) -> Four:
    """Return a paper's edges after a quarter turn."""
    top, right, bottom, left = edges
    return left, top, right, bottom


@dataclass(frozen=True)
class PrinterPapers:
    """A printer's papers.

    Attributes
    ----------
    name, title : str
        The system's name, and a readable one.
    papers : tuple of (Fraction, Fraction, Four)
        Width and height in mm, and the unprintable edges.
    """

    name: str
    title: str
    papers: tuple[tuple[Fraction, Fraction, Four], ...]

    def edges_on(self, width_mm: Fraction, height_mm: Fraction) -> Four | None:
        """Return a paper's unprintable edges in this orientation; None if no paper has this size.

        If the printer also offers the paper borderless, return the edges of the bordered variant.
        """
        found: Four | None = None
        for wide, high, edges in self.papers:
            if _near(wide, width_mm) and _near(high, height_mm):
                lying = edges
            elif _near(wide, height_mm) and _near(high, width_mm):
                lying = turned_edges(edges)
            else:
                continue
            if found is None or sum(lying) > sum(found):
                found = lying
        return found


def _near(one: Fraction, other: Fraction) -> bool:
    return abs(one - other) <= NEAR_MM
