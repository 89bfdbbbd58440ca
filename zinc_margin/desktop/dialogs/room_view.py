"""A photograph of a room, with marks and a print to drag into place."""

from __future__ import annotations

import math
from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)

from zinc_margin.desktop.bench.canvas import ARROWS, fit, halo_text
from zinc_margin.desktop.dialogs.page import PagePreview
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.refusals import refusable
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.room_marks import RoomMarks, Spot
from zinc_margin.plan.finish.own_wall import in_order

_REACH = 14.0
_GLASS, _LARGER = 150, 4.0
PRINT = "the print"


class RoomView(PagePreview):
    """Shows the room with the print; marks and print are dragged, or moved by keys.

    Parameters
    ----------
    changed : callable
        Receives the marks and the print's centre after every move.
    told : callable
        Called when another mark is selected.
    """

    def __init__(
        self, changed: Callable[[RoomMarks, Spot], None], told: Callable[[], None]
    ) -> None:
        super().__init__("The room with the print")
        self._changed, self._told = changed, told
        self.marks: RoomMarks | None = None
        self.middle: Spot = (0.0, 0.0)
        self.outline: tuple[Spot, ...] = ()
        self.label = ""
        self.chosen: str | None = None
        self._grip: Spot | None = None
        self._plain: QImage | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(False)

    def show_room(self, image: QImage, marks: RoomMarks, middle: Spot) -> None:
        """Show another room."""
        self._plain, self.image = image, image
        self.marks, self.middle, self.chosen = marks, middle, None
        self.update()

    @property
    def by_sides(self) -> bool:
        """Whether a marked size gives the scale, so two points are not needed."""
        marks = self.marks
        return marks is not None and marks.corners is not None and marks.sides is not None

    def names(self) -> list[str]:
        """Return the selectable parts: the marks and the print."""
        marks = self.marks
        if marks is None:
            return []
        two = marks.points is not None and not self.by_sides
        points = ["the first cross", "the second cross"] if two else []
        corners = [f"corner {n}" for n in range(1, 5)] if marks.corners is not None else []
        return [*points, *corners, PRINT]

    def spot_of(self, name: str) -> Spot:
        """Return the position of a mark, or of the print's centre, in pixels of the photograph."""
        assert self.marks is not None
        if name == PRINT:
            return self.middle
        if name.startswith("corner"):
            assert self.marks.corners is not None
            return self.marks.corners[int(name[-1]) - 1]
        assert self.marks.points is not None
        return self.marks.points[0 if "first" in name else 1]

    # Positions.

    def _lie(self) -> tuple[QRectF, float]:
        assert self.marks is not None
        room = QRectF(self.rect()).adjusted(8, 8, -8, -8)
        box = fit(self.marks.width, self.marks.height, room)
        return box, box.width() / self.marks.width

    def seen(self, spot: Spot) -> QPointF:
        """Return the screen position of a point in the photograph."""
        box, scale = self._lie()
        return QPointF(box.left() + (spot[0] + 0.5) * scale, box.top() + (spot[1] + 0.5) * scale)

    def _spot(self, at: QPointF) -> Spot:
        box, scale = self._lie()
        return (at.x() - box.left()) / scale - 0.5, (at.y() - box.top()) / scale - 0.5

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.tones().zinc))
        if self.image is None or self.marks is None:
            return
        box, _ = self._lie()
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(box, self.image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        accent = QColor(theme.tones().accent)
        if self._grip is not None and self.chosen == PRINT and self.outline:
            painter.setPen(QPen(accent, 2, Qt.PenStyle.DashLine))
            painter.drawPolygon(QPolygonF([self.seen(spot) for spot in self.outline]))
        self._paint_marks(painter, accent)
        if self._grip is not None and self.chosen not in (None, PRINT):
            self._paint_glass(painter)

    def _paint_marks(self, painter: QPainter, accent: QColor) -> None:
        assert self.marks is not None
        marks = self.marks
        if marks.corners is not None:
            corners = marks.corners
            with suppress(BadRequest):  # while they are being dragged past each other
                corners = in_order(corners)
            painter.setPen(QPen(accent, 1.2, Qt.PenStyle.DashLine))
            painter.drawPolygon(QPolygonF([self.seen(spot) for spot in corners]))
        if marks.points is not None and not self.by_sides:
            one, other = (self.seen(spot) for spot in marks.points)
            painter.setPen(QPen(accent, 1.6))
            painter.drawLine(one, other)
            painter.setFont(theme.sans(14))
            halo_text(painter, (one + other) / 2 + QPointF(-18, -8), self.label)
        for name in self.names():
            if name == PRINT:
                continue
            at = self.seen(self.spot_of(name))
            wide = 3.0 if name == self.chosen else 1.6
            for tone, thick in (("#ffffff", wide + 2), (accent.name(), wide)):
                painter.setPen(QPen(QColor(tone), thick))
                painter.drawLine(at + QPointF(-8, 0), at + QPointF(8, 0))
                painter.drawLine(at + QPointF(0, -8), at + QPointF(0, 8))

    def _paint_glass(self, painter: QPainter) -> None:
        """Show the area under the selected mark magnified, in the farthest corner."""
        assert self._plain is not None and self.marks is not None and self.chosen is not None
        spot = self.spot_of(self.chosen)
        at = self.seen(spot)
        left = 16 if at.x() > self.width() / 2 else self.width() - _GLASS - 16
        goal = QRectF(left, 16, _GLASS, _GLASS)
        _, scale = self._lie()
        by = self._plain.width() / self.marks.width
        side = _GLASS / scale / _LARGER * by
        middle = QPointF((spot[0] + 0.5) * by, (spot[1] + 0.5) * by)
        source = QRectF(middle.x() - side / 2, middle.y() - side / 2, side, side)
        painter.fillRect(goal, QColor("#808080"))
        painter.drawImage(goal, self._plain, source)
        painter.setPen(QPen(QColor(theme.tones().accent), 1))
        painter.drawLine(goal.center() + QPointF(-30, 0), goal.center() + QPointF(30, 0))
        painter.drawLine(goal.center() + QPointF(0, -30), goal.center() + QPointF(0, 30))
        painter.setPen(QPen(QColor("#ffffff"), 2))
        painter.drawRect(goal)

    # by hand

    @refusable
    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.marks is None or event.button() != Qt.MouseButton.LeftButton:
            return
        at = event.position()
        near = [
            (math.hypot(*(at - self.seen(self.spot_of(name))).toTuple()), name)
            for name in self.names()
            if name != PRINT
        ]
        name = min(near)[1] if near and min(near)[0] <= _REACH else None
        if name is None and self.outline:
            shape = QPolygonF([self.seen(spot) for spot in self.outline])
            if shape.containsPoint(at, Qt.FillRule.OddEvenFill):
                name = PRINT
        self.chosen = name
        if name is not None:
            spot, under = self.spot_of(name), self._spot(at)
            self._grip = under[0] - spot[0], under[1] - spot[1]
        self._told()
        self.update()

    @refusable
    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grip is not None and self.chosen is not None:
            x, y = self._spot(event.position())
            self._move(self.chosen, (x - self._grip[0], y - self._grip[1]))

    @refusable
    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._grip = None
        self.update()

    @refusable
    def keyPressEvent(self, event: QKeyEvent) -> None:
        names, key = self.names(), Qt.Key(event.key())
        if not names:
            super().keyPressEvent(event)
        elif key == Qt.Key.Key_Space:
            at = names.index(self.chosen) if self.chosen in names else -1
            self.chosen = names[(at + 1) % len(names)]
            self._told()
            self.update()
        elif key in ARROWS and self.chosen is not None:
            _, scale = self._lie()
            fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            step = (1 if fine else 8) / scale
            x, y = self.spot_of(self.chosen)
            right, down = ARROWS[key]
            self._move(self.chosen, (x + right * step, y + down * step))
        else:
            super().keyPressEvent(event)

    def _move(self, name: str, spot: Spot) -> None:
        assert self.marks is not None
        inside = (
            max(0.0, min(spot[0], self.marks.width - 1.0)),
            max(0.0, min(spot[1], self.marks.height - 1.0)),
        )
        if name == PRINT:
            self.middle = inside
        elif name.startswith("corner"):
            assert self.marks.corners is not None
            corners = list(self.marks.corners)
            corners[int(name[-1]) - 1] = inside
            a, b, c, d = corners
            self.marks = replace(self.marks, corners=(a, b, c, d))
        else:
            assert self.marks.points is not None
            one, other = self.marks.points
            points = (inside, other) if "first" in name else (one, inside)
            self.marks = replace(self.marks, points=points)
        self._changed(self.marks, self.middle)
        self.update()
