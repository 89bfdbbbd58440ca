"""Common parts of all benches: grey ground, rulers in print units, a print with its shadow."""

from __future__ import annotations

import math
from functools import lru_cache

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import (
    QColor,
    QFont,
    QFontMetricsF,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPixmap,
    QRegion,
)
from PySide6.QtWidgets import QWidget

from zinc_margin.desktop.model.events import (
    ALL_LINES,
    ChosenChanged,
    DocketChanged,
    Event,
    OwnChanged,
    PixelsChanged,
    UnitsChanged,
)
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.widgets import theme
from zinc_margin.measure.words import local
from zinc_margin.measure.words import unit as unit_name
from zinc_margin.plan.finish.preview import Share

RULER = 44
_HALO = 2
ARROWS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
}


class Bench(QWidget):
    """The instrument of one line.

    Attributes
    ----------
    watches : tuple of Event types
        The events after which it is drawn.
    reads : frozenset of str
        The lines of the docket that it shows.
    """

    watches: tuple[type[Event], ...] = (
        ChosenChanged,
        DocketChanged,
        OwnChanged,
        PixelsChanged,
        UnitsChanged,
    )
    reads = ALL_LINES

    def refresh(self) -> None:
        """Update the bench from the docket."""


class Canvas(Bench):
    """A bench that paints one print on grey ground."""

    def __init__(self, table: Table) -> None:
        super().__init__()
        self.table = table
        self.setMinimumSize(240, 240)

    def refresh(self) -> None:
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), QColor(theme.tones().zinc))
        one = self.table.current
        if one is not None:
            self.paint(painter, one)

    def paint(self, painter: QPainter, one: Print) -> None:
        """Draw the bench for one print."""


def shadow(painter: QPainter, box: QRectF) -> None:
    """Draw the soft shadow that a print casts on the bench."""
    painter.save()
    rim = QRegion(box.adjusted(-9, -9, 9, 18).toRect()) - QRegion(box.toRect())
    painter.setClipRegion(rim, Qt.ClipOperation.IntersectClip)
    painter.setPen(Qt.PenStyle.NoPen)
    for step in range(8, 0, -1):
        painter.setBrush(QColor(0, 0, 0, 7))
        painter.drawRect(box.adjusted(-step / 2, 0, step / 2, step).translated(0, 1))
    painter.restore()


def round_step(span: float, most: int) -> float:
    """Return a round number (1, 2 or 5 × 10ⁿ) that divides `span` into at most `most` parts."""
    rough = span / max(1, most)
    power = 10.0 ** math.floor(math.log10(max(rough, 1e-9)))
    for factor in (1, 2, 5, 10):
        if factor * power >= rough * 0.999:
            return factor * power
    return 10 * power


def unit_mm(units: str) -> float:
    """Return the rulers' unit, in mm."""
    return 25.4 if unit_name(units) == "in" else 10.0


def ruler(
    painter: QPainter, origin: QPointF, length: float, scale: float, units: str, upright: bool
) -> None:
    """Draw a ruler from `origin`, `length` px long, at `scale` px per mm.

    An upright ruler runs upwards, left of the origin; a horizontal one to the right, below it.
    """
    t = theme.tones()
    painter.save()
    painter.setFont(theme.sans(11))
    painter.setPen(QPen(QColor(t.on_zinc), 1))
    unit = unit_mm(units) * scale
    step = round_step(length / unit, max(2, int(length / 56)))
    count = int(length / unit / step + 1e-6)
    for index in range(count + 1):
        place = index * step * unit
        words = local(f"{index * step:g}")
        if upright:
            y = origin.y() - place
            painter.drawLine(QPointF(origin.x() - 8, y), QPointF(origin.x() - 1, y))
            box = QRectF(origin.x() - RULER, y - 8, RULER - 12, 16)
            painter.drawText(
                box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words
            )
        else:
            x = origin.x() + place
            painter.drawLine(QPointF(x, origin.y() + 1), QPointF(x, origin.y() + 8))
            if index == count and index:
                words += f" {unit_name(units)}"
            wide = QFontMetricsF(painter.font()).horizontalAdvance(words)
            left = min(x - wide / 2, x + 4) if index == count else x - wide / 2
            painter.drawText(QPointF(left, origin.y() + 21), words)
    painter.restore()


def halo_text(painter: QPainter, at: QPointF, words: str, plate: bool = False) -> None:
    """Write text that is readable on any picture; with a plate, also over lines."""
    device = painter.device()
    ratio = device.devicePixelRatioF() if device is not None else 1.0
    drawn = _halo(local(words), painter.font().toString(), plate, ratio)
    up = QFontMetricsF(painter.font()).ascent() + _HALO
    painter.drawPixmap(QPointF(round(at.x()) - _HALO, round(at.y() - up)), drawn)


@lru_cache(maxsize=600)
def _halo(words: str, face: str, plate: bool, ratio: float) -> QPixmap:
    """Draw a label once and cache it: painting the nest shows dozens, many times a second."""
    font = QFont()
    font.fromString(face)
    metrics = QFontMetricsF(font)
    width = math.ceil(metrics.horizontalAdvance(words)) + 2 * _HALO + 2
    height = math.ceil(metrics.height()) + 2 * _HALO
    picture = QPixmap(math.ceil(width * ratio), math.ceil(height * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(QColor(30, 30, 30, 205) if plate else Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setFont(font)
    at = QPointF(_HALO, _HALO + metrics.ascent())
    painter.setPen(QColor(0, 0, 0, 150))
    for dx, dy in ((-1, 0), (1, 0), (0, -1), (0, 1), (1, 1), (-1, -1)):
        painter.drawText(at + QPointF(dx, dy), words)
    painter.setPen(QColor("#ffffff"))
    painter.drawText(at, words)
    painter.end()
    return picture


def fill_around(painter: QPainter, outer: QRectF, inner: QRectF, tone: QColor) -> None:
    """Fill one rectangle except for another."""
    path, hole = QPainterPath(), QPainterPath()
    path.addRect(outer)
    hole.addRect(inner)
    painter.fillPath(path.subtracted(hole), tone)


def paint_unseen(painter: QPainter, frame: QRectF, seen: QRectF) -> None:
    """Veil the hidden part of a print, and draw its edge."""
    fill_around(painter, frame, seen, QColor(255, 255, 255, 125))
    painter.setPen(QPen(QColor(theme.tones().accent), 1, Qt.PenStyle.DashLine))
    painter.drawRect(seen)


def part_of(frame: QRectF, share: Share) -> QRectF:
    """Return a part of a frame on the screen."""
    left, top, width, height = share
    return QRectF(
        frame.left() + left * frame.width(),
        frame.top() + top * frame.height(),
        width * frame.width(),
        height * frame.height(),
    )


def fit(width: float, height: float, room: QRectF) -> QRectF:
    """Return the largest rectangle of this shape, centred in the space."""
    scale = min(room.width() / width, room.height() / height)
    w, h = width * scale, height * scale
    return QRectF(room.center().x() - w / 2, room.center().y() - h / 2, w, h)
