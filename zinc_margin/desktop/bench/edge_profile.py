"""The edge profile: a section across one real edge, lightness over mm on paper."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from zinc_margin.desktop.bench.canvas import ARROWS
from zinc_margin.desktop.widgets import theme
from zinc_margin.measure import words
from zinc_margin.pixels.profile import Profile

_CURVES = (
    ("in the file", "file", "soft", Qt.PenStyle.DotLine, 1.2),
    ("on paper", "printed", "ink", Qt.PenStyle.SolidLine, 1.2),
    ("sharpened", "sharpened", "accent", Qt.PenStyle.DashLine, 1.2),
    ("sharpened, on paper", "both", "accent", Qt.PenStyle.SolidLine, 2.2),
)
_LEGEND = 168
_ALIKE = 0.012
"""Share of the height: curves that differ by less look the same."""
_STEP = 12
"""Output pixels per arrow key press when moving the edge."""


class EdgeProfile(QWidget):
    """Draws a profile without calculating anything.

    Parameters
    ----------
    move : callable
        Receives the move by arrow keys, in output pixels across and down.
    """

    def __init__(self, move: Callable[[int, int], None]) -> None:
        super().__init__()
        self._move = move
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip(
            "Double-click an edge in the picture; arrow keys move it, Shift in small steps"
        )
        self.profile: Profile | None = None
        self.units = "cm"
        self.setMinimumSize(360, 118)
        self.setAccessibleName("Edge profile")

    def show_profile(self, profile: Profile | None, units: str) -> None:
        """Show another profile."""
        self.profile, self.units = profile, units
        if profile is not None:
            before, after = (
                float(np.abs(np.gradient(line, profile.mm)).max())
                for line in (profile.printed, profile.both)
            )
            self.setAccessibleDescription(
                f"Printed, the edge rises by {before:.0f} L* per millimetre; sharpened first, "
                f"by {after:.0f}."
            )
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        by = ARROWS.get(Qt.Key(event.key()))
        if by is None:
            super().keyPressEvent(event)
            return
        step = 1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _STEP
        self._move(by[0] * step, by[1] * step)

    def paintEvent(self, event: object) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(t.paper))
        painter.setPen(QColor(t.ink))
        painter.setFont(theme.serif(14))
        painter.drawText(QPointF(12, 21), "Across an edge")
        painter.setFont(theme.sans(12))
        if self.profile is None:
            painter.setPen(QColor(t.soft))
            painter.drawText(QPointF(12, 44), "Searching for an edge …")
            return
        box = QRectF(12, 30, self.width() - _LEGEND - 24, self.height() - 52)
        self._paint_curves(painter, box)
        self._paint_legend(painter)

    def _paint_curves(self, painter: QPainter, box: QRectF) -> None:
        t, result = theme.tones(), self.profile
        assert result is not None
        lines = [getattr(result, field) for _, field, *_ in _CURVES]
        low, high = min(line.min() for line in lines), max(line.max() for line in lines)
        room = max(4.0, high - low) * 0.06
        low, high = low - room, high + room
        reach = float(result.mm[-1])

        def place(mm: float, light: float) -> QPointF:
            return QPointF(
                box.left() + (mm / reach + 1) / 2 * box.width(),
                box.bottom() - (light - low) / (high - low) * box.height(),
            )

        painter.setPen(QPen(QColor(t.rule), 1))
        painter.drawLine(box.bottomLeft(), box.bottomRight())
        painter.setPen(QColor(t.soft))
        for mm in _marks(reach):
            at = place(mm, low)
            painter.drawLine(at, at + QPointF(0, 4))
            text = words.local(words.small(abs(mm), self.units)) if mm else "0"
            width = painter.fontMetrics().horizontalAdvance(text)
            painter.drawText(at + QPointF(-width / 2, 17), text)
        for (_, _, tone, style, thick), line in zip(_CURVES, lines, strict=True):
            pen = QPen(QColor(getattr(t, tone)), thick, style)
            painter.setPen(pen)
            points = [place(mm, light) for mm, light in zip(result.mm, line, strict=True)]
            painter.drawPolyline(QPolygonF(points))

    def _paint_legend(self, painter: QPainter) -> None:
        t = theme.tones()
        left = self.width() - _LEGEND
        for row, (name, _, tone, style, thick) in enumerate(_CURVES):
            y = 32 + row * 28
            painter.setPen(QPen(QColor(getattr(t, tone)), thick, style))
            painter.drawLine(QPointF(left, y - 4), QPointF(left + 22, y - 4))
            painter.setPen(QColor(t.ink))
            painter.drawText(QPointF(left + 28, y), name)
            under = self._under(row)
            if under:
                painter.setPen(QColor(t.soft))
                painter.drawText(QPointF(left + 28, y + 13), under)

    def _under(self, row: int) -> str:
        """Return the name of the curve that covers this one."""
        assert self.profile is not None
        lines = [getattr(self.profile, field) for _, field, *_ in _CURVES]
        span = max(4.0, float(max(map(np.max, lines)) - min(map(np.min, lines))))
        for over in range(row + 1, len(lines)):
            if float(np.abs(lines[over] - lines[row]).max()) < _ALIKE * span:
                return "same as the line below" if over == row + 1 else "same as the last line"
        return ""


def _marks(reach: float) -> list[float]:
    """Return round positions, in mm, a few on each side of 0."""
    step = next(s for s in (0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50) if s * 3.2 > reach)
    count = int(reach * 0.96 / step)
    return [step * k for k in range(-count, count + 1)]
