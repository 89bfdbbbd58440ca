"""Sentences whose parts are controls: press a part to change it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QWidget, QWidgetAction

from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import Field, text
from zinc_margin.measure.words import local


class Part(QPushButton):
    """A word of the sentence; clicking it shows the alternatives.

    Parameters
    ----------
    name : str
        For assistive technology.
    fill : callable
        Fills the menu each time it opens.
    """

    def __init__(self, name: str, tip: str, fill: Callable[[QMenu], None]) -> None:
        super().__init__()
        self.setObjectName("plain")
        self._name = name
        self.setToolTip(tip)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.choices = QMenu(self)
        self.choices.setToolTipsVisible(True)

        def about() -> None:
            self.choices.clear()
            fill(self.choices)

        self.choices.aboutToShow.connect(about)
        self.setMenu(self.choices)

    def be_decision(self) -> None:
        """Write it as large as a line's decision."""
        self.setFont(theme.serif(16))

    def show_value(self, words: str) -> None:
        """Show the current choice."""
        words = local(words)
        self.setText(words)
        self.setMinimumWidth(self.fontMetrics().horizontalAdvance(words) + 6)
        self.setAccessibleName(f"{self._name}: {words}")


def sentence(*parts: QWidget | str) -> QHBoxLayout:
    """Return a row of words and parts."""
    line = QHBoxLayout()
    line.setSpacing(5)
    for part in parts:
        line.addWidget(text(part, soft=True, wrap=False) if isinstance(part, str) else part)
    line.addStretch(1)
    return line


def tick(action: QAction, chosen: bool) -> None:
    """Tick the current choice."""
    action.setCheckable(chosen)
    action.setChecked(chosen)


def add_field(menu: QMenu, typed: Field) -> None:
    """Add a field to a menu; Return closes it."""
    holder = QWidget()
    inside = QHBoxLayout(holder)
    inside.setContentsMargins(12, 4, 12, 6)
    inside.addWidget(typed)
    row = QWidgetAction(menu)
    row.setDefaultWidget(holder)
    menu.addAction(row)
    QTimer.singleShot(0, typed.setFocus)
    typed.returnPressed.connect(menu.close)
