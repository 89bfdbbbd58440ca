"""The bench for Photo: the picture, and what its tag says against what is true."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter

from ...measure import words
from ...plan.reach import reach
from .. import theme
from ..imaging import preview
from ..state import Print
from .canvas import Bench, fitted, shadow

_STRIP = 128


class PhotoBench(Bench):
    """The whole photo, upright, and its facts below."""

    def paint(self, painter: QPainter, one: Print) -> None:
        facts = one.facts
        room = QRectF(self.rect()).adjusted(28, 24, -28, -_STRIP - 16)
        box = fitted(facts.width, facts.height, room)
        shadow(painter, box)
        source = preview(one)
        if source is None:
            painter.fillRect(box, QColor(theme.tones().panel))
            painter.setPen(QColor(theme.tones().soft))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "reading the photo …")
        else:
            painter.drawPixmap(box, source, QRectF(source.rect()))
        strip = QRectF(0, self.height() - _STRIP, self.width(), _STRIP)
        self._paint_facts(painter, one, strip)

    def _paint_facts(self, painter: QPainter, one: Print, strip: QRectF) -> None:
        t = theme.tones()
        painter.fillRect(strip, QColor(t.panel))
        painter.setPen(QColor(t.rule))
        painter.drawLine(strip.topLeft(), strip.topRight())
        facts, units = one.facts, self.table.units
        plan = one.plan()
        tag = "none" if facts.tag_x is None else f"{words.ppi(facts.tag_x)} ppi"
        colour = facts.profile or "none; taken as sRGB"
        noted = "says nothing"
        if facts.tag_x is not None:
            noted = words.pair(*reach(facts.width, facts.height, facts.tag_x), units)
        columns = (
            (
                ("Pixels", f"{facts.width} × {facts.height}"),
                ("In all", words.megapixels(facts.width, facts.height)),
                ("Shape", words.shape(facts.width, facts.height)),
            ),
            (
                ("Kind", f"{facts.format}, {facts.bits}-bit {facts.kind}"),
                ("Profile", colour),
                ("File", words.size_in_bytes(facts.file_bytes)),
            ),
            (
                ("Its tag", f"{tag}: {noted}" if facts.tag_x is not None else tag),
                (
                    f"At {words.ppi(plan.target_ppi)}",
                    words.pair(*reach(facts.width, facts.height, plan.target_ppi), units),
                ),
                (
                    f"At {words.ppi(plan.floor_ppi)}",
                    words.pair(*reach(facts.width, facts.height, plan.floor_ppi), units),
                ),
            ),
        )
        width = (strip.width() - 56) / 3
        for index, column in enumerate(columns):
            left = 28 + index * width
            for number, (label, value) in enumerate(column):
                y = strip.top() + 20 + number * 31
                painter.setFont(theme.sans(13))
                painter.setPen(QColor(t.soft))
                painter.drawText(QRectF(left, y, 60, 22), Qt.AlignmentFlag.AlignVCenter, label)
                painter.setPen(QColor(t.ink))
                painter.setFont(theme.serif(15, bold=index == 2 and number > 0))
                box = QRectF(left + 60, y, width - 70, 22)
                shown = painter.fontMetrics().elidedText(
                    value, Qt.TextElideMode.ElideRight, int(box.width())
                )
                painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, shown)
