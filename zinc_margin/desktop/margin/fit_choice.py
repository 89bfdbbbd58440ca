"""Fill or whole picture: small previews of each, to choose from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PySide6.QtCore import QRect, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPixmap
from PySide6.QtWidgets import QAbstractButton, QButtonGroup, QHBoxLayout, QWidget

from zinc_margin.desktop.bench.canvas import fit
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.imaging import paint_print
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest
from zinc_margin.plan.model import Plan
from zinc_margin.plan.text.lines import side_words, trims_visibly

_NAMES = {"trim": "fill (trim)", "whole": "whole picture", "border": "with a border"}
_PICTURE = QSize(92, 66)
_EVERY_MS = 150


class FitChoice(QWidget):
    """Three small prints; the chosen one has a red line."""

    def __init__(self, take: Callable[[str], None]) -> None:
        super().__init__()
        self.setAccessibleName("How the picture fits")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 2, 0, 2)
        row.setSpacing(8)
        self._group = QButtonGroup(self)
        self._buttons: dict[str, _FitButton] = {}
        for key, name in _NAMES.items():
            button = _FitButton(name)
            button.clicked.connect(partial(take, key))
            self._group.addButton(button)
            self._buttons[key] = button
            row.addWidget(button)
        row.addStretch(1)
        self._shown: object = None
        self._wanted: tuple[Print, str] | None = None
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_EVERY_MS)
        self._soon.timeout.connect(self._draw)

    def button(self, key: str) -> QAbstractButton:
        """Return the preview of one fit."""
        return self._buttons[key]

    def show_print(self, one: Print, units: str) -> None:
        """Draw the print with each fit; while a frame is dragged, only now and then."""
        self._wanted = (one, units)
        if not self._soon.isActive():
            self._draw()
            self._soon.start()

    def _draw(self) -> None:
        if self._wanted is None:
            return
        one, units = self._wanted
        docket = one.docket
        shown = (id(one.seen), docket, units, theme.tones())
        self._buttons[docket.crop.fit].setChecked(True)
        if self._shown is not None and shown == self._shown:
            return
        self._shown = shown
        for key, button in self._buttons.items():
            try:
                plan = one.plan_of(replace(docket, crop=replace(docket.crop, fit=key)))
            except BadRequest:
                button.show_result(None, "cannot be")
                continue
            button.show_result(_small(one, plan), _cost(plan, key, units))


def _cost(plan: Plan, key: str, units: str) -> str:
    """Return the cost of a fit: the trimmed length, or the white border."""
    if key == "trim":
        lost = words.share(plan.trimmed_share)
        return f"{lost} lost" if trims_visibly(plan) else "nothing lost"
    bands = plan.bands_mm
    if key == "border":
        return f"{side_words(plan, min(bands.left, bands.top), units)} border"
    widest = max(bands.left, bands.top)
    return f"{side_words(plan, widest, units)} white" if widest >= 0.05 else "no bands"


def _small(one: Print, plan: Plan) -> QPixmap:
    box = fit(plan.pixels.width, plan.pixels.height, QRectF(0, 0, 88, 62))
    picture = QPixmap(round(box.width()) * 2, round(box.height()) * 2)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    paint_print(painter, one, plan, QRectF(picture.rect()))
    painter.end()
    picture.setDevicePixelRatio(2)
    return picture


class _FitButton(QAbstractButton):
    def __init__(self, name: str) -> None:
        super().__init__()
        self._name, self._cost = name, ""
        self._picture: QPixmap | None = None
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedSize(_PICTURE.width(), _PICTURE.height() + 36)

    def show_result(self, picture: QPixmap | None, cost: str) -> None:
        """Show a preview and its cost."""
        self._picture, self._cost = picture, cost
        self.setAccessibleName(f"{self._name}: {cost}")
        self.setToolTip(f"{self._name}: {cost} (W)")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        room = QRect(0, 0, self.width(), _PICTURE.height())
        painter.fillRect(room, QColor(t.zinc))
        if self._picture is not None:
            size = self._picture.deviceIndependentSize()
            left, top = (room.width() - size.width()) / 2, (room.height() - size.height()) / 2
            painter.drawPixmap(round(left), round(top), self._picture)
        if self.isChecked():
            painter.fillRect(0, room.bottom() + 1, self.width(), 2, QColor(t.accent))
        if self.hasFocus():
            painter.setPen(QColor(t.accent))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        for row, (text, strong) in enumerate(((self._name, self.isChecked()), (self._cost, False))):
            painter.setFont(theme.sans(12, bold=strong))
            painter.setPen(QColor(t.ink if strong else t.soft))
            box = QRect(0, room.bottom() + 3 + 16 * row, self.width(), 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignLeft, text)
