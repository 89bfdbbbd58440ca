"""The bench for Finish and File: the sheet as it will lie on the table."""

from __future__ import annotations

from fractions import Fraction

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from ...measure import words
from ...plan.consequences import file_kind
from ...plan.model import Plan
from .. import theme
from ..imaging import paint_print
from ..state import Print
from .canvas import RULER, Bench, fitted, ruler, shadow


class SheetBench(Bench):
    """The print at true proportion, measured, and what the file will say of it."""

    def paint(self, painter: QPainter, one: Print) -> None:
        plan, units = one.plan(), self.table.units
        room = QRectF(self.rect()).adjusted(RULER + 28, 44, -44, -156)
        wide, high = float(plan.size.width_mm), float(plan.size.height_mm)
        sheet = fitted(wide, high, room)
        scale = sheet.width() / wide
        shadow(painter, sheet)
        paint_print(painter, one, plan, sheet)
        ruler(painter, sheet.bottomLeft() + QPointF(-10, 0), sheet.height(), scale, units, True)
        ruler(painter, sheet.bottomLeft() + QPointF(0, 10), sheet.width(), scale, units, False)
        self._paint_told(painter, one, plan)

    def _paint_told(self, painter: QPainter, one: Print, plan: Plan) -> None:
        t = theme.tones()
        strip = QRectF(0, self.height() - 100, self.width(), 100)
        painter.fillRect(strip, QColor(t.panel))
        painter.setPen(QPen(QColor(t.rule)))
        painter.drawLine(strip.topLeft(), strip.topRight())
        units = self.table.units
        tags = (plan.pixels.tag_x, plan.pixels.tag_y)
        exact_x, exact_y = (words.trimmed_zeros(Fraction(*tag), 4) for tag in tags)
        tag = f"{exact_x} ppi" if exact_x == exact_y else f"{exact_x} by {exact_y} ppi"
        told = (
            ("The print", f"{words.pair(plan.size.width_mm, plan.size.height_mm, units)}, exactly"),
            ("Its pixels", f"{plan.pixels.width} × {plan.pixels.height}"),
            ("Its tag", tag),
            ("The file", f"{file_kind(plan)}, {words.size_in_bytes(plan.file.bytes_estimate)}"),
        )
        width = (strip.width() - 56) / len(told)
        for index, (label, value) in enumerate(told):
            left = 28 + index * width
            painter.setFont(theme.sans(13))
            painter.setPen(QColor(t.soft))
            painter.drawText(QPointF(left, strip.top() + 36), label)
            painter.setFont(theme.serif(15))
            if QFontMetricsF(painter.font()).horizontalAdvance(value) > width - 12:
                painter.setFont(theme.serif(13))
            painter.setPen(QColor(t.ink))
            box = QRectF(left, strip.top() + 44, width - 12, 40)
            painter.drawText(
                box, int(Qt.TextFlag.TextWordWrap) | int(Qt.AlignmentFlag.AlignTop), value
            )
