"""One line of the margin: a number, a decision, its consequence, and what unfolds below."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRect, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from zinc_margin.desktop import theme
from zinc_margin.desktop.parts import stacked
from zinc_margin.plan.text.lines import Entry

NUMBER_WIDTH = 40
_STATES = {
    "written": "written by you",
    "worked out": "worked out for you",
    "look": "needs a look",
}


class LineHead(QWidget):
    """The two rows of a line; pressing them opens it."""

    def __init__(self, number: int, title: str, pressed: Callable[[], None]) -> None:
        super().__init__()
        self._number, self._title, self._pressed = number, title, pressed
        self._entry = Entry("", "", "worked out")
        self._open = False
        self.setFixedHeight(54)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_entry(self, entry: Entry, is_open: bool) -> None:
        """Show a decision and its consequence."""
        if (entry, is_open) == (self._entry, self._open):
            return
        self._entry, self._open = entry, is_open
        state = _STATES[entry.state]
        self.setAccessibleName(f"{self._number} {self._title}: {entry.decision}, {state}")
        self.setAccessibleDescription(entry.consequence)
        self.setToolTip(f"{self._title}: {state}.\n{entry.decision}\n{entry.consequence}")
        self.update()

    @property
    def entry(self) -> Entry:
        """What is shown."""
        return self._entry

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self._pressed()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._pressed()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        painter.setFont(theme.serif(17, bold=self._open))
        painter.setPen(QColor(t.accent_text if self._open else t.soft))
        painter.drawText(
            QRect(0, 6, NUMBER_WIDTH - 8, 24),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            str(self._number),
        )
        self._paint_state(painter, t)
        left, width = NUMBER_WIDTH + 8, self.width() - NUMBER_WIDTH - 20
        painter.setFont(theme.serif(16))
        painter.setPen(QColor(t.ink))
        self._paint_text(painter, QRect(left, 6, width, 24), self._entry.decision)
        painter.setFont(theme.sans(13))
        painter.setPen(QColor(t.soft))
        self._paint_text(painter, QRect(left, 29, width, 19), self._entry.consequence)
        if self.hasFocus():
            painter.setPen(QColor(t.accent_text))
            painter.drawRect(
                NUMBER_WIDTH + 2, 2, self.width() - NUMBER_WIDTH - 6, self.height() - 5
            )

    def _paint_state(self, painter: QPainter, t: theme.Tones) -> None:
        """Draw the mark under the number: full, hollow, or a word's worth of warning."""
        box = QRect(NUMBER_WIDTH - 17, 34, 8, 8)
        if self._entry.state == "look":
            painter.setFont(theme.sans(12, bold=True))
            painter.setPen(QColor(t.accent_text))
            painter.drawText(
                QRect(0, 29, NUMBER_WIDTH - 8, 18), Qt.AlignmentFlag.AlignRight, "look"
            )
        elif self._entry.state == "written":
            painter.fillRect(box, QColor(t.accent))
        else:
            painter.setPen(QColor(t.soft))
            painter.drawRect(box.adjusted(0, 0, -1, -1))

    @staticmethod
    def _paint_text(painter: QPainter, box: QRect, words: str) -> None:
        shown = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, box.width())
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, shown)


class Line(QWidget):
    """A head and its body; the body is there only while the line is open."""

    def __init__(self, number: int, title: str, body: QWidget, pressed: Callable[[], None]) -> None:
        super().__init__()
        column = stacked(self, (0, 0, 0, 0), 0)
        self.head = LineHead(number, title, pressed)
        self.body = body
        column.addWidget(self.head)
        column.addWidget(body)
        body.setContentsMargins(NUMBER_WIDTH + 8, 0, 12, 10)
        body.setVisible(False)

    def show_entry(self, entry: Entry, is_open: bool) -> None:
        """Show the line closed or open."""
        self.head.show_entry(entry, is_open)
        if self.body.isVisibleTo(self) != is_open:
            self.body.setVisible(is_open)
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        is_open = self.body.isVisibleTo(self)
        painter.fillRect(self.rect(), QColor(t.open_paper if is_open else t.paper))
        painter.setPen(QColor(t.rule))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        painter.drawLine(NUMBER_WIDTH, 0, NUMBER_WIDTH, self.height())
        if is_open:
            painter.fillRect(0, 0, 4, self.height(), QColor(t.accent))
