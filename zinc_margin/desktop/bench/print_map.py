"""A small map of the print: the current view, and other places worth a look."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QEnterEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from zinc_margin.desktop.bench.canvas import fit, halo_text
from zinc_margin.desktop.bench.views import LookedAt
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.imaging import paint_print
from zinc_margin.plan.crop.places import on_print
from zinc_margin.plan.model import Plan

_HEIGHT = 118
_SMALL = 14
"""A view of fewer pixels on the map gets a ring around it."""
SIGHTS = {
    "contrast": "strongest edge",
    "smooth": "smoothest tone",
    "shadow": "deepest shadow",
    "texture": "busiest texture",
    "blocks": "JPEG artefacts in a smooth area",
}


def sights_of(one: Print) -> list[tuple[str, tuple[float, float]]]:
    """Return the places worth a look on this print: names and places, 0–1 each way."""
    measured = one.facts.measured
    if measured is None:
        return []
    rows, plan = [], one.plan()
    blocky = plan.pixels.repair.clean > 0
    for name, x, y in measured.places:
        wanted = name in SIGHTS and (name != "blocks" or blocky)
        place = on_print(plan, x, y) if wanted else None
        if place is not None:
            rows.append((SIGHTS[name], place))
    return rows


class PrintMap(QWidget):
    """The map; click to look there."""

    def __init__(self, owner: LookedAt) -> None:
        super().__init__()
        self.owner = owner
        self.setFixedHeight(_HEIGHT)
        self.setFixedWidth(190)
        self.setAccessibleName("Map of the print; N steps through places worth a look")
        self.setCursor(Qt.CursorShape.CrossCursor)

    def _box(self, plan: Plan) -> QRectF:
        room = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        return fit(plan.pixels.width, plan.pixels.height, room)

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
        for tone, wide in (("#ffffff", 3), (theme.tones().accent, 2)):
            painter.setPen(QPen(QColor(tone), wide))
            painter.drawRect(seen)
            if max(seen.width(), seen.height()) < _SMALL:  # too small to be noticed by itself
                painter.drawEllipse(seen.center(), _SMALL, _SMALL)
        painter.setFont(theme.sans(11, bold=True))
        for number, (_, place) in enumerate(self.owner.places(one), 1):
            at = QPointF(box.left() + place[0] * box.width(), box.top() + place[1] * box.height())
            halo_text(painter, at + QPointF(-3, 4), str(number))

    def enterEvent(self, event: QEnterEvent) -> None:
        self.owner.search()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        one = self.owner.table.current
        if one is not None:
            box = self._box(one.plan())
            at = event.position() - box.topLeft()
            self.owner.look_at(at.x() / box.width(), at.y() / box.height())

    mouseMoveEvent = mousePressEvent
