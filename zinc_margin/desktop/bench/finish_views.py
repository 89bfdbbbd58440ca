"""The Finish bench's other views: wall, folded canvas, pieces, printing notes."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen, QPolygonF, QTransform

from zinc_margin.desktop.bench.canvas import fit, halo_text, part_of, shadow
from zinc_margin.desktop.widgets import theme
from zinc_margin.plan.finish.preview import face_on_page
from zinc_margin.plan.finish.wall import frame_of, scene
from zinc_margin.plan.model import Plan
from zinc_margin.plan.text.phrases import wall_sentence

_WALL, _FLOOR, _FIGURE = "#d9d9d7", "#b4b4b1", "#8b8b88"
_TURN, _TILT = math.radians(35), math.radians(11)


def face_of(plan: Plan, image: QImage) -> QRectF:
    """Return the face (or the whole sheet) in the sheet preview."""
    return part_of(QRectF(image.rect()), face_on_page(plan))


def paint_wall(
    painter: QPainter, room: QRectF, plan: Plan, image: QImage, figure: str, units: str
) -> None:
    """Draw the finished print on a plain wall, in true proportion to the figure."""
    result = scene(plan, figure)
    box = fit(result.width, result.height, room.adjusted(0, 0, 0, -52))
    scale = box.width() / result.width
    painter.fillRect(room, QColor(_WALL))
    floor = box.bottom()
    painter.fillRect(
        QRectF(room.left(), floor, room.width(), room.bottom() - floor), QColor(_FLOOR)
    )
    left, bottom, wide, high = result.picture
    hung = QRectF(
        box.left() + left * scale, floor - (bottom + high) * scale, wide * scale, high * scale
    )
    shadow(painter, hung)
    if frame_of(plan) is not None:
        _paint_framed(painter, hung, plan, image, scale)
    else:
        _draw_small(painter, hung, image, face_of(plan, image))
    at, broad, tall = result.figure
    _paint_figure(
        painter,
        QRectF(box.left() + at * scale, floor - tall * scale, broad * scale, tall * scale),
        figure,
    )
    painter.setFont(theme.sans(13))
    painter.setPen(QColor("#3c3c3a"))
    painter.drawText(
        QPointF(room.left() + 18, room.bottom() - 14), wall_sentence(plan, result, units)
    )


def _paint_framed(painter: QPainter, hung: QRectF, plan: Plan, image: QImage, scale: float) -> None:
    assert plan.mat is not None
    painter.fillRect(hung, QColor("#efefec"))
    opening = QRectF(0, 0, *(float(side) * scale for side in plan.mat.opening))
    opening.moveCenter(hung.center())
    print_ = QRectF(0, 0, float(plan.whole.width_mm) * scale, float(plan.whole.height_mm) * scale)
    print_.moveCenter(hung.center())
    painter.save()
    painter.setClipRect(opening)
    painter.fillRect(opening, QColor("#ffffff"))
    _draw_small(painter, print_, image, QRectF(image.rect()))
    painter.restore()
    painter.setPen(QPen(QColor("#3c3c3c"), max(2.0, 18 * scale)))
    painter.drawRect(hung)


def _draw_small(painter: QPainter, goal: QRectF, image: QImage, part: QRectF) -> None:
    """Draw part of an image much smaller, without jagged edges."""
    device = painter.device()
    ratio = device.devicePixelRatioF() if device is not None else 1.0
    size = (goal.size() * ratio).toSize().expandedTo(QSize(1, 1))
    smooth = image.copy(part.toAlignedRect()).scaled(
        size, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation
    )
    painter.drawImage(goal, smooth)


_STANDING = (
    (0.00, 0.118), (0.13, 0.125), (0.15, 0.150), (0.36, 0.178), (0.46, 0.205), (0.49, 0.260),
    (0.53, 0.480), (0.42, 0.500), (0.37, 0.330), (0.35, 0.520), (0.33, 0.720), (0.27, 0.965),
    (0.34, 1.000), (0.07, 1.000), (0.08, 0.900), (0.04, 0.560), (0.00, 0.540),
)  # fmt: skip
_SEATED = (
    (0.00, 0.160), (0.12, 0.165), (0.14, 0.200), (0.34, 0.240), (0.42, 0.280), (0.46, 0.560),
    (0.40, 0.640), (0.40, 0.700), (0.36, 0.970), (0.42, 1.000), (0.14, 1.000), (0.16, 0.740),
    (0.00, 0.730),
)  # fmt: skip
"""Outline: half widths as a share of the figure's breadth, and heights from its top."""


def _paint_figure(painter: QPainter, box: QRectF, figure: str) -> None:
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    if figure == "door":
        painter.setBrush(QColor("#c6c6c3"))
        painter.setPen(QPen(QColor(_FIGURE), 2))
        painter.drawRect(box)
        painter.setBrush(QColor(_FIGURE))
        painter.drawEllipse(QPointF(box.left() + box.width() * 0.1, box.center().y()), 3.0, 3.0)
        painter.restore()
        return
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(_FIGURE))
    outline = _STANDING if figure == "standing" else _SEATED
    middle = box.center().x()
    half = [QPointF(middle + x * box.width(), box.top() + y * box.height()) for x, y in outline]
    mirrored = [QPointF(2 * middle - at.x(), at.y()) for at in reversed(half)]
    painter.drawPolygon(QPolygonF(half + mirrored))
    head = box.height() * (0.062 if figure == "standing" else 0.082)
    painter.drawEllipse(QPointF(middle, box.top() + head), head * 0.78, head)
    painter.restore()


def paint_folded(painter: QPainter, room: QRectF, plan: Plan, image: QImage) -> None:
    """Draw the canvas on its bars, seen at an angle, in true proportion."""
    sheet = plan.sheet
    assert sheet is not None
    face = face_of(plan, image)
    wide, high = (float(side) for side in sheet.face_mm)
    deep = float(sheet.bars_mm)
    corners = [(x, y, z) for z in (0.0, deep) for y in (0.0, high) for x in (0.0, wide)]
    flat = [_project(*corner) for corner in corners]
    xs, ys = [p.x() for p in flat], [p.y() for p in flat]
    box = fit(max(xs) - min(xs), max(ys) - min(ys), room.adjusted(70, 50, -70, -50))
    scale = box.width() / (max(xs) - min(xs))

    def place(x: float, y: float, z: float) -> QPointF:
        seen = _project(x, y, z)
        return box.topLeft() + QPointF((seen.x() - min(xs)) * scale, (seen.y() - min(ys)) * scale)

    per_x, per_y = face.width() / wide, face.height() / high
    # The canvas sides in the sheet preview, as deep as the bars.
    right = QRectF(face.right(), face.top(), deep * per_x, face.height())
    below = QRectF(face.left(), face.bottom(), face.width(), deep * per_y)
    parts = (
        (face, [(0, 0, 0), (wide, 0, 0), (wide, high, 0), (0, high, 0)], 0),
        (right, [(wide, 0, 0), (wide, 0, deep), (wide, high, deep), (wide, high, 0)], 42),
        (below, [(0, high, 0), (wide, high, 0), (wide, high, deep), (0, high, deep)], 70),
    )
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    for source, target, shade in parts:
        goal = QPolygonF([place(*point) for point in target])
        start = QPolygonF(
            [source.topLeft(), source.topRight(), source.bottomRight(), source.bottomLeft()]
        )
        turn = QTransform()
        if not QTransform.quadToQuad(start, goal, turn):
            continue
        painter.save()
        painter.setTransform(turn, True)
        painter.drawImage(source, image, source)
        if shade:
            painter.fillRect(source, QColor(0, 0, 0, shade))
        painter.restore()
    painter.restore()


def _project(x: float, y: float, z: float) -> QPointF:
    """Project a point of the canvas: x to the right, y down, z away from the viewer."""
    across = x * math.cos(_TURN) + z * math.sin(_TURN)
    away = z * math.cos(_TURN) - x * math.sin(_TURN)
    return QPointF(across, y * math.cos(_TILT) + away * math.sin(_TILT))


def paint_pieces(painter: QPainter, box: QRectF, plan: Plan, image: QImage) -> None:
    """Draw the sheets that the whole is spread over: every piece, overlaps and order."""
    pieces, whole = plan.pieces, plan.whole
    assert pieces is not None
    t = theme.tones()
    shadow(painter, box)
    painter.drawImage(box, image)
    across, down = box.width() / whole.width, box.height() / whole.height
    parts = []
    for piece in pieces.each:
        x, y, wide, high = piece.part
        parts.append(
            QRectF(box.left() + x * across, box.top() + y * down, wide * across, high * down)
        )
    overlap = QColor(255, 255, 255, 110)
    for at, part in enumerate(parts):
        for other in parts[at + 1 :]:
            both = part.intersected(other)
            if both.width() > 0 and both.height() > 0:
                painter.fillRect(both, overlap)
    painter.setPen(QPen(QColor(t.accent), 1.4))
    for part in parts:
        painter.drawRect(part)
    low = min(part.height() for part in parts)
    painter.setFont(theme.serif(int(max(11, min(26, low / 4)))))
    for piece, part in zip(pieces.each, parts, strict=True):
        name = str(piece.number)
        wide = painter.fontMetrics().horizontalAdvance(name)
        halo_text(painter, part.center() + QPointF(-wide / 2, 8), name)


def paint_slip(painter: QPainter, room: QRectF, rows: list[tuple[str, str]]) -> None:
    """Draw the printing notes as a separate paper."""
    t = theme.tones()
    line = 26.0
    paper = QRectF(0, 0, min(660.0, room.width() - 60), 76 + line * len(rows))
    paper.moveCenter(room.center())
    shadow(painter, paper)
    painter.fillRect(paper, QColor(t.paper))
    painter.setFont(theme.serif(19))
    painter.setPen(QColor(t.ink))
    painter.drawText(paper.topLeft() + QPointF(28, 40), "Printer settings")
    y = paper.top() + 56
    for label, value in rows:
        painter.setPen(QPen(QColor(t.rule), 1))
        painter.drawLine(QPointF(paper.left() + 28, y), QPointF(paper.right() - 28, y))
        painter.setFont(theme.sans(13))
        painter.setPen(QColor(t.soft))
        painter.drawText(QPointF(paper.left() + 28, y + 18), label)
        painter.setFont(theme.serif(14))
        painter.setPen(QColor(t.ink))
        shown = painter.fontMetrics().elidedText(
            value, Qt.TextElideMode.ElideRight, int(paper.width() - 186)
        )
        painter.drawText(QPointF(paper.left() + 150, y + 18), shown)
        y += line


def highlight(pixels: np.ndarray, where: np.ndarray) -> np.ndarray:
    """Return a picture (H, W, 4) in grey, with red where a map (H, W) is true."""
    out = pixels.copy()
    grey = pixels[..., :3].mean(axis=2, keepdims=True) * 0.6 + 60
    out[..., :3] = np.where(where[..., None], np.array([40, 45, 190]), grey)
    return out
