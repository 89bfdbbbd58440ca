"""The bench for Crop: the picture, the frame in it, and what falls off."""

from __future__ import annotations

from fractions import Fraction

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import (
    QColor,
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPen,
)

from ...docket.docket import Frame
from ...measure import words
from ...plan import framing
from .. import theme
from ..imaging import preview, turned_transform
from ..state import Print, Table
from .canvas import ARROWS, Bench, fitted, halo_text, shadow

_HANDLE = 11
_CORNERS = ("top-left", "top-right", "bottom-left", "bottom-right")


class CropBench(Bench):
    """Drag the frame, or its corners; its shape is kept, and it never leaves the picture."""

    def __init__(self, table: Table) -> None:
        super().__init__(table)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Crop frame; arrow keys move it by one pixel, with Shift by ten")
        self._grip = ""
        self._from = QPointF()
        self._frame: Frame | None = None

    def _room(self, one: Print) -> tuple[QRectF, float]:
        """Return where the turned picture lies, and screen px for a picture px."""
        box_w, box_h = (float(side) for side in one.plan().turned.box)
        box = fitted(box_w, box_h, QRectF(self.rect()).adjusted(64, 48, -64, -48))
        return box, box.width() / box_w

    def rect_of(self, one: Print, frame: Frame) -> QRectF:
        """Return where a frame lies on the bench."""
        box, scale = self._room(one)
        return QRectF(
            box.left() + float(frame.left) * scale, box.top() + float(frame.top) * scale,
            float(frame.width) * scale, float(frame.height) * scale,
        )  # fmt: skip

    def frame_rect(self) -> QRectF:
        """Return where the current frame lies on the bench."""
        one = self.table.current
        assert one is not None
        plan = one.plan()
        if one.docket.crop.fit == "whole":
            return self.rect_of(one, plan.crop)
        return self.rect_of(one, framing.current_frame(plan))

    def paint(self, painter: QPainter, one: Print) -> None:
        plan = one.plan()
        box, scale = self._room(one)
        source = preview(one)
        painter.save()
        if plan.turned.square:
            shadow(painter, box)
        if source is not None:
            painter.translate(box.left(), box.top())
            painter.scale(scale, scale)
            painter.setTransform(turned_transform(one, plan), True)
            painter.drawPixmap(0, 0, source)
        painter.restore()
        frame = self.frame_rect()
        off = QPainterPath()
        off.addRect(QRectF(self.rect()))
        hole = QPainterPath()
        hole.addRect(frame)
        zinc = QColor(theme.tones().zinc)
        zinc.setAlpha(185)
        painter.fillPath(off.subtracted(hole), zinc)
        if one.docket.crop.fit == "trim":
            self._paint_frame(painter, one, frame)
        self._paint_cuts(painter, one, box, frame)

    def _paint_frame(self, painter: QPainter, one: Print, frame: QRectF) -> None:
        painter.setPen(QPen(QColor(255, 255, 255, 200), 3))
        painter.drawRect(frame)
        painter.setPen(QPen(QColor(theme.tones().accent), 2))
        painter.drawRect(frame)
        if self._grip:
            for tone, wide in ((QColor(255, 255, 255, 120), 2.0), (QColor(0, 0, 0, 130), 1.0)):
                painter.setPen(QPen(tone, wide))
                for third in (1, 2):
                    x = frame.left() + frame.width() * third / 3
                    y = frame.top() + frame.height() * third / 3
                    painter.drawLine(QPointF(x, frame.top()), QPointF(x, frame.bottom()))
                    painter.drawLine(QPointF(frame.left(), y), QPointF(frame.right(), y))
        painter.setPen(QPen(QColor(theme.tones().accent), 4))
        arm = min(18.0, frame.width() / 4, frame.height() / 4)
        for x, sx in ((frame.left(), 1), (frame.right(), -1)):
            for y, sy in ((frame.top(), 1), (frame.bottom(), -1)):
                painter.drawLine(QPointF(x, y), QPointF(x + sx * arm, y))
                painter.drawLine(QPointF(x, y), QPointF(x, y + sy * arm))
        if self.hasFocus():
            painter.setPen(QPen(QColor(theme.tones().ink), 1, Qt.PenStyle.DotLine))
            painter.drawRect(frame.adjusted(-5, -5, 5, 5))

    def _paint_cuts(self, painter: QPainter, one: Print, box: QRectF, frame: QRectF) -> None:
        """Write along each side what falls off, or how wide the band is."""
        plan, units = one.plan(), self.table.units
        painter.setFont(theme.sans(13, bold=True))
        metrics = QFontMetricsF(painter.font())
        whole = one.docket.crop.fit == "whole"
        cut = plan.bands_mm if whole else plan.trimmed_mm
        told = " band" if whole else " off"
        if not plan.turned.square and not whole:
            says = f"{words.share(plan.trimmed_share)} off, turned corners and all"
            halo_text(painter, QPointF(frame.left() + 8, frame.bottom() + 22), says)
            return
        for name, length in (
            ("left", cut.left), ("right", cut.right), ("top", cut.top), ("bottom", cut.bottom),
        ):  # fmt: skip
            if length < Fraction(1, 20):
                continue
            says = words.small(length, units) + told
            wide = metrics.horizontalAdvance(says)
            if name in ("top", "bottom"):
                x = frame.center().x() - wide / 2
                gap = (
                    (box.top() + frame.top()) / 2
                    if name == "top"
                    else (box.bottom() + frame.bottom()) / 2
                )
                y = (
                    min(gap + 5, frame.top() - 8)
                    if name == "top"
                    else max(gap + 5, frame.bottom() + 18)
                )
                halo_text(painter, QPointF(x, y), says)
            else:
                painter.save()
                middle = (
                    (box.left() + frame.left()) / 2
                    if name == "left"
                    else (box.right() + frame.right()) / 2
                )
                middle = (
                    min(middle, frame.left() - 12)
                    if name == "left"
                    else max(middle, frame.right() + 12)
                )
                painter.translate(middle, frame.center().y())
                painter.rotate(-90)
                halo_text(painter, QPointF(-wide / 2, 5), says)
                painter.restore()

    # hands

    def _grip_at(self, place: QPointF) -> str:
        frame = self.frame_rect()
        corners = (frame.topLeft(), frame.topRight(), frame.bottomLeft(), frame.bottomRight())
        for name, corner in zip(_CORNERS, corners, strict=True):
            if (corner - place).manhattanLength() < 2 * _HANDLE:
                return name
        return "inside" if frame.contains(place) else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is None or one.docket.crop.fit != "trim":
            return
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._grip = self._grip_at(event.position())
        if self._grip:
            self._from = event.position()
            self._frame = framing.current_frame(one.plan())
            self.table.begin_drag()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is None:
            return
        if not self._grip or self._frame is None:
            shapes = {"inside": Qt.CursorShape.SizeAllCursor, "": Qt.CursorShape.ArrowCursor}
            grip = self._grip_at(event.position()) if one.docket.crop.fit == "trim" else ""
            diagonal = (
                Qt.CursorShape.SizeFDiagCursor
                if grip in ("top-left", "bottom-right")
                else Qt.CursorShape.SizeBDiagCursor
            )
            self.setCursor(shapes.get(grip, diagonal))
            return
        plan = one.plan()
        box, scale = self._room(one)
        if self._grip == "inside":
            by = (event.position() - self._from) / scale
            frame = framing.moved(plan, self._frame, _exact(by.x()), _exact(by.y()))
        else:
            at = (event.position() - box.topLeft()) / scale
            frame = framing.stretched(plan, self._frame, self._grip, at.x(), at.y())
        self.table.slide(framing.with_frame(plan, frame))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._grip:
            self._grip = ""
            self._frame = None
            self.table.end_drag()
            self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is not None and one.docket.crop.fit == "trim":
            self.table.decide("crop", frame=None)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        one = self.table.current
        step = ARROWS.get(Qt.Key(event.key()))
        if one is None or step is None or one.docket.crop.fit != "trim":
            super().keyPressEvent(event)
            return
        times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        plan = one.plan()
        frame = framing.current_frame(plan)
        moved = framing.moved(plan, frame, Fraction(step[0] * times), Fraction(step[1] * times))
        self.table.lay(framing.with_frame(plan, moved))


def _exact(value: float) -> Fraction:
    return Fraction(round(value * 1000), 1000)
