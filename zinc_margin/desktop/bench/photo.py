"""The bench for Photo: the picture, and its tag compared with the true resolution."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter, QPen

from zinc_margin.desktop.bench.canvas import Canvas, fit, halo_text, shadow
from zinc_margin.desktop.model.events import DocketChanged, PixelsChanged, UnitsChanged
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.services.shell import Shell
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.imaging import preview
from zinc_margin.measure import words
from zinc_margin.measure.resolution import reach
from zinc_margin.plan.photo.findings import findings

_STRIP = 128
_GAP = 16
"""Between the labels and the figures of a column, px."""
_MARKS = {
    "blocks": "blocks",
    "halo": "existing halos",
    "edge": "its sharpest edge",
    "noise": "noise",
}


class PhotoBench(Canvas):
    """The whole photo, upright, with its facts below and marks at its findings.

    Parameters
    ----------
    show_place : callable
        Receives the place of a clicked mark, in pixels of the upright photo.
    """

    watches = (DocketChanged, PixelsChanged, UnitsChanged)
    reads = frozenset({"photo", "size", "crop", "pixels"})

    def __init__(self, table: Table, shell: Shell) -> None:
        super().__init__(table)
        self._show_place = shell.show_place
        self.marks: list[tuple[QRectF, tuple[int, int]]] = []
        self.setMouseTracking(True)
        self.setAccessibleName("The photo, with marks at its findings")

    def paint(self, painter: QPainter, one: Print) -> None:
        facts = one.facts
        room = QRectF(self.rect()).adjusted(28, 24, -28, -_STRIP - 16)
        box = fit(facts.width, facts.height, room)
        shadow(painter, box)
        source = preview(one)
        if source is None:
            painter.fillRect(box, QColor(theme.tones().panel))
            painter.setPen(QColor(theme.tones().soft))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "reading the photo …")
        else:
            painter.drawPixmap(box, source, QRectF(source.rect()))
        self._paint_marks(painter, one, box)
        strip = QRectF(0, self.height() - _STRIP, self.width(), _STRIP)
        self._paint_facts(painter, one, strip)

    def _paint_marks(self, painter: QPainter, one: Print, box: QRectF) -> None:
        """Mark the clearest place of each finding; a click goes there."""
        self.marks = []
        painter.setFont(theme.sans(12, bold=True))
        metrics = QFontMetricsF(painter.font())
        for finding in findings(one.plan()):
            if not finding.present or finding.place is None or finding.code not in _MARKS:
                continue
            scale = box.width() / one.facts.width
            at = box.topLeft() + QPointF(finding.place[0] * scale, finding.place[1] * scale)
            for tone, wide in (("#ffffff", 4), (theme.tones().accent, 2)):
                painter.setPen(QPen(QColor(tone), wide))
                painter.drawRect(QRectF(at.x() - 9, at.y() - 9, 18, 18))
            name = _MARKS[finding.code]
            long = metrics.horizontalAdvance(name)
            left = at.x() + 15 if at.x() + 20 + long < box.right() else at.x() - 15 - long
            halo_text(painter, QPointF(left, at.y() + 4), name)
            spot = QRectF(min(left, at.x() - 12), at.y() - 12, long + 28, 24)
            self.marks.append((spot, finding.place))

    def _mark_at(self, place: QPointF) -> tuple[int, int] | None:
        return next((goal for spot, goal in self.marks if spot.contains(place)), None)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        on = self._mark_at(event.position()) is not None
        shapes = Qt.CursorShape
        self.setCursor(shapes.PointingHandCursor if on else shapes.ArrowCursor)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        goal = self._mark_at(event.position())
        if goal is not None:
            self._show_place(*goal)

    def _paint_facts(self, painter: QPainter, one: Print, strip: QRectF) -> None:
        t = theme.tones()
        painter.fillRect(strip, QColor(t.panel))
        painter.setPen(QColor(t.rule))
        painter.drawLine(strip.topLeft(), strip.topRight())
        facts, units = one.facts, self.table.units
        plan = one.plan()
        tag = "none" if facts.tag_x is None else words.resolution(facts.tag_x, units)
        colour = facts.profile or "none; sRGB assumed"
        noted = "none"
        if facts.tag_x is not None:
            noted = words.pair(*reach(facts.width, facts.height, facts.tag_x), units)
        columns = (
            (
                ("Pixels", f"{facts.width} × {facts.height}"),
                ("Total", words.megapixels(facts.width, facts.height)),
                ("Shape", words.shape(facts.width, facts.height)),
            ),
            (
                ("Kind", f"{facts.format}, {facts.bits}-bit {facts.kind}"),
                ("Profile", colour),
                ("File", words.size_in_bytes(facts.file_bytes)),
            ),
            (
                ("Resolution tag", f"{tag}: {noted}" if facts.tag_x is not None else tag),
                (
                    f"At {words.resolution(plan.target_ppi, units).split()[0]}",
                    words.pair(*reach(facts.width, facts.height, plan.target_ppi), units),
                ),
                (
                    f"At {words.resolution(plan.floor_ppi, units).split()[0]}",
                    words.pair(*reach(facts.width, facts.height, plan.floor_ppi), units),
                ),
            ),
        )
        width = (strip.width() - 56) / 3
        for index, column in enumerate(columns):
            left = 28 + index * width
            metrics = QFontMetricsF(theme.sans(13))
            named = max(metrics.horizontalAdvance(label) for label, _ in column) + _GAP
            for number, (label, value) in enumerate(column):
                y = strip.top() + 20 + number * 31
                painter.setFont(theme.sans(13))
                painter.setPen(QColor(t.soft))
                painter.drawText(QRectF(left, y, named, 22), Qt.AlignmentFlag.AlignVCenter, label)
                painter.setPen(QColor(t.ink))
                painter.setFont(theme.serif(15, bold=index == 2 and number > 0))
                box = QRectF(left + named, y, width - named - 10, 22)
                shown = painter.fontMetrics().elidedText(
                    value, Qt.TextElideMode.ElideRight, int(box.width())
                )
                painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, shown)
