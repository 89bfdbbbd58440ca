"""The loupe's panes: one place of the print in two or four versions, panned together."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QResizeEvent,
    QTransform,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from zinc_margin.desktop.bench.canvas import ARROWS, halo_text
from zinc_margin.desktop.bench.views import LookedAt
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.imaging import paint_print
from zinc_margin.plan.model import Plan

_GAP, _GRIP = 10, 8


class Panes(QWidget):
    """Versions of one place; parts not yet rendered come from the preview."""

    def __init__(self, owner: LookedAt) -> None:
        super().__init__()
        self.owner = owner
        self.count = 2
        self.images: list[QImage | None] = [None] * 4
        self.labels = [""] * 4
        self.stale = True
        self.remark = ""
        self.swapped = False
        self.divided, self.divide = False, 0.5
        self._dragging = False
        self._from: QPointF | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setAccessibleName(
            "Loupe; arrow keys pan, holding X shows the second version in the first pane"
        )

    def boxes(self) -> list[QRectF]:
        """Return the panes' rectangles; with a divider, both cover the whole view."""
        if self.divided:
            return [QRectF(self.rect())] * 2
        width = (self.width() - _GAP) // 2
        rows = 1 if self.count == 2 else 2
        height = (self.height() - _GAP * (rows - 1)) // rows
        return [
            QRectF((width + _GAP) * (at % 2), (height + _GAP) * (at // 2), width, height)
            for at in range(self.count)
        ]

    def pane_pixels(self) -> QSize:
        """Return the size of a pane in device pixels."""
        ratio = self.devicePixelRatioF()
        box = self.boxes()[0]
        return QSize(max(1, int(box.width() * ratio)), max(1, int(box.height() * ratio)))

    def paintEvent(self, event: object) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.zinc))
        for at, box in enumerate(self.boxes()):
            source = 1 if at == 0 and self.swapped else at
            painter.save()
            painter.setClipRect(self._clip(at, box))
            image = self.images[source]
            painter.fillRect(box, QColor(t.panel if image is None else t.zinc))
            if image is not None and not self.stale:
                self._paint_image(painter, image, box)
            else:
                self._paint_rough(painter, box)
            self._paint_edge(painter, box)
            self._paint_words(painter, self._clip(at, box), source)
            painter.restore()
        if self.divided:
            along = self.divide * self.width()
            for tone, wide in ((t.paper, 5.0), (t.accent, 2.0)):
                painter.setPen(QPen(QColor(tone), wide))
                painter.drawLine(QPointF(along, 0), QPointF(along, self.height()))
        if self.hasFocus():
            painter.setPen(QPen(QColor(t.accent), 1))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def _clip(self, at: int, box: QRectF) -> QRectF:
        """Return the visible part of a pane: one side of the divider, if there is one."""
        if not self.divided:
            return box
        left = round(self.divide * box.width())
        return box.adjusted(left, 0, 0, 0) if at else box.adjusted(0, 0, left - box.width(), 0)

    def _paint_words(self, painter: QPainter, box: QRectF, source: int) -> None:
        painter.setFont(theme.sans(13, bold=True))
        halo_text(painter, QPointF(box.left() + 10, box.bottom() - 12), self.labels[source])
        if self.remark:
            halo_text(painter, QPointF(box.left() + 10, box.top() + 22), self.remark)

    def swap(self, swapped: bool) -> None:
        """Show the second version in the first pane while a key or button is held."""
        self.swapped = swapped
        self.update()

    def _near_divide(self, at: QPointF) -> bool:
        return self.divided and abs(at.x() - self.divide * self.width()) <= _GRIP

    def _move_divide(self, share: float) -> None:
        self.divide = min(0.98, max(0.02, share))
        self.update()

    def _paint_edge(self, painter: QPainter, box: QRectF) -> None:
        """Mark the edge of the profile."""
        result, one = self.owner.edge.profile, self.owner.table.current
        if result is None or one is None or not self.owner.edge.isVisible():
            return
        origin, zoom = self._origin(one.plan(), box)
        at = origin + QPointF(*result.centre) * zoom
        way = QPointF(math.cos(result.angle), math.sin(result.angle)) * 22
        for tone, wide in ((theme.tones().paper, 4.0), (theme.tones().accent, 1.6)):
            painter.setPen(QPen(QColor(tone), wide))
            painter.drawLine(at - way, at + way)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.follow(event.position())

    def follow(self, place: QPointF) -> None:
        """Show the profile of the edge at a point of the panes."""
        one = self.owner.table.current
        box = next((box for box in self.boxes() if box.contains(place)), None)
        if one is None or box is None:
            return
        pixels = one.plan().pixels
        origin, zoom = self._origin(one.plan(), box)
        at = (place - origin) / zoom
        self.owner.follow_edge(at.x() / pixels.width, at.y() / pixels.height)

    def _origin(self, plan: Plan, box: QRectF) -> tuple[QPointF, float]:
        """Return the print's corner in a pane, and the size of one of its pixels."""
        left, top, width, height = self.owner.seen(plan)
        zoom = self.owner.zoom_of(plan) / self.devicePixelRatioF()
        return box.center() - QPointF(left + width / 2, top + height / 2) * zoom, zoom

    def _paint_image(self, painter: QPainter, image: QImage, box: QRectF) -> None:
        # Map one output pixel to one device pixel, even if a fractional screen scale shifts this
        # widget: so the corner is moved to a whole device pixel, unscaled.
        ratio = self.devicePixelRatioF()
        size = QPointF(image.width() / ratio, image.height() / ratio)
        spare_x = max(0.0, (box.width() - size.x()) / 2)
        spare_y = max(0.0, (box.height() - size.y()) / 2)
        corner = painter.deviceTransform().map(box.topLeft() + QPointF(spare_x, spare_y))
        painter.save()
        painter.resetTransform()
        image.setDevicePixelRatio(1.0)
        painter.setWorldTransform(_device_transform(painter, round(corner.x()), round(corner.y())))
        painter.drawImage(0, 0, image)
        painter.restore()

    def _paint_rough(self, painter: QPainter, box: QRectF) -> None:
        """Show the place immediately from the preview; the true pixels follow."""
        one = self.owner.table.current
        if one is None or one.preview is None:
            return
        plan = one.plan()
        left, top, width, height = self.owner.seen(plan)
        zoom = self.owner.zoom_of(plan) / self.devicePixelRatioF()
        spare_x = max(0.0, (box.width() - width * zoom) / 2)
        spare_y = max(0.0, (box.height() - height * zoom) / 2)
        goal = QRectF(
            box.left() + spare_x - left * zoom,
            box.top() + spare_y - top * zoom,
            plan.pixels.width * zoom,
            plan.pixels.height * zoom,
        )
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        paint_print(painter, one, plan, goal)
        painter.restore()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._dragging = self._near_divide(event.position())
        if self._dragging:
            return
        self._from = event.position()
        self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        one = self.owner.table.current
        if self._dragging:
            self._move_divide(event.position().x() / max(1, self.width()))
        elif self._from is not None and one is not None:
            by = self._from - event.position()
            self._from = event.position()
            ratio = self.devicePixelRatioF() / self.owner.zoom_of(one.plan())
            self.owner.pan(by.x() * ratio, by.y() * ratio)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._from, self._dragging = None, False
        self.setCursor(Qt.CursorShape.OpenHandCursor)

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.owner.step_zoom(1 if event.angleDelta().y() > 0 else -1)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = ARROWS.get(Qt.Key(event.key()))
        one = self.owner.table.current
        if event.key() == Qt.Key.Key_X:
            self.swap(True)
        elif self.divided and step and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self._move_divide(self.divide + step[0] * 0.05)
        elif step is None or one is None:
            super().keyPressEvent(event)
        else:
            far = self.pane_pixels().width() / 4 / self.owner.zoom_of(one.plan())
            self.owner.pan(step[0] * far, step[1] * far)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_X and not event.isAutoRepeat():
            self.swap(False)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self.owner.render_soon()


def _device_transform(painter: QPainter, x: int, y: int) -> QTransform:
    """Return the transform that maps one pixel to one device pixel, starting at (x, y)."""
    device, _ = painter.deviceTransform().inverted()
    return QTransform.fromTranslate(x, y) * device
