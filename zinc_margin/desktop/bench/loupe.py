"""The loupe: output pixels at 100 % and more, what it was beside what it becomes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
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
)
from PySide6.QtWidgets import QHBoxLayout, QWidget

from ...docket.docket import Docket
from ...measure import words
from ...photo.pixels import Photo
from ...pixels.display import Screen
from ...pixels.render import Renderer
from ...plan.consequences import entries
from ...plan.model import Plan
from .. import theme
from ..imaging import paint_print
from ..parts import Switch, image_of, stacked, text
from ..state import Print, Table
from ..work import Job, Lane
from .canvas import ARROWS, fitted, halo_text

_GAP = 10
_MAP_HEIGHT = 118


class Panes(QWidget):
    """Two prints of one place, side by side; dragging pans both."""

    def __init__(self, owner: LoupeBench) -> None:
        super().__init__()
        self.owner = owner
        self.images: list[QImage | None] = [None, None]
        self.labels = ["", ""]
        self.at = (0, 0)
        self.waiting = True
        self._from: QPointF | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setAccessibleName("Loupe: before and after; arrow keys pan")

    def boxes(self) -> tuple[QRectF, QRectF]:
        """Return where the two prints are shown."""
        width = (self.width() - _GAP) // 2
        return QRectF(0, 0, width, self.height()), QRectF(width + _GAP, 0, width, self.height())

    def pane_pixels(self) -> QSize:
        """Return the size of a pane in device pixels."""
        ratio = self.devicePixelRatioF()
        box = self.boxes()[0]
        return QSize(max(1, int(box.width() * ratio)), max(1, int(box.height() * ratio)))

    def paintEvent(self, event: object) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.zinc))
        for box, image, label in zip(self.boxes(), self.images, self.labels, strict=True):
            painter.save()
            painter.setClipRect(box)
            painter.fillRect(box, QColor(t.panel))
            if image is not None:
                # one output pixel on one pixel of the device, wherever a fractional screen scale
                # has put this widget: so the corner goes to a whole device pixel, unscaled
                corner = painter.deviceTransform().map(box.topLeft())
                painter.save()
                painter.resetTransform()
                image.setDevicePixelRatio(1.0)
                painter.setWorldTransform(_unscaled(painter, round(corner.x()), round(corner.y())))
                painter.drawImage(0, 0, image)
                painter.restore()
            painter.setFont(theme.sans(13, bold=True))
            halo_text(painter, QPointF(box.left() + 10, box.bottom() - 12), label)
            if image is None or self.waiting:
                halo_text(painter, QPointF(box.left() + 10, box.top() + 22), "rendering …")
            painter.restore()
        if self.hasFocus():
            painter.setPen(QPen(QColor(t.accent), 1))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._from = event.position()
        self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._from is not None:
            by = self._from - event.position()
            self._from = event.position()
            ratio = self.devicePixelRatioF() / self.owner.zoom
            self.owner.pan(by.x() * ratio, by.y() * ratio)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._from = None
        self.setCursor(Qt.CursorShape.OpenHandCursor)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = ARROWS.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            far = self.pane_pixels().width() / 4 / self.owner.zoom
            self.owner.pan(step[0] * far, step[1] * far)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self.owner.render_soon()


def _unscaled(painter: QPainter, x: int, y: int) -> QTransform:
    """Return the transform under which a pixel is a pixel of the device, from (x, y) on."""
    device, _ = painter.deviceTransform().inverted()
    return QTransform.fromTranslate(x, y) * device


class PrintMap(QWidget):
    """A small plan of the print; press to look there."""

    def __init__(self, owner: LoupeBench) -> None:
        super().__init__()
        self.owner = owner
        self.setFixedHeight(_MAP_HEIGHT)
        self.setFixedWidth(190)
        self.setAccessibleName("Plan of the print")
        self.setCursor(Qt.CursorShape.CrossCursor)

    def _box(self, plan: Plan) -> QRectF:
        room = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        return fitted(plan.pixels.width, plan.pixels.height, room)

    def paintEvent(self, event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        one = self.owner.table.current
        if one is None:
            return
        plan = one.plan()
        box = self._box(plan)
        paint_print(painter, one, plan, box)
        left, top, width, height = self.owner.seen(plan)
        scale = box.width() / plan.pixels.width
        seen = QRectF(
            box.left() + left * scale, box.top() + top * scale, width * scale, height * scale
        )
        painter.setPen(QPen(QColor("#ffffff"), 3))
        painter.drawRect(seen)
        painter.setPen(QPen(QColor(theme.tones().accent), 2))
        painter.drawRect(seen)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        one = self.owner.table.current
        if one is not None:
            box = self._box(one.plan())
            at = event.position() - box.topLeft()
            self.owner.look_at(at.x() / box.width(), at.y() / box.height())

    mouseMoveEvent = mousePressEvent


class LoupeBench(QWidget):
    """The bench for Pixels and Sharpen."""

    def __init__(self, table: Table, lane: Lane) -> None:
        super().__init__()
        self.table, self.lane = table, lane
        self.zoom = 1
        self.centre = (0.5, 0.5)
        self._renderers: dict[str, tuple[Photo, Renderer]] = {}
        self._screen: tuple[Photo, int, Screen] | None = None
        self.setAutoFillBackground(False)
        column = stacked(self, (14, 10, 14, 12), 8)
        top = QHBoxLayout()
        self.scale = Switch(
            "Enlarged on the screen", (("1", "100 %"), ("2", "200 %"), ("4", "400 %")),
            lambda key: self.set_zoom(int(key)),
        )  # fmt: skip
        self.scale.show_value("1")
        top.addWidget(self.scale)
        top.addStretch(1)
        self.place = text("", soft=False, wrap=False)
        top.addWidget(self.place)
        column.addLayout(top)
        self.panes = Panes(self)
        column.addWidget(self.panes, 1)
        bottom = QHBoxLayout()
        bottom.setSpacing(16)
        self.map = PrintMap(self)
        bottom.addWidget(self.map)
        self.told = text("")
        bottom.addWidget(self.told, 1)
        column.addLayout(bottom)

    def paintEvent(self, event: object) -> None:
        QPainter(self).fillRect(self.rect(), QColor(theme.tones().zinc))

    def set_zoom(self, zoom: int) -> None:
        """Show each output pixel on so many device pixels each way."""
        self.zoom = zoom
        self.scale.show_value(str(zoom))
        self.render_soon()

    def look_at(self, x: float, y: float) -> None:
        """Look at a place of the print, 0–1 each."""
        self.centre = (min(1.0, max(0.0, x)), min(1.0, max(0.0, y)))
        self.render_soon()

    def pan(self, across: float, down: float) -> None:
        """Move by so many output pixels."""
        one = self.table.current
        if one is not None:
            pixels = one.plan().pixels
            left, top, width, height = self.seen(one.plan())
            x, y = left + width / 2 + across, top + height / 2 + down
            self.look_at(x / pixels.width, y / pixels.height)

    def seen(self, plan: Plan) -> tuple[int, int, int, int]:
        """Return left, top, width and height of what the loupe shows, in output pixels."""
        pane = self.panes.pane_pixels()
        width = min(plan.pixels.width, -(-pane.width() // self.zoom))
        height = min(plan.pixels.height, -(-pane.height() // self.zoom))
        left = round(self.centre[0] * plan.pixels.width - width / 2)
        top = round(self.centre[1] * plan.pixels.height - height / 2)
        left = max(0, min(plan.pixels.width - width, left))
        top = max(0, min(plan.pixels.height - height, top))
        return left, top, width, height

    def refresh(self) -> None:
        """Bring the loupe up to date with the docket."""
        self.render_soon()

    def before(self, one: Print) -> tuple[Docket, str]:
        """Return the docket that stands on the left, and what it is called."""
        if self.table.line == "sharpen":
            plain = replace(one.docket, sharpen=replace(one.docket.sharpen, on=False))
            return plain, "this print, not sharpened"
        blocks = replace(one.docket.pixels, method="blocks")
        plain = replace(one.docket, pixels=blocks, sharpen=replace(one.docket.sharpen, on=False))
        return plain, "the photo's own pixels"

    def render_soon(self) -> None:
        """Ask for the place that is looked at; only the newest request is carried out."""
        one = self.table.current
        if one is None or not self.isVisible():
            return
        plan = one.plan()
        before, label = self.before(one)
        paper = f"this print, for {plan.sharpen.paper}" if plan.sharpen else "this print"
        self.panes.labels = [label, paper]
        left, top, width, height = self.seen(plan)
        mm = 25.4 * plan.pixels.tag_x[1] / plan.pixels.tag_x[0]
        unit = self.table.units
        self.place.setText(
            f"{words.small(width * mm, unit)} of the print across, "
            f"{words.small(left * mm, unit)} from its left edge"
        )
        entry = entries(one.facts, plan, unit)[self.table.line]
        self.told.setText(
            f"{entry.decision}\n{entry.consequence}\n"
            "These are the file's own pixels, one on one pixel of the screen at 100 %. "
            "Drag to look elsewhere, or press in the plan."
        )
        self.map.update()
        if one.photo is None:
            self.panes.images = [None, None]
            self.panes.update()
            return
        self.panes.waiting = True
        photo, zoom = one.photo, self.zoom
        plans = (one.plan_of(before), plan)
        box = (left, top, width, height)

        def work(job: Job) -> list[np.ndarray]:
            return [self._render(photo, wanted, box, job, zoom) for wanted in plans]

        def done(shown: list[np.ndarray]) -> None:
            self.panes.images = [image_of(pixels) for pixels in shown]
            self.panes.waiting = False
            self.panes.update()

        self.lane.run(work, done)

    def _render(
        self, photo: Photo, plan: Plan, box: tuple[int, int, int, int], job: Job, zoom: int
    ) -> np.ndarray:
        """Render a region as the screen shows it; runs in the worker."""
        if job.cancel.is_set():
            return np.zeros((1, 1, 4), np.uint8)
        key = repr((plan.docket, plan.sharpen))
        kept = self._renderers.get(key)
        if kept is None or kept[0] is not photo:
            if len(self._renderers) > 6:
                self._renderers.clear()
            kept = (photo, Renderer(photo, plan))
            self._renderers[key] = kept
        codes = kept[1].region(*box)
        depth = codes.dtype.itemsize
        if self._screen is None or self._screen[0] is not photo or self._screen[1] != depth:
            self._screen = (photo, depth, Screen(photo.colour, codes.dtype))
        shown = self._screen[2].show(codes)
        return np.repeat(np.repeat(shown, zoom, axis=0), zoom, axis=1) if zoom > 1 else shown

    def showEvent(self, event: object) -> None:
        self.render_soon()
