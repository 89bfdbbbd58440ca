"""The window's icon, drawn at every size; at 16 px with fewer lines."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QIcon, QPainter, QPixmap

_SIZES = (16, 24, 32, 48, 64, 128, 256)
_ZINC, _PAPER, _INK, _OXIDE, _SKY, _LAND = (
    "#bcbcba",
    "#f8f8f6",
    "#222222",
    "#8e3b2e",
    "#566a78",
    "#2c3236",
)


def window_icon() -> QIcon:
    """Return the icon, for task bars and title bars."""
    icon = QIcon()
    for size in _SIZES:
        icon.addPixmap(_drawn(size))
    return icon


def _drawn(size: int) -> QPixmap:
    pixmap = QPixmap(size, size)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    unit = size / 16

    def fill(left: float, top: float, width: float, height: float, tone: str) -> None:
        # whole pixels: a small icon has no room for soft edges
        box = QRectF(
            round(left * unit), round(top * unit), round(width * unit), round(height * unit)
        )
        painter.fillRect(box, QColor(tone))

    fill(0, 1, 16, 14, _ZINC)
    fill(0, 1, 6, 14, _PAPER)
    fill(0, 6, 1, 4, _OXIDE)
    for top in (4, 8, 12):
        fill(2, top, 3, 1, _INK)
    fill(7, 4, 8, 7, "#ffffff")
    fill(8, 5, 6, 5, _SKY)
    fill(8, 8, 6, 2, _LAND)
    if size >= 32:
        for at in range(7):
            fill(7 + at * 1.25, 12, 0.3, 1 if at % 2 else 1.6, _INK)
    painter.end()
    return pixmap
