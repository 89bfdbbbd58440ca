"""The bench for Finish and File: the sheet as it will lie on the table."""

from __future__ import annotations

from fractions import Fraction

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from ...measure import words
from ...plan.consequences import file_kind
from ...plan.model import Mat, Plan
from .. import theme
from ..imaging import paint_print
from ..state import Print
from .canvas import RULER, Bench, fill_around, fitted, paint_unseen, ruler, seen_part, shadow


def _floats(pair: tuple[Fraction, Fraction]) -> tuple[float, float]:
    return float(pair[0]), float(pair[1])


def _centred(box: QRectF, size_mm: tuple[float, float], scale: float) -> QRectF:
    found = QRectF(0, 0, size_mm[0] * scale, size_mm[1] * scale)
    found.moveCenter(box.center())
    return found


class SheetBench(Bench):
    """The print at true proportion, measured, and what the file will say of it."""

    def paint(self, painter: QPainter, one: Print) -> None:
        plan, units = one.plan(), self.table.units
        room = QRectF(self.rect()).adjusted(RULER + 28, 44, -44, -156)
        size = (float(plan.size.width_mm), float(plan.size.height_mm))
        mat = plan.mat
        outer = size
        if mat is not None:
            framed = mat.frame or mat.opening
            outer = (max(size[0], float(framed[0])), max(size[1], float(framed[1])))
        box = fitted(*outer, room)
        scale = box.width() / outer[0]
        sheet = _centred(box, size, scale)
        shadow(painter, box if mat is not None and mat.frame else sheet)
        if mat is not None and mat.reveal >= 0:
            painter.fillRect(_centred(box, _floats(mat.opening), scale), QColor("#ffffff"))
        paint_print(painter, one, plan, sheet)
        if mat is not None:
            self._paint_mat(painter, box, sheet, mat, scale)
        elif plan.unseen_mm.any:
            paint_unseen(painter, sheet, seen_part(plan, sheet))
        around = box if mat is not None and mat.frame else sheet
        gap = 16 if mat is not None and mat.frame else 10
        upright = QPointF(around.left() - gap, sheet.bottom())
        ruler(painter, upright, sheet.height(), scale, units, True)
        lying = QPointF(sheet.left(), around.bottom() + gap)
        ruler(painter, lying, sheet.width(), scale, units, False)
        self._paint_told(painter, one, plan)

    def _paint_mat(
        self, painter: QPainter, box: QRectF, sheet: QRectF, mat: Mat, scale: float
    ) -> None:
        """Lay the mat over the print: its board, its opening, and the frame that holds it."""
        opening = _centred(box, _floats(mat.opening), scale)
        board = _centred(box, _floats(mat.frame), scale) if mat.frame else sheet
        tone = QColor("#efefec")
        tone.setAlpha(255 if mat.frame else 150)
        fill_around(painter, board, opening, tone)
        painter.setPen(QPen(QColor("#9a9a97"), 1))
        painter.drawRect(opening)
        if mat.reveal < 0:  # what is hidden, as a line under the board
            painter.setPen(QPen(QColor(theme.tones().accent), 1, Qt.PenStyle.DashLine))
            painter.drawRect(sheet)
        if mat.frame:
            painter.setPen(QPen(QColor("#3c3c3c"), 5))
            painter.drawRect(_centred(box, _floats(mat.frame), scale).adjusted(-2, -2, 2, 2))

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
