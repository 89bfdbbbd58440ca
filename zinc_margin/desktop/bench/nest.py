"""The nest: every print size of the ladder at true scale, from one corner over the photo."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter, QPen

from zinc_margin.desktop.bench.canvas import RULER, Canvas, halo_text, ruler
from zinc_margin.desktop.bench.nest_layout import (
    Edge,
    Layout,
    Outline,
    edges_of,
    free_spot,
    laid_out,
)
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.imaging import paint_print
from zinc_margin.desktop.widgets.refusals import refusable
from zinc_margin.measure import words
from zinc_margin.measure.resolution import reach
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.crop.frame import largest_crop
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.dragging import drag_reach, drag_size, size_at
from zinc_margin.plan.size.ladder import Rung
from zinc_margin.plan.size.orientation import lie_of

_GRIP = 16
"""Distance, in px, within which the chosen print's corner can be dragged."""
_NEAR = 5.0
"""Distance, in px, within which an edge can be dragged."""
_SNAP = 8.0
_FEWEST = 8
"""This many sizes are always visible."""


@dataclass
class _Pull:
    grip: str
    origin: QPointF
    scale: float
    start: PrintSize


class Nest(Canvas):
    """The drawing: drag its edges, or point at any place.

    `chosen` is emitted when a size is clicked, `pointed` when the pointer is over one, `let_go`
    when a dragged edge is released.
    """

    chosen = Signal(object)
    pointed = Signal(object)
    let_go = Signal()

    def __init__(self, table: Table) -> None:
        super().__init__(table)
        self.setMouseTracking(True)
        self.rungs: tuple[Rung, ...] = ()
        self.labels: list[QRectF] = []
        self._under: Rung | None = None
        self._free = False
        self._pull: _Pull | None = None
        self._layout: Layout | None = None
        self._sides: list[tuple[float, float]] = []
        self._scaled: tuple[Plan, tuple[int, int], tuple[QPointF, float]] | None = None
        self.setAccessibleName("Print sizes at true scale")

    @property
    def pulling(self) -> bool:
        """Whether an edge is being dragged."""
        return self._pull is not None

    def show_rungs(self, rungs: tuple[Rung, ...]) -> None:
        """Draw these sizes."""
        self.rungs = rungs
        self._sides = [(float(rung.size.width_mm), float(rung.size.height_mm)) for rung in rungs]
        self._scaled = None
        self._under = None
        self.update()

    # Positions.

    def layout_of(self, one: Print) -> Layout:
        """Return the layout; it is cached until sizes, scale or window change."""
        corner, scale = self._scale(one.plan())
        stored = self._layout
        now = (corner, scale, self.width())
        if (
            stored is None
            or stored.rungs is not self.rungs
            or (stored.corner, stored.scale, stored.width) != now
        ):
            stored = self._layout = laid_out(self.rungs, *now)
        return stored

    def _scale(self, plan: Plan) -> tuple[QPointF, float]:
        """Return the common corner and px per mm."""
        if self._pull is not None:
            return self._pull.origin, self._pull.scale
        key = (self.width(), self.height())
        if self._scaled is None or self._scaled[0] is not plan or self._scaled[1] != key:
            self._scaled = (plan, key, self._scale_now(plan))
        return self._scaled[2]

    def _scale_now(self, plan: Plan) -> tuple[QPointF, float]:
        own = (float(plan.size.width_mm), float(plan.size.height_mm))
        wide, high = (sorted(sides) for sides in zip(own, *self._sides, strict=True))
        # Sizes far beyond the photo's reach must not make the rest tiny.
        least = min(float(plan.floor_ppi), plan.far_ppi, float(plan.target_ppi))
        reached = reach(plan.turned.set_width, plan.turned.set_height, Fraction(max(1.0, least)))
        # A tiny photo must not hide all sizes either.
        most_w = max(1.15 * max(float(reached[0]), own[0]), wide[:_FEWEST][-1])
        most_h = max(1.15 * max(float(reached[1]), own[1]), high[:_FEWEST][-1])
        room_w, room_h = self.width() - RULER - 28, self.height() - 40 - 34
        scale = min(room_w / min(wide[-1], most_w), room_h / min(high[-1], most_h))
        return QPointF(RULER, self.height() - 34), scale

    def rect_of(self, one: Print, width_mm: float, height_mm: float) -> QRectF:
        """Return a print's rectangle in the drawing."""
        return self.layout_of(one).box(width_mm, height_mm)

    def _size_rect(self, one: Print, size: PrintSize) -> QRectF:
        return self.rect_of(one, float(size.width_mm), float(size.height_mm))

    # painting

    def paint(self, painter: QPainter, one: Print) -> None:
        t = theme.tones()
        plan, units = one.plan(), self.table.units
        layout = self.layout_of(one)
        corner, scale = layout.corner, layout.scale
        ground = QRectF(corner.x(), 0, self.width() - corner.x(), corner.y())
        mine = self._size_rect(one, plan.size)
        paint_print(painter, one, plan, mine)
        painter.save()
        painter.setClipRect(ground.adjusted(-2, 0, 0, 2))
        self.labels = []
        name = words.pair(plan.size.width_mm, plan.size.height_mm, units)
        own_spot = self._own_spot(mine, name)
        edges = self._placed_edges(one, ground)
        names = self._placed_names(layout, plan.size)
        self._paint_outlines(painter, layout, names)
        painter.setPen(QPen(QColor(t.accent), 2))
        painter.drawRect(mine)
        grip = QRectF(0, 0, 9, 9)
        grip.moveCenter(mine.topRight())
        painter.fillRect(grip, QColor(t.accent))
        self._paint_edges(painter, one, edges)
        painter.setFont(theme.sans(11))
        for outline in names:
            assert outline.spot is not None
            at = QPointF(outline.spot.left() + 2, outline.spot.bottom() - 3)
            halo_text(painter, at, outline.rung.size.label, True)
        painter.setFont(theme.sans(12, bold=True))
        halo_text(painter, QPointF(own_spot.left() + 2, mine.top() + 16), name, True)
        self._paint_under(painter, one)
        painter.restore()
        ruler(painter, corner, corner.y() - 12, scale, units, upright=True)
        ruler(painter, corner, self.width() - corner.x() - 24, scale, units, upright=False)

    def _own_spot(self, mine: QRectF, name: str) -> QRectF:
        wide = QFontMetricsF(theme.sans(12, bold=True)).horizontalAdvance(name)
        left = max(mine.left() + 4, mine.right() - wide - 6)
        spot = QRectF(left - 2, mine.top() + 3, wide + 4, 17)
        self.labels.append(spot)
        return spot

    def _placed_edges(
        self, one: Print, ground: QRectF
    ) -> list[tuple[Edge, QRectF, str, QRectF | None]]:
        """Return every reach edge with its box, its label and the label's place, if it fits."""
        result = edges_of(self.table, one)
        metrics = QFontMetricsF(theme.sans(12, bold=True))
        boxes = [self.rect_of(one, edge.width_mm, edge.height_mm) for edge in result]
        crosses = [QRectF(box.right() - 9, box.top() - 9, 18, 18) for box in boxes]
        placed = []
        for edge, box in zip(result, boxes, strict=True):
            text, spot = edge.words, None
            if self._pull is not None and self._pull.grip == edge.kind:
                text += f": {words.pair(edge.width_mm, edge.height_mm, self.table.units)}"
            if ground.adjusted(-40, -40, 40, 40).contains(box.topRight()):
                length = metrics.horizontalAdvance(text)
                spot = free_spot(box.topRight(), length, ground, (*self.labels, *crosses))
            if spot is not None:
                self.labels.append(spot)
            placed.append((edge, box, text, spot))
        return placed

    def _placed_names(self, layout: Layout, size: PrintSize) -> list[Outline]:
        """Return the outlines whose names fit at their free corner without touching others."""
        placed = []
        for outline in layout.outlines:
            spot = outline.spot
            if spot is None or outline.rung.size == size:
                continue
            if not any(spot.intersects(other) for other in self.labels):
                self.labels.append(spot)
                placed.append(outline)
        return placed

    def _paint_outlines(self, painter: QPainter, layout: Layout, names: Sequence[Outline]) -> None:
        """Draw the free sides of every size, dark beside light, visible on any picture.

        With very many sizes, those without a name are faint, so they don't cover the picture.
        """
        named = {id(outline) for outline in names}
        few = len(self.rungs) <= 60
        plain = [one for one in layout.outlines if few or id(one) in named]
        faint = [] if few else [one for one in layout.outlines if id(one) not in named]
        for outlines, white, black in ((faint, 10, 16), (plain, 90, 105)):
            painter.setPen(QPen(QColor(255, 255, 255, white), 1))
            painter.drawLines([line for one in outlines for line in one.light])
            painter.setPen(QPen(QColor(0, 0, 0, black), 1))
            painter.drawLines([line for one in outlines for line in one.dark])

    def _paint_edges(
        self,
        painter: QPainter,
        one: Print,
        placed: Sequence[tuple[Edge, QRectF, str, QRectF | None]],
    ) -> None:
        """Draw the photo's reach: an edge, a cross at its corner, and a label."""
        corner = self.layout_of(one).corner
        far = max((box for _, box, _, _ in placed), key=QRectF.width, default=None)
        if far is not None and not self.table.chosen:
            painter.setPen(QPen(QColor(255, 255, 255, 170), 1, Qt.PenStyle.DashLine))
            painter.drawLine(corner, far.topRight())
        solid, dashed = Qt.PenStyle.SolidLine, Qt.PenStyle.DashLine
        for _, box, _, _ in placed:
            for tone, style in (("#ffffff", solid), ("#000000", dashed)):
                painter.setPen(QPen(QColor(tone), 1, style))
                painter.drawLine(box.topLeft(), box.topRight())
                painter.drawLine(box.topRight(), box.bottomRight())
            at = box.topRight()
            for tone, wide in (("#ffffff", 4), ("#141414", 2)):
                painter.setPen(QPen(QColor(tone), wide))
                painter.drawLine(at - QPointF(8, 0), at + QPointF(8, 0))
                painter.drawLine(at - QPointF(0, 8), at + QPointF(0, 8))
        painter.setFont(theme.sans(12, bold=True))
        for _, _, text, spot in placed:
            if spot is not None:
                halo_text(painter, QPointF(spot.left() + 2, spot.bottom() - 4), text, True)

    def _paint_under(self, painter: QPainter, one: Print) -> None:
        """Draw the size under the pointer over everything else."""
        if self._under is None or self._pull is not None:
            return
        box = self._size_rect(one, self._under.size)
        painter.setPen(QPen(QColor(255, 255, 255, 200), 4))
        painter.drawRect(box)
        painter.setPen(QPen(QColor(0, 0, 0, 230), 2))
        painter.drawRect(box)

    # hands

    def _at(self, one: Print, place: QPointF) -> Rung | None:
        """Return the known size whose outline is nearest to a point."""
        best, nearest = None, 9.0
        for outline in self.layout_of(one).outlines:
            rung, box = outline.rung, outline.box
            inside = box.adjusted(0, -6, 6, 0).contains(place)
            off = min(abs(place.x() - box.right()), abs(place.y() - box.top()))
            corner = math.hypot(place.x() - box.right(), place.y() - box.top())
            distance = min(off if inside and off <= 3 else 99.0, corner)
            if distance < nearest:
                best, nearest = rung, distance
        return best

    def _any(self, one: Print, place: QPointF) -> Rung | None:
        """Return a print of any size whose free corner is at a point."""
        layout = self.layout_of(one)
        x, y = layout.mm(place)
        if x < 5 or y < 5:
            return None
        turned = one.plan().turned
        shape = Fraction(turned.set_width, turned.set_height)
        size = size_at(x, y, shape, _SNAP / layout.scale, self.table.units)
        return one.judge().as_given(size)

    def _grip(self, one: Print, place: QPointF) -> str:
        """Return the handle at a point: the print's corner or edge, a reach edge, or nothing."""
        mine = self._size_rect(one, one.plan().size)
        if (mine.topRight() - place).manhattanLength() < _GRIP:
            return "corner"
        if not self.table.chosen:
            for edge in edges_of(self.table, one):
                box = self.rect_of(one, edge.width_mm, edge.height_mm)
                if (box.topRight() - place).manhattanLength() < _GRIP:
                    return edge.kind
        if abs(place.x() - mine.right()) < _NEAR and mine.top() < place.y() < mine.bottom():
            return "right"
        if abs(place.y() - mine.top()) < _NEAR and mine.left() < place.x() < mine.right():
            return "top"
        return ""

    def _follow(self, one: Print, place: QPointF, free: bool) -> None:
        """Move the dragged handle; the drawing's scale stays fixed meanwhile."""
        assert self._pull is not None
        pull = self._pull
        x, y = (
            (place.x() - pull.origin.x()) / pull.scale,
            (pull.origin.y() - place.y()) / pull.scale,
        )
        if pull.grip in ("corner", "right", "top"):
            known = () if free else [rung.size for rung in self.rungs]
            size = drag_size(
                pull.start, pull.grip, x, y, known, _SNAP / pull.scale, self.table.units
            )
            line = replace(one.docket.size, size=size, way=None, lie=lie_of(one.plan(), size))
            crop = largest_crop(one.docket.crop)
            self.table.slide(replace(one.docket, size=line, crop=crop))
        else:
            turned = one.plan().turned
            shape = (turned.set_width, turned.set_height)
            self.table.slide(drag_reach(one.docket, pull.grip, shape, x, y, free))

    @refusable
    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is None:
            return
        place = event.position()
        if self._pull is not None:
            free = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._follow(one, place, free)
            return
        cursors = {
            "": Qt.CursorShape.CrossCursor,
            "right": Qt.CursorShape.SizeHorCursor,
            "top": Qt.CursorShape.SizeVerCursor,
        }
        grip = self._grip(one, place)
        self.setCursor(cursors.get(grip, Qt.CursorShape.SizeBDiagCursor))
        under = None if grip else self._at(one, place) or self._any(one, place)
        if under != self._under:
            self._under = under
            self.pointed.emit(under)
            self.update()

    @refusable
    def mousePressEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is None or event.button() != Qt.MouseButton.LeftButton:
            return
        grip = self._grip(one, event.position())
        if grip:
            self._pull = _Pull(grip, *self._scale(one.plan()), one.plan().size)
            self._under = None
            self.table.begin_drag()
            return
        rung = self._at(one, event.position()) or self._any(one, event.position())
        if rung is not None:
            self.chosen.emit(rung)

    @refusable
    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._pull is not None:
            self._pull = None
            self.table.end_drag()
            self.let_go.emit()
            self.update()

    def leaveEvent(self, event: object) -> None:
        self._under = None
        self.pointed.emit(None)
        self.update()
