"""The nest: every print size of the ladder at true scale, from one corner over the photo."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter, QPen

from ...measure import words
from ...measure.sizes import PrintSize
from ...plan.ladder import Rung
from ...plan.reach import needed_ppi, reach
from ...plan.wishes import dragged
from .. import theme
from ..imaging import paint_print
from ..state import Print, Table
from .canvas import RULER, Bench, halo_text, ruler

_GRIP = 16
"""How near the free corner of the chosen print a press must be to pull it, in px."""


class Nest(Bench):
    """The drawing; the chosen print's free corner can be pulled.

    `chosen` is sent when a size is pressed, `pointed` when one is pointed at.
    """

    chosen = Signal(object)
    pointed = Signal(object)

    def __init__(self, table: Table) -> None:
        super().__init__(table)
        self.setMouseTracking(True)
        self.rungs: tuple[Rung, ...] = ()
        self._under: Rung | None = None
        self._pulled: tuple[QPointF, float, PrintSize] | None = None
        self.setAccessibleName("Print sizes at true scale")

    def show_rungs(self, rungs: tuple[Rung, ...]) -> None:
        """Draw these sizes."""
        self.rungs = rungs
        self._under = None
        self.update()

    def _scale(self, one: Print) -> tuple[QPointF, float]:
        """Return the common corner and px for a mm."""
        if self._pulled is not None:
            return self._pulled[0], self._pulled[1]
        plan = one.plan()
        sizes = [plan.size, *(rung.size for rung in self.rungs)]
        width = max(float(size.width_mm) for size in sizes)
        height = max(float(size.height_mm) for size in sizes)
        # what is far larger than the photo can carry must not make the rest tiny
        least = min(float(plan.floor_ppi), plan.needed_ppi, float(plan.target_ppi))
        reached = reach(plan.turned.set_width, plan.turned.set_height, Fraction(max(1.0, least)))
        width = min(width, 1.3 * max(float(reached[0]), float(plan.size.width_mm)))
        height = min(height, 1.3 * max(float(reached[1]), float(plan.size.height_mm)))
        room_w, room_h = self.width() - RULER - 28, self.height() - 40 - 34
        scale = min(room_w / width, room_h / height)
        return QPointF(RULER, self.height() - 34), scale

    def rect_of(self, one: Print, width_mm: float, height_mm: float) -> QRectF:
        """Return where a print lies in the drawing."""
        corner, scale = self._scale(one)
        w, h = width_mm * scale, height_mm * scale
        return QRectF(corner.x(), corner.y() - h, w, h)

    def paint(self, painter: QPainter, one: Print) -> None:
        t = theme.tones()
        plan, units = one.plan(), self.table.units
        corner, scale = self._scale(one)
        ground = QRectF(corner.x(), 0, self.width() - corner.x(), corner.y())
        mine = self.rect_of(one, float(plan.size.width_mm), float(plan.size.height_mm))
        paint_print(painter, one, plan, mine)
        painter.save()
        painter.setClipRect(ground.adjusted(-2, 0, 0, 2))
        taken = [QRectF(mine.right() - 80, mine.top() - 20, 92, 40)]
        for rung in sorted(self.rungs, key=lambda rung: -float(rung.size.width_mm)):
            box = self.rect_of(one, float(rung.size.width_mm), float(rung.size.height_mm))
            if rung.size == plan.size or not self._reached(box):
                continue
            painter.setPen(QPen(QColor(255, 255, 255, 90), 1))
            painter.drawRect(box.translated(1, -1))
            over = rung is self._under
            painter.setPen(QPen(QColor(0, 0, 0, 230 if over else 105), 2 if over else 1))
            painter.drawRect(box)
        painter.setPen(QPen(QColor(t.accent), 2))
        painter.drawRect(mine)
        grip = QRectF(0, 0, 9, 9)
        grip.moveCenter(mine.topRight())
        painter.fillRect(grip, QColor(t.accent))
        self._paint_marks(painter, one, corner, scale, taken)
        self._paint_labels(painter, one, taken)
        painter.setFont(theme.sans(12, bold=True))
        name = words.pair(plan.size.width_mm, plan.size.height_mm, units)
        wide = QFontMetricsF(painter.font()).horizontalAdvance(name)
        halo_text(
            painter, QPointF(max(mine.left() + 4, mine.right() - wide - 6), mine.top() + 16), name
        )
        painter.restore()
        ruler(painter, corner, corner.y() - 12, scale, units, upright=True)
        ruler(painter, corner, self.width() - corner.x() - 24, scale, units, upright=False)

    def _reached(self, box: QRectF) -> bool:
        """Tell whether an outline's right side and top can be seen at all."""
        return box.right() <= self.width() and box.top() >= -box.height() * 0.5

    def _paint_labels(self, painter: QPainter, one: Print, taken: list[QRectF]) -> None:
        """Name the sizes at their free corner, as many as fit without touching."""
        painter.setFont(theme.sans(11))
        metrics = QFontMetricsF(painter.font())
        for rung in sorted(self.rungs, key=lambda rung: rung is not self._under):
            box = self.rect_of(one, float(rung.size.width_mm), float(rung.size.height_mm))
            words_ = rung.size.label
            wide = metrics.horizontalAdvance(words_)
            spot = QRectF(box.right() - wide - 5, box.top() + 2, wide + 4, 14)
            if rung.size == one.plan().size or not self._reached(box):
                continue
            if spot.left() < box.left() or spot.top() < 2:
                continue
            if any(spot.intersects(other) for other in taken):
                continue
            taken.append(spot)
            halo_text(painter, QPointF(spot.left() + 2, spot.bottom() - 3), words_)

    def _paint_marks(
        self, painter: QPainter, one: Print, corner: QPointF, scale: float, taken: list[QRectF]
    ) -> None:
        """Mark on the diagonal how far the photo reaches."""
        plan = one.plan()
        t = theme.tones()
        width, height = plan.turned.set_width, plan.turned.set_height
        needed = needed_ppi(plan.distance_mm)
        marks = [
            (float(plan.target_ppi), f"{words.ppi(plan.target_ppi)} ppi asked"),
            (float(plan.floor_ppi), f"{words.ppi(plan.floor_ppi)} ppi floor"),
            (
                needed,
                f"{needed:.0f} ppi, enough from {words.length(plan.distance_mm, self.table.units)}",
            ),
        ]
        far = 25.4 / min(ppi for ppi, _ in marks) * scale
        painter.setPen(QPen(QColor(255, 255, 255, 170), 1, Qt.PenStyle.DashLine))
        painter.drawLine(corner, corner + QPointF(width * far, -height * far))
        painter.setFont(theme.sans(12, bold=True))
        metrics = QFontMetricsF(painter.font())
        for ppi, words_ in marks:
            at = corner + QPointF(width / ppi * 25.4 * scale, -height / ppi * 25.4 * scale)
            for tone, wide in (
                (QColor("#ffffff"), 4),
                (QColor(t.ink if t is theme.LIGHT else "#000000"), 2),
            ):
                painter.setPen(QPen(tone, wide))
                painter.drawLine(at - QPointF(9, 0), at + QPointF(9, 0))
                painter.drawLine(at - QPointF(0, 9), at + QPointF(0, 9))
            length = metrics.horizontalAdvance(words_)
            left = at.x() + 12 if at.x() + 18 + length < self.width() else at.x() - length - 12
            for down in (-8.0, 22.0, -26.0, 40.0):
                spot = QRectF(left - 2, at.y() + down - 12, length + 4, 16)
                if not any(spot.intersects(other) for other in taken):
                    break
            taken.append(spot)
            halo_text(painter, QPointF(left, spot.bottom() - 4), words_)

    def _at(self, one: Print, place: QPointF) -> Rung | None:
        """Return the size whose outline is nearest to a place."""
        best, nearest = None, 14.0
        for rung in self.rungs:
            box = self.rect_of(one, float(rung.size.width_mm), float(rung.size.height_mm))
            inside = box.adjusted(0, -6, 6, 0).contains(place)
            off = min(abs(place.x() - box.right()), abs(place.y() - box.top()))
            corner = math.hypot(place.x() - box.right(), place.y() - box.top())
            distance = min(off if inside else 99.0, corner)
            if distance < nearest:
                best, nearest = rung, distance
        return best

    def _corner(self, one: Print) -> QPointF:
        """Return the free corner of the chosen print, which can be pulled."""
        size = one.plan().size
        return self.rect_of(one, float(size.width_mm), float(size.height_mm)).topRight()

    def _pull(self, one: Print, place: QPointF, free: bool) -> None:
        """Set the size by its pulled corner; the drawing's scale stays while it is pulled."""
        assert self._pulled is not None
        origin, scale, start = self._pulled
        size = dragged(
            start,
            (place.x() - origin.x()) / scale,
            (origin.y() - place.y()) / scale,
            () if free else [rung.size for rung in self.rungs],
            9 / scale,
        )
        line = replace(one.docket.size, size=size, way=None)
        self.table.slide(replace(one.docket, size=line, crop=replace(one.docket.crop, frame=None)))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is None:
            return
        if self._pulled is not None:
            free = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._pull(one, event.position(), free)
            return
        if (self._corner(one) - event.position()).manhattanLength() < _GRIP:
            self.setCursor(Qt.CursorShape.SizeBDiagCursor)
            return
        under = self._at(one, event.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if under else Qt.CursorShape.ArrowCursor)
        if under is not self._under:
            self._under = under
            self.pointed.emit(under)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._pulled is not None:
            self._pulled = None
            self.table.end_drag()
            self.update()

    def leaveEvent(self, event: object) -> None:
        self._under = None
        self.pointed.emit(None)
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is None or event.button() != Qt.MouseButton.LeftButton:
            return
        if (self._corner(one) - event.position()).manhattanLength() < _GRIP:
            self._pulled = (*self._scale(one), one.plan().size)
            self.table.begin_drag()
            return
        rung = self._at(one, event.position())
        if rung is not None:
            self.chosen.emit(rung)
