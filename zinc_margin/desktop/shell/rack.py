"""The rack: every open photo as its print, all at one scale."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from functools import partial
from weakref import WeakKeyDictionary

from PySide6.QtCore import QMimeData, QPoint, QRect, QSize, Qt, QTimer, QUrl, Signal
from PySide6.QtGui import (
    QColor,
    QDesktopServices,
    QDrag,
    QDragEnterEvent,
    QDragMoveEvent,
    QDropEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from zinc_margin.desktop.model.events import (
    ALL_LINES,
    ActiveChanged,
    ChosenChanged,
    DocketChanged,
    PhotosChanged,
    PixelsChanged,
)
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.services.shell import Shell
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.context_menus import Entry, with_menu
from zinc_margin.desktop.widgets.imaging import cropped_preview
from zinc_margin.desktop.widgets.parts import Link, text
from zinc_margin.plan.model import Plan

HEIGHT = 84
_TALLEST = 62
_WIDEST = 150
_SMALLEST = 10
_A_MOMENT_S = 0.02
"""Time for planning, until the window answers again."""
_MIME = "application/x-zinc-margin-print"
_SHOWS = (ActiveChanged, ChosenChanged, DocketChanged, PhotosChanged, PixelsChanged)
_CTRL, _SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class RackPrint(QAbstractButton):
    """One photo of the rack. `picked` is emitted on Ctrl+click (False), and on Shift+click to
    select a range (True).
    """

    picked = Signal(bool)

    def __init__(self, close: Callable[[], None]) -> None:
        super().__init__()
        self._pressed: QPoint | None = None
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._close = close
        self.chosen = False
        self._picture: QPixmap | None = None
        self._size = QSize(40, 30)
        self._words = ("", "")
        self._clipped = False

    def show_print(self, one: Print, plan: Plan, scale: float) -> None:
        """Show a print at `scale` px per mm."""
        width = float(plan.size.width_mm) * scale
        height = float(plan.size.height_mm) * scale
        self._clipped = width > _WIDEST or height > _TALLEST + 1
        self._size = QSize(
            max(_SMALLEST, min(_WIDEST, round(width))), max(_SMALLEST, min(_TALLEST, round(height)))
        )
        self._words = (one.name, plan.grade)
        self._picture = cropped_preview(one, plan)
        self.setAccessibleName(
            f"{one.name}, {plan.size.label}, {plan.grade}{', chosen' if self.chosen else ''}"
        )
        self.setToolTip(
            f"{one.facts.path}\n{plan.size.label}: {plan.grade}\nCtrl or Shift selects "
            "several; the middle button closes."
        )
        metrics = self.fontMetrics()
        words = min(120, max(metrics.horizontalAdvance(part) for part in self._words) + 2)
        self.setFixedSize(self._size.width() + 6 + 8 + words + 12, HEIGHT - 2)
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.MiddleButton:
            self._close()
        elif event.modifiers() & _CTRL or event.modifiers() & _SHIFT:
            self.picked.emit(bool(event.modifiers() & _SHIFT))
        else:
            self._pressed = event.position().toPoint()
            super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag the photo to another place in the row."""
        far = QApplication.startDragDistance()
        at = event.position().toPoint()
        if self._pressed is None or (at - self._pressed).manhattanLength() < far:
            super().mouseMoveEvent(event)
            return
        self._pressed = None
        self.setDown(False)
        drag = QDrag(self)
        data = QMimeData()
        data.setData(_MIME, b"print")
        drag.setMimeData(data)
        drag.setPixmap(self.grab())
        drag.exec(Qt.DropAction.MoveAction)

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        bottom = self.height() - 10
        frame = QRect(
            0, bottom - self._size.height() - 6, self._size.width() + 6, self._size.height() + 6
        )
        painter.fillRect(frame, QColor("#ffffff"))
        inner = frame.adjusted(3, 3, -3, -3)
        if self._picture is not None:
            source = self._picture.rect()
            if self._clipped:
                # Too large for the band: show its centre, as much as fits at this scale.
                ratio = inner.width() / inner.height()
                wide = min(source.width(), round(source.height() * ratio))
                high = min(source.height(), round(source.width() / ratio))
                source = QRect(
                    (source.width() - wide) // 2, (source.height() - high) // 2, wide, high
                )
            painter.drawPixmap(inner, self._picture, source)
        else:
            painter.fillRect(inner, QColor(t.zinc))
        if self.isChecked():
            painter.setPen(QColor(t.accent))
            for grow in range(2):
                painter.drawRect(frame.adjusted(grow, grow, -1 - grow, -1 - grow))
        if self.chosen:
            painter.fillRect(frame.left(), frame.bottom() + 3, frame.width(), 3, QColor(t.accent))
        if self.hasFocus():
            painter.setPen(QColor(t.ink))
            painter.drawRect(self.rect().adjusted(0, 2, -2, -3))
        painter.setPen(QColor(t.on_zinc))
        left = frame.right() + 9
        for index, words in enumerate(self._words):
            painter.setFont(theme.sans(13, bold=index == 0 and self.isChecked()))
            shown = painter.fontMetrics().elidedText(
                words, Qt.TextElideMode.ElideMiddle, self.width() - left - 2
            )
            painter.drawText(left, bottom - 19 + 17 * index, shown)

    def sizeHint(self) -> QSize:
        return self.size()


class Rack(QScrollArea):
    """All open photos, side by side."""

    def __init__(self, table: Table, shell: Shell) -> None:
        super().__init__()
        self.table, self._make = table, shell.make
        self.coming: tuple[str, ...] = ()
        self._known: WeakKeyDictionary[Print, Plan] = WeakKeyDictionary()
        self.setFixedHeight(theme.px(HEIGHT))
        self.setWidgetResizable(True)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        # A scroll bar would cover the prints: the wheel scrolls, and the current photo stays
        # visible.
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._ground = _Ground()
        self._row = QHBoxLayout(self._ground)
        self._row.setContentsMargins(14, 0, 14, 0)
        self._row.setSpacing(4)
        self._coming = Coming(shell.stop_demo)
        self._row.addWidget(self._coming)
        self._row.addStretch(1)
        self.setWidget(self._ground)
        self._more = [QPushButton(sign, self) for sign in ("‹", "›")]
        for button, way, name in zip(self._more, (-1, 1), ("before", "after"), strict=True):
            button.setObjectName("more")
            button.setAccessibleName(f"More photos {name} these")
            button.setToolTip(f"There are more photos {name} these")
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.clicked.connect(partial(self._go_on, way))
        bar = self.horizontalScrollBar()
        bar.valueChanged.connect(self._show_more)
        bar.rangeChanged.connect(self._show_more)
        self.buttons: list[RackPrint] = []
        self.setAcceptDrops(True)
        table.observe(self.refresh, *_SHOWS, lines=ALL_LINES - {"file"})

    def refresh(self) -> None:
        """Update the prints."""
        prints = self.table.prints
        self.setVisible(bool(prints or self.coming))
        while len(self.buttons) < len(prints):
            index = len(self.buttons)
            button = RackPrint(partial(self.table.close, index))
            button.clicked.connect(partial(self._choose, index))
            self._row.insertWidget(index, button)
            button.picked.connect(partial(self._pick, index))
            with_menu(button, partial(self._menu, index))
            self.buttons.append(button)
        while len(self.buttons) > len(prints):
            button = self.buttons.pop()
            button.hide()
            button.deleteLater()
        plans = self._plans()
        scale = common_scale(plans)
        for index, (button, one, plan) in enumerate(zip(self.buttons, prints, plans, strict=True)):
            button.setChecked(index == self.table.active)
            button.chosen = one in self.table.chosen
            button.show_print(one, plan, scale)
            if index == self.table.active:
                self.ensureWidgetVisible(button, 40, 0)

    def _plans(self) -> list[Plan]:
        """Return every print's plan; where many are new, some are the earlier ones for a moment.

        Otherwise the window would answer nothing while hundreds of photos are planned.
        """
        until, late = time.perf_counter() + _A_MOMENT_S, False
        for one in self.table.prints:
            now = one is self.table.current or one.is_planned or one not in self._known
            if now or time.perf_counter() < until:
                self._known[one] = one.plan()
            else:
                late = True
        if late:
            QTimer.singleShot(0, self, self.refresh)
        return [self._known[one] for one in self.table.prints]

    def show_coming(self, names: tuple[str, ...], share: float) -> None:
        """Show outlines of photos that are still being drawn."""
        self.coming = names
        self._coming.show_names(names, share)
        self.setVisible(bool(self.table.prints or names))

    def _menu(self, index: int, at: QPoint) -> Iterator[Entry]:
        """Yield the actions for a photo."""
        one = self.table.prints[index]
        self.table.activate(index)
        chosen = one in self.table.chosen
        yield "Make file", self._make
        yield (
            "Add to the selection" if not chosen else "Remove from the selection",
            partial(self._pick, index, False),
        )
        yield "New version", self.table.add_version
        yield "", None
        last = len(self.table.prints) - 1
        yield "Move left", partial(self.table.move, index, index - 1) if index else None
        yield "Move right", None if index == last else partial(self.table.move, index, index + 1)
        folder = QUrl.fromLocalFile(str(one.facts.path.parent))
        yield "Show in its folder", partial(QDesktopServices.openUrl, folder)
        yield "Close", partial(self.table.close, index)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasFormat(_MIME):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent) -> None:
        if event.mimeData().hasFormat(_MIME):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Move a dragged photo to where it was dropped."""
        source = event.source()
        if not isinstance(source, RackPrint) or source not in self.buttons:
            return
        at = self._ground.mapFrom(self, event.position().toPoint()).x()
        before = sum(button.geometry().center().x() < at for button in self.buttons)
        index = self.buttons.index(source)
        self.table.move(index, before - (before > index))
        event.acceptProposedAction()

    def _go_on(self, way: int) -> None:
        bar = self.horizontalScrollBar()
        bar.setValue(bar.value() + way * self.width() * 2 // 3)

    def _show_more(self) -> None:
        """Show on either side whether more photos are hidden there."""
        bar = self.horizontalScrollBar()
        left, right = self._more
        left.setVisible(bar.value() > bar.minimum())
        right.setVisible(bar.value() < bar.maximum())
        for button in self._more:
            button.setFixedSize(22, self.height() - 1)
        right.move(self.width() - 22, 0)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._show_more()

    def wheelEvent(self, event: QWheelEvent) -> None:
        bar = self.horizontalScrollBar()
        bar.setValue(bar.value() - event.angleDelta().y() - event.angleDelta().x())

    def _pick(self, index: int, upto: bool) -> None:
        """Add or remove a photo from the selection, or select a range up to it."""
        prints, active = self.table.prints, self.table.active
        if upto:
            low, high = sorted((index, active))
            self.table.choose(prints[low : high + 1])
            return
        chosen = self.table.chosen or [prints[active]]
        one = prints[index]
        self.table.choose(
            [each for each in chosen if each is not one] if one in chosen else [*chosen, one]
        )

    def _choose(self, index: int) -> None:
        if self.table.chosen and self.table.prints[index] not in self.table.chosen:
            self.table.choose([])
        self.table.activate(index)
        for place, button in enumerate(self.buttons):
            button.setChecked(place == self.table.active)


class Coming(QWidget):
    """Named outlines of photos being drawn, and a word to stop."""

    def __init__(self, stop: Callable[[], object]) -> None:
        super().__init__()
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 8)
        self._outlines = _Outlines()
        line.addWidget(self._outlines)
        column = QVBoxLayout()
        column.addStretch(1)
        self.said = text("", wrap=False)
        self.stop = Link("stop", stop, "Finished photos are kept (Esc)")
        column.addWidget(self.said)
        column.addWidget(self.stop)
        line.addLayout(column)
        self.setVisible(False)

    def show_names(self, names: tuple[str, ...], share: float) -> None:
        """Show the remaining work and the progress."""
        self.setVisible(bool(names) or share < 1)
        self.said.setText(f"Drawing the demo, once: {share:.0%}")
        self._outlines.setVisible(bool(names))
        self._outlines.show_names(names)


class _Outlines(QWidget):
    def show_names(self, names: tuple[str, ...]) -> None:
        self._names = names
        self.setFixedSize(118 * len(names), HEIGHT - 10)
        self.setAccessibleName("Being drawn: " + ", ".join(names))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.setFont(theme.sans(12))
        for at, name in enumerate(self._names):
            left = at * 118
            painter.setPen(QPen(QColor(t.on_zinc), 1, Qt.PenStyle.DashLine))
            painter.drawRect(left, 14, 60, 40)
            painter.setPen(QColor(t.on_zinc))
            shown = painter.fontMetrics().elidedText(
                name.rsplit(".", 1)[0], Qt.TextElideMode.ElideRight, 112
            )
            painter.drawText(left, 70, shown)


class _Ground(QWidget):
    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.rack))
        painter.setPen(QColor(theme.tones().soft))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)


def common_scale(plans: list[Plan]) -> float:
    """Return px per mm: the largest print fills the band, if the smallest stays visible."""
    if not plans:
        return 1.0
    heights = [float(plan.size.height_mm) for plan in plans]
    widths = [float(plan.size.width_mm) for plan in plans]
    fits = min(_TALLEST / max(heights), _WIDEST / max(widths))
    seen = 12 / min(heights)
    return max(fits, min(seen, 6 * fits))
