"""The empty state: one sheet with ways to begin."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from zinc_margin.desktop.bench.canvas import Bench
from zinc_margin.desktop.services.shell import Shell
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import Link, clear, column_layout, text

_SHOWN = 5
_WIDTH = 470


class Sheet(QWidget):
    """A sheet of paper on the bench."""

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.tones().open_paper))


class Invitation(Bench):
    """Open a photo, drop it, choose a recent one, or open the demo."""

    def __init__(self, shell: Shell) -> None:
        super().__init__()
        self._shell = shell
        grid = QGridLayout(self)
        sheet = Sheet()
        sheet.setFixedWidth(theme.px(_WIDTH))
        grid.addWidget(sheet, 0, 0, Qt.AlignmentFlag.AlignCenter)
        column = column_layout(sheet, (40, 34, 40, 28), 10)
        head = text("What would you like to print?")
        head.setFont(theme.serif(22))
        column.addWidget(head)
        column.addWidget(
            text(
                "Drop photos or a folder here. Each gets a planned print immediately, ready "
                "to be made. Your photos are never changed.",
                soft=True,
            )
        )
        self.open = QPushButton("Open photos …")
        self.open.setObjectName("make")
        self.open.setAutoDefault(False)
        self.open.clicked.connect(shell.ask_for_photos)
        column.addWidget(self.open)
        self.heading = text("Recent photos", soft=True)
        column.addWidget(self.heading)
        self._list = QVBoxLayout()
        self._list.setSpacing(2)
        column.addLayout(self._list)
        column.addSpacing(10)
        self.demo = Link(
            "open the demo", shell.look_at_demo, "Nine invented photos and their prints"
        )
        self.needs = Link(
            "how many pixels does a size need?",
            partial(shell.show_needs, True),
            "Print sizes without a photo",
        )
        column.addWidget(self.demo)
        column.addWidget(self.needs)
        self._shown: list[str] = []

    def refresh(self) -> None:
        """List the recent photos again."""
        names = self._shell.remembered.recent[:_SHOWN]
        self.heading.setVisible(bool(names))
        if names == self._shown:
            return
        self._shown = names
        clear(self._list)
        for name in names:
            link = Link(Path(name).name, partial(self._shell.open_photos, [name]), name)
            self._list.addWidget(link)

    def paintEvent(self, event: QPaintEvent) -> None:
        QPainter(self).fillRect(self.rect(), QColor(theme.tones().zinc))
