"""The edge profile: one real edge of the picture, across, in mm on paper against lightness."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from zinc_margin.desktop import theme
from zinc_margin.measure import words
from zinc_margin.pixels.profile import Profile

_CURVES = (
    ("in the file", "file", "soft", Qt.PenStyle.DotLine, 1.2),
    ("as paper prints it", "printed", "ink", Qt.PenStyle.SolidLine, 1.2),
    ("sharpened", "sharpened", "accent", Qt.PenStyle.DashLine, 1.2),
    ("sharpened, then printed", "both", "accent", Qt.PenStyle.SolidLine, 2.2),
)
_LEGEND = 168


class EdgeProfile(QWidget):
    """Draws a profile; nothing is worked out here."""

    def __init__(self) -> None:
        super().__init__()
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
                f"Printed, the edge rises by {before:.0f} L* a millimetre; sharpened first, by "
                f"{after:.0f}."
            )
        self.update()

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
            painter.drawText(QPointF(12, 44), "Double press an edge in the picture.")
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
            text = words.small(abs(mm), self.units) if mm else "0"
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
            y = 34 + row * 19
            painter.setPen(QPen(QColor(getattr(t, tone)), thick, style))
            painter.drawLine(QPointF(left, y - 4), QPointF(left + 22, y - 4))
            painter.setPen(QColor(t.ink))
            painter.drawText(QPointF(left + 28, y), name)


def _marks(reach: float) -> list[float]:
    """Return round places, in mm, a few on each side of 0."""
    step = next(s for s in (0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50) if s * 3.2 > reach)
    count = int(reach * 0.96 / step)
    return [step * k for k in range(-count, count + 1)]
