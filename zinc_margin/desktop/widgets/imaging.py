"""Pictures for the screen, cached while they are valid."""

from __future__ import annotations

from weakref import WeakKeyDictionary

import numpy as np
from PySide6.QtCore import QRectF, QSizeF, Qt
from PySide6.QtGui import QColor, QPainter, QPixmap, QTransform

from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets.parts import image_of
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.display import Screen, thumbnail
from zinc_margin.plan.model import Plan

_previews: WeakKeyDictionary[Print, tuple[int, QPixmap]] = WeakKeyDictionary()
_crops: WeakKeyDictionary[Print, tuple[object, QPixmap]] = WeakKeyDictionary()
_CROP_WIDTH = 600
_KEPT = 24
"""Pictures for the screen that are kept; others are made again from their previews."""
_PREVIEW = 1600


def small_of(photo: Photo) -> tuple[np.ndarray, np.ndarray | None]:
    """Return a photo's preview (H, W, 4) uint8, and its alpha (H, W) if it is transparent."""
    small = thumbnail(photo.codes, _PREVIEW)
    alpha = None
    if photo.alpha is not None:
        alpha = thumbnail(photo.alpha[..., None], _PREVIEW)[..., 0]
        alpha = alpha / np.float32(np.iinfo(alpha.dtype).max)
    return Screen(photo.colour, small.dtype).show(small), alpha


def preview(one: Print) -> QPixmap | None:
    """Return a photo's upright preview, not rotated; None until its pixels are read."""
    if one.seen is None:
        return None
    stored = _previews.pop(one, None)
    if stored is None or stored[0] != id(one.seen):
        stored = (id(one.seen), QPixmap.fromImage(image_of(one.seen)))
    _previews[one] = stored  # the last one is the latest
    while len(_previews) > _KEPT:
        del _previews[next(iter(_previews))]
    return stored[1]


def turned_transform(one: Print, plan: Plan) -> QTransform:
    """Return the map from the preview's pixels to the rotated picture's."""
    assert one.seen is not None
    height, width = one.seen.shape[:2]
    box_w, box_h = (float(side) for side in plan.turned.box)
    across, down = plan.turned.width / width, plan.turned.height / height
    return (
        QTransform()
        .translate(box_w / 2, box_h / 2)
        .rotate(float(plan.turned.angle))
        .scale(-across if plan.turned.mirror else across, down)
        .translate(-width / 2, -height / 2)
    )


def turned_picture(one: Print, plan: Plan, size: QSizeF, ratio: float) -> QPixmap | None:
    """Return the rotated picture at screen size; None until its pixels are read."""
    source = preview(one)
    if source is None:
        return None
    picture = QPixmap(max(1, round(size.width() * ratio)), max(1, round(size.height() * ratio)))
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    scale = picture.width() / float(plan.turned.box[0])
    painter.scale(scale, scale)
    painter.setTransform(turned_transform(one, plan), True)
    painter.drawPixmap(0, 0, source)
    painter.end()
    picture.setDevicePixelRatio(ratio)
    return picture


def cropped_preview(one: Print, plan: Plan) -> QPixmap | None:
    """Return a small picture of the print: the framed part and the bands."""
    source = preview(one)
    if source is None:
        return None
    pixels = plan.pixels
    key = (id(one.seen), plan.crop, plan.picture, plan.turned, pixels.width, pixels.height)
    stored = _crops.get(one)
    if stored is not None and stored[0] == key:
        return stored[1]
    scale = min(1.0, _CROP_WIDTH / max(pixels.width, pixels.height))
    picture = QPixmap(max(1, round(pixels.width * scale)), max(1, round(pixels.height * scale)))
    picture.fill(QColor("#ffffff"))
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    paint_print(painter, one, plan, QRectF(picture.rect()))
    painter.end()
    _crops[one] = (key, picture)
    return picture


def paint_print(painter: QPainter, one: Print, plan: Plan, goal: QRectF) -> None:
    """Paint the print into a rectangle: white paper and the picture on it."""
    source = preview(one)
    painter.save()
    painter.fillRect(goal, QColor("#ffffff"))
    if source is not None:
        left, top, width, height = plan.picture
        across, down = goal.width() / plan.pixels.width, goal.height() / plan.pixels.height
        inner = QRectF(
            goal.left() + left * across, goal.top() + top * down, width * across, height * down
        )
        painter.setClipRect(inner, Qt.ClipOperation.IntersectClip)
        crop = plan.crop
        painter.translate(inner.left(), inner.top())
        painter.scale(inner.width() / float(crop.width), inner.height() / float(crop.height))
        painter.translate(-float(crop.left), -float(crop.top))
        painter.setTransform(turned_transform(one, plan), True)
        painter.drawPixmap(0, 0, source)
    painter.restore()
