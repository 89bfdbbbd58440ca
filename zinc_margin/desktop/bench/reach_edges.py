"""The reach edges that the nest draws: how large a photo goes at some ppi."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.desktop.state import Print, Table
from zinc_margin.measure import words
from zinc_margin.plan.crop.turned import Turned
from zinc_margin.plan.size.reach import reach


@dataclass(frozen=True)
class Edge:
    """One reach edge.

    Attributes
    ----------
    kind : str
        ``asked``, ``floor``, ``eye``, or ``photo`` for another photo's reach.
    width_mm, height_mm : float
    words : str
    """

    kind: str
    width_mm: float
    height_mm: float
    words: str


def edges_of(table: Table, one: Print) -> list[Edge]:
    """Return the edges of a print's photo, or one for each of several photos that were chosen."""
    plan, units = one.plan(), table.units
    if table.chosen:
        return [
            _edge("photo", row.plan.turned, row.plan.target_ppi, row.facts.path.stem)
            for row in table.carried()
        ]
    seen = words.length(plan.far_mm, units)
    needed = Fraction(plan.far_ppi)
    return [
        _edge(kind, plan.turned, ppi, text)
        for kind, ppi, text in (
            ("asked", plan.target_ppi, f"{words.resolution(plan.target_ppi, units)}, target"),
            ("floor", plan.floor_ppi, f"{words.resolution(plan.floor_ppi, units)}, minimum"),
            ("eye", needed, f"{words.resolution(round(needed), units)}, enough from {seen}"),
        )
    ]


def _edge(kind: str, turned: Turned, ppi: Fraction, words: str) -> Edge:
    width, height = reach(turned.set_width, turned.set_height, ppi)
    return Edge(kind, float(width), float(height), words)
