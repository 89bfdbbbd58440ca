"""Guides over the frame: thin double lines that are visible on any picture."""

from __future__ import annotations

from PySide6.QtCore import QLineF, QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

_GOLDEN = (5**0.5 - 1) / 2
_FINE = 12


def guide_lines(
    kind: str, frame: QRectF, grid: tuple[int, int], mark: QPointF | None, safe: QRectF | None
) -> list[QLineF]:
    """Return the lines of a guide.

    Parameters
    ----------
    kind : str
        A key of `view.GUIDES`; ``fine`` is the grid shown while rotating.
    grid : (int, int)
        Columns and rows of ``grid``.
    mark : QPointF or None
        The subject point on the bench.
    safe : QRectF or None
        The part that a mat or a borderless driver leaves visible.
    """
    if kind == "diagonals":
        return [
            QLineF(frame.topLeft(), frame.bottomRight()),
            QLineF(frame.topRight(), frame.bottomLeft()),
        ]
    if kind == "mark" and mark is not None:
        return _lines(
            frame,
            [(mark.x() - frame.left()) / frame.width()],
            [(mark.y() - frame.top()) / frame.height()],
        )
    if kind == "safe":
        inner = safe or frame.adjusted(
            frame.width() / 20, frame.height() / 20, -frame.width() / 20, -frame.height() / 20
        )
        return _rim(inner)
    parts = {
        "thirds": ([1 / 3, 2 / 3], [1 / 3, 2 / 3]),
        "golden": ([1 - _GOLDEN, _GOLDEN], [1 - _GOLDEN, _GOLDEN]),
        "centre": ([0.5], [0.5]),
        "grid": (_divisions(grid[0]), _divisions(grid[1])),
        "fine": (_divisions(_FINE), _divisions(_FINE)),
    }.get(kind, ([], []))
    return _lines(frame, *parts)


def _divisions(count: int) -> list[float]:
    return [index / count for index in range(1, count)]


def _lines(frame: QRectF, across: list[float], down: list[float]) -> list[QLineF]:
    rows = []
    for part in across:
        x = frame.left() + frame.width() * part
        if 0 <= part <= 1:
            rows.append(QLineF(x, frame.top(), x, frame.bottom()))
    for part in down:
        y = frame.top() + frame.height() * part
        if 0 <= part <= 1:
            rows.append(QLineF(frame.left(), y, frame.right(), y))
    return rows


def _rim(box: QRectF) -> list[QLineF]:
    corners = [box.topLeft(), box.topRight(), box.bottomRight(), box.bottomLeft()]
    return [QLineF(corners[at - 1], corners[at]) for at in range(4)]


def paint_lines(painter: QPainter, lines: list[QLineF], faint: bool = False) -> None:
    """Draw light lines inside dark ones."""
    for tone, wide in (
        (QColor(0, 0, 0, 60 if faint else 120), 3.0),
        (QColor(255, 255, 255, 110 if faint else 210), 1.0),
    ):
        painter.setPen(QPen(tone, wide))
        painter.drawLines(lines)
