"""The layout of the nest: the sizes' positions, and spaces for labels."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction

from PySide6.QtCore import QLineF, QPointF, QRectF
from PySide6.QtGui import QFontMetricsF

from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.widgets import theme
from zinc_margin.measure import words
from zinc_margin.measure.resolution import reach
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.size.ladder import Rung

_widths: dict[str, float] = {}


@dataclass(frozen=True)
class Outline:
    """One size: its box, its free sides (dark, then light), and its name's place."""

    rung: Rung
    box: QRectF
    dark: tuple[QLineF, QLineF]
    light: tuple[QLineF, QLineF]
    spot: QRectF | None


@dataclass(frozen=True)
class Layout:
    """The whole drawing at one scale.

    Attributes
    ----------
    rungs : sequence of Rung
        The sizes.
    corner : QPointF
        The common corner of all sizes, at the lower left.
    scale : float
        px per mm.
    outlines : tuple of Outline
        Outlines of the sizes whose free corner is visible.
    """

    rungs: Sequence[Rung]
    corner: QPointF
    scale: float
    width: int
    outlines: tuple[Outline, ...]

    def box(self, width_mm: float, height_mm: float) -> QRectF:
        """Return a print's rectangle."""
        w, h = width_mm * self.scale, height_mm * self.scale
        return QRectF(self.corner.x(), self.corner.y() - h, w, h)

    def mm(self, place: QPointF) -> tuple[float, float]:
        """Return a point's distance from the common corner, in mm across and up."""
        return (
            (place.x() - self.corner.x()) / self.scale,
            (self.corner.y() - place.y()) / self.scale,
        )


def laid_out(rungs: Sequence[Rung], corner: QPointF, scale: float, width: int) -> Layout:
    """Return a layout of sizes from one corner."""
    bare = Layout(rungs, corner, scale, width, ())
    outlines = []
    metrics = QFontMetricsF(theme.sans(11))
    for rung in rungs:
        box = bare.box(float(rung.size.width_mm), float(rung.size.height_mm))
        if box.right() > width or box.top() < -box.height() * 0.5:
            continue
        dark = (QLineF(box.topLeft(), box.topRight()), QLineF(box.topRight(), box.bottomRight()))
        light = (dark[0].translated(1, 1), dark[1].translated(1, 1))
        name = rung.size.label
        if name not in _widths:
            _widths[name] = metrics.horizontalAdvance(name)
        wide = _widths[name]
        spot = QRectF(box.right() - wide - 5, box.top() + 2, wide + 4, 14)
        fits = spot.left() >= box.left() and spot.top() >= 2
        outlines.append(Outline(rung, box, dark, light, spot if fits else None))
    return Layout(rungs, corner, scale, width, tuple(outlines))


def free_spot(at: QPointF, length: float, ground: QRectF, taken: Iterable[QRectF]) -> QRectF | None:
    """Return the nearest free place for a label next to a cross."""
    taken = tuple(taken)
    for down in (-18.0, 3.0, -36.0, 21.0, -54.0, 39.0, 57.0, -72.0):
        for left in (at.x() + 12, at.x() - length - 14, at.x() - length / 2):
            spot = QRectF(left - 2, at.y() + down, length + 4, 16)
            if ground.contains(spot) and not any(spot.intersects(other) for other in taken):
                return spot
    return None


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
    """Return the reach edges of the current photo, or one for each selected photo."""
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
            ("eye", needed, f"{words.resolution(round(needed), units)}, sufficient from {seen}"),
        )
    ]


def _edge(kind: str, turned: Turned, ppi: Fraction, words: str) -> Edge:
    width, height = reach(turned.set_width, turned.set_height, ppi)
    return Edge(kind, float(width), float(height), words)
