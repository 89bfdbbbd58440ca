"""The margin's foot: the total, and the one button."""

from __future__ import annotations

from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from zinc_margin.desktop import theme
from zinc_margin.desktop.margin.actions import Actions
from zinc_margin.desktop.margin.ledger_line import NUMBER_WIDTH
from zinc_margin.desktop.parts import Link, stacked, text


class Foot(QWidget):
    """What will come off the printer, in two rows, and *Make file*."""

    def __init__(self, actions: Actions) -> None:
        super().__init__()
        column = stacked(self, (NUMBER_WIDTH + 8, 12, 16, 14), 4)
        self.total = text("")
        self.total.setFont(theme.serif(16))
        self.parts = text("", soft=True)
        self.make = QPushButton("Make file")
        self.make.setObjectName("make")
        self.make.setToolTip("Ctrl+Return")
        self.make.clicked.connect(actions.make)
        self.progress = QProgressBar()
        self.progress.setRange(0, 1000)
        self.progress.setTextVisible(False)
        self.progress.setAccessibleName("Progress")
        self.said = text("")
        self.show_folder = Link("show it in its folder", actions.show_folder)
        self.send = Link("send it …", actions.send, "Hand it over to a lab")
        self.cancel = Link("stop", actions.stop, "Leaves nothing half-written (Esc)")
        self._under = QWidget()
        under = QHBoxLayout(self._under)
        under.setContentsMargins(0, 0, 0, 0)
        under.addWidget(self.said, 1)
        under.addWidget(self.cancel)
        for widget in (self.total, self.parts, self.make, self.progress, self._under):
            column.addWidget(widget)
        after = QHBoxLayout()
        after.setSpacing(16)
        after.addWidget(self.show_folder)
        after.addWidget(self.send)
        after.addStretch(1)
        column.addLayout(after)
        self.rest()

    def rest(self) -> None:
        """Show the total alone."""
        for widget in (self.progress, self._under, self.show_folder, self.send):
            widget.setVisible(False)
        self.make.setVisible(True)

    def show_total(self, first: str, second: str) -> None:
        """Show the print in two rows."""
        self.total.setText(first)
        self.parts.setText(second)

    def show_progress(self, share: float, words: str) -> None:
        """Show work under way."""
        self.make.setVisible(False)
        self.show_folder.setVisible(False)
        self.send.setVisible(False)
        for widget in (self.progress, self._under, self.cancel):
            widget.setVisible(True)
        self.progress.setValue(round(share * 1000))
        self.said.setText(words)

    def show_end(self, words: str, has_file: bool) -> None:
        """Say how it ended."""
        self.rest()
        self._under.setVisible(True)
        self.cancel.setVisible(False)
        self.said.setText(words)
        self.show_folder.setVisible(has_file)
        self.send.setVisible(has_file)

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.foot))
        painter.setPen(QColor(t.ink))
        painter.drawLine(0, 0, self.width(), 0)
