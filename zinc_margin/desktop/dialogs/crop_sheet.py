"""Every crop of a batch on one sheet, to check and correct."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import (
    QColor,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QScrollArea, QSizePolicy, QWidget

from zinc_margin.desktop.bench.canvas import fill_around, fit
from zinc_margin.desktop.bench.crop import ARROWS
from zinc_margin.desktop.model.prints import Print
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.imaging import turned_picture
from zinc_margin.desktop.widgets.parts import Link
from zinc_margin.desktop.widgets.refusals import refusable
from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import Docket
from zinc_margin.handoff.batch import Item
from zinc_margin.handoff.machine import this_machine
from zinc_margin.measure import words
from zinc_margin.measure.errors import ZincError
from zinc_margin.plan.crop import framing
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.suitability import judge
from zinc_margin.plan.text.phrases import skipped_words

_PICTURE = QSize(216, 168)
"""The smallest picture of a cell, px."""
_LARGEST = 3
"""Its largest enlargement."""
_AROUND = QSize(12, 62)
"""The words and the space around a picture, px."""
_GAP = 10
_SHOWN = 0.001
"""The trimmed share from which it is named."""


class CropCell(QWidget):
    """One photo of a batch with its frame.

    Drag the frame or use the arrow keys; the wheel resizes it, and a double click restores the
    original frame.

    Parameters
    ----------
    one : Print
        The photo with its preview and facts.
    item : Item
        The item whose docket is corrected.
    corrected : callable
        Called after each correction.
    """

    def __init__(self, one: Print, item: Item, corrected: Callable[[Item], None]) -> None:
        super().__init__()
        self.one, self.item, self._corrected = one, item, corrected
        self._plan: Plan | None = None
        self._skipped = ""
        self._picture: tuple[object, QPixmap] | None = None
        self._from: tuple[QPointF, Frame] | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.SizeAllCursor)
        self.setToolTip("Drag the frame; the wheel resizes it; double-click for the original one.")
        self._looked = False
        self._words = ("", "")
        self.anyway: Link | None = None
        self.be_sized(_PICTURE)

    def be_sized(self, room: QSize) -> None:
        """Show the picture in this much room."""
        self._room = room
        self.setFixedSize(room + _AROUND)
        if self.anyway is not None:
            self.anyway.move(6, room.height() + 44)

    # accessible description

    def plan(self) -> Plan | None:
        """Return the photo's plan in this batch, or None if planning fails."""
        if self._plan is None:
            try:
                docket, preset = self.item.docket, self.item.preset
                self._plan, why = judge(self.one.facts, docket, preset, this_machine())
                self._skipped = "" if why is None else skipped_words(why)
            except ZincError as error:
                self._skipped = str(error)
            self._tell()
        return self._plan

    @property
    def skipped(self) -> str:
        """The reason for skipping the photo, or an empty text."""
        self.plan()
        return self._skipped

    def _tell(self) -> None:
        label = self.one.name
        if self.item.version:
            label = f"{label}, {self.item.version}"
        said = self._skipped
        if not said and self._plan is not None:
            share = self._plan.trimmed_share
            trimmed = f", {words.share(share)} trimmed" if share >= _SHOWN else ""
            said = f"{self._plan.size.label}: {self._plan.grade}{trimmed}"
        self._words = (label, said)
        self.setAccessibleName(f"{label}, {said}")
        if self._skipped and self._plan is not None and self.anyway is None:
            # Plan only when needed: a batch may have hundreds of cells.
            self.anyway = Link("make it anyway", self._make_anyway)
            self.anyway.setParent(self)
            self.anyway.move(6, self._room.height() + 44)
            self.anyway.adjustSize()
        if self.anyway is not None:
            self.anyway.setVisible(bool(self._skipped) and self._plan is not None)

    def _make_anyway(self) -> None:
        assert self.item.preset is not None
        self.item.preset = replace(self.item.preset, too_small="make", most_trimmed=None)
        self._plan = None
        self._corrected(self.item)
        self.update()

    def _write(self, docket: Docket) -> None:
        self.item.docket = docket
        self._plan = None
        self.update()

    # its picture

    def _box(self, plan: Plan) -> QRectF:
        width, height = (float(side) for side in plan.turned.box)
        return fit(width, height, QRectF(6, 6, self._room.width(), self._room.height()))

    def _frame_rect(self, plan: Plan, box: QRectF) -> QRectF:
        scale = box.width() / float(plan.turned.box[0])
        frame = plan.crop if plan.docket.crop.fit != "trim" else framing.current_frame(plan)
        return QRectF(
            box.left() + float(frame.left) * scale,
            box.top() + float(frame.top) * scale,
            float(frame.width) * scale,
            float(frame.height) * scale,
        )

    def _seen(self, plan: Plan, box: QRectF) -> QPixmap | None:
        ratio = self.devicePixelRatioF()
        key = (id(self.one.preview), plan.turned, ratio)
        if self._picture is None or self._picture[0] != key:
            picture = turned_picture(self.one, plan, box.size(), ratio)
            if picture is None:
                return None
            self._picture = (key, picture)
        return self._picture[1]

    def _look(self) -> None:
        plan = self.plan()
        if plan is not None:
            self._seen(plan, self._box(plan))
        self._looked = True
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        if not self._looked:
            # Plan one cell at a time, so a large sheet never blocks the window.
            painter.fillRect(QRectF(6, 6, self._room.width(), self._room.height()), QColor(t.panel))
            QTimer.singleShot(0, self, self._look)
            return
        plan = self.plan()
        for number, (words_, tone) in enumerate(zip(self._words, (t.ink, t.soft), strict=True)):
            painter.setFont(theme.sans(13))
            painter.setPen(QColor(tone))
            shown = painter.fontMetrics().elidedText(
                words_, Qt.TextElideMode.ElideMiddle, self._room.width()
            )
            painter.drawText(6, self._room.height() + 22 + 17 * number, shown)
        if plan is None:
            painter.fillRect(QRectF(6, 6, self._room.width(), self._room.height()), QColor(t.rule))
            return
        box = self._box(plan)
        frame = self._frame_rect(plan, box)
        picture = self._seen(plan, box)
        if picture is None:
            painter.fillRect(box, QColor(t.rule))
        else:
            painter.drawPixmap(box.topLeft(), picture)
            veil = QColor(t.panel)
            veil.setAlpha(190)
            fill_around(painter, box.adjusted(-1, -1, 1, 1), frame, veil)
        painter.setPen(QPen(QColor(t.soft if self._skipped else t.accent), 2))
        painter.drawRect(frame)
        if self._skipped:
            painter.drawLine(frame.topLeft(), frame.bottomRight())
        if self.hasFocus():
            painter.setPen(QPen(QColor(t.ink), 1))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    # hands

    def _trims(self) -> Plan | None:
        plan = self.plan()
        return plan if plan is not None and plan.docket.crop.fit == "trim" else None

    @refusable
    def mousePressEvent(self, event: QMouseEvent) -> None:
        plan = self._trims()
        if plan is not None and event.button() == Qt.MouseButton.LeftButton:
            self._from = (event.position(), framing.current_frame(plan))

    @refusable
    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        plan = self._trims()
        if self._from is None or plan is None:
            return
        start, frame = self._from
        by = (event.position() - start) / (self._box(plan).width() / float(plan.turned.box[0]))
        across, down = (Fraction(round(part * 1000), 1000) for part in (by.x(), by.y()))
        self._write(framing.with_frame(plan, framing.move(plan, frame, across, down)))

    @refusable
    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._from is not None:
            self._from = None
            self._corrected(self.item)

    @refusable
    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        plan = self._trims()
        if plan is not None:
            docket = self.item.docket
            crop = replace(docket.crop, frame=None, place_x=None, place_y=None)
            self._write(replace(docket, crop=crop))
            self._corrected(self.item)

    @refusable
    def wheelEvent(self, event: QWheelEvent) -> None:
        plan = self._trims()
        if plan is None or not self.hasFocus():
            # the wheel scrolls the sheet; it resizes a frame only after a click on its photo
            event.ignore()
            return
        times = Fraction(100, 104) if event.angleDelta().y() > 0 else Fraction(104, 100)
        frame = framing.scale_frame(plan, framing.current_frame(plan), times)
        self._write(framing.with_frame(plan, frame))
        self._corrected(self.item)

    @refusable
    def keyPressEvent(self, event: QKeyEvent) -> None:
        plan = self._trims()
        step = ARROWS.get(Qt.Key(event.key()))
        if plan is None or step is None:
            super().keyPressEvent(event)
            return
        # Round to a hundredth of the picture; finer steps are invisible here.
        far = plan.turned.box[0] / (
            1000 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 100
        )
        frame = framing.current_frame(plan)
        far = Fraction(round(far))
        moved = framing.move(plan, frame, step[0] * far, step[1] * far)
        self._write(framing.with_frame(plan, moved))
        self._corrected(self.item)

    def focusInEvent(self, event: QFocusEvent) -> None:
        self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self.update()


class CropSheet(QScrollArea):
    """The cells of a batch, as many columns as fit."""

    def __init__(self) -> None:
        super().__init__()
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Every crop of the batch")
        self._ground = QWidget()
        self._ground.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setWidget(self._ground)
        self.cells: list[CropCell] = []

    def show_items(
        self, pairs: Sequence[tuple[Print, Item]], corrected: Callable[[Item], None]
    ) -> None:
        """Show other items."""
        for cell in self.cells:
            cell.hide()
            cell.deleteLater()
        self.cells = [CropCell(one, item, corrected) for one, item in pairs]
        for cell in self.cells:
            cell.setParent(self._ground)
        self._lay_out()
        for cell in self.cells:
            cell.show()

    def _lay_out(self) -> None:
        room, columns = self._largest()
        wide, high = room.width() + _AROUND.width() + _GAP, room.height() + _AROUND.height() + _GAP
        for cell in self.cells:
            cell.be_sized(room)
        for at, cell in enumerate(self.cells):
            cell.move(_GAP + at % columns * wide, _GAP + at // columns * high)
        rows = -(-len(self.cells) // columns)
        self._ground.setFixedHeight(_GAP + rows * high)

    def _largest(self) -> tuple[QSize, int]:
        """Return the largest pictures that fit without scrolling, and their columns."""
        across, down = self.viewport().width() - _GAP, self.viewport().height() - _GAP
        columns = 1
        while True:
            wide = across // columns - _GAP - _AROUND.width()
            room = QSize(_PICTURE)
            room.scale(QSize(wide, 10_000), Qt.AspectRatioMode.KeepAspectRatio)
            rows = -(-len(self.cells) // columns)
            fits = rows * (room.height() + _AROUND.height() + _GAP) <= down
            narrow = across // (columns + 1) - _GAP - _AROUND.width() < _PICTURE.width()
            if narrow or (fits and room.width() <= _LARGEST * _PICTURE.width()):
                return (room if fits else room.boundedTo(_PICTURE * 1.25)), columns
            columns += 1

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._lay_out()
