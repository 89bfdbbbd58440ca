"""A sentence at the bench's lower edge: what happened, and what to do."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget

from zinc_margin.desktop import theme
from zinc_margin.desktop.parts import Link, text


class Message(QWidget):
    """Shown until it is put away; several sentences stand under one another."""

    def __init__(self) -> None:
        super().__init__()
        self._said: list[str] = []
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 8, 16, 8)
        self.label = text("", literal=True)
        self.label.setAccessibleName("Message")
        row.addWidget(self.label, 1)
        self._offered: Callable[[], object] = lambda: None
        self.offered = Link("", self._take_offer)
        self.offered.setVisible(False)
        row.addWidget(self.offered)
        row.addWidget(Link("understood", self.dismiss, "Esc"))
        self.setVisible(False)

    def say(self, sentence: str) -> None:
        """Add a sentence; the last four stay."""
        self._said = [*(one for one in self._said if one != sentence), sentence][-4:]
        self.label.setText("\n".join(self._said))
        self.setVisible(True)

    def withdraw(self, sentence: str) -> None:
        """Take back a sentence that holds no longer."""
        if sentence in self._said:
            self._said.remove(sentence)
            self.label.setText("\n".join(self._said))
            if not self._said:
                self.dismiss()

    def offer(self, sentence: str, words: str, call: Callable[[], object]) -> None:
        """Say something, and offer what can be done about it in one press."""
        self.say(sentence)
        self._offered = call
        self.offered.setText(words)
        self.offered.setVisible(True)

    def _take_offer(self) -> None:
        self.dismiss()
        self._offered()

    def dismiss(self) -> None:
        """Put it away."""
        self._said = []
        self.offered.setVisible(False)
        self.setVisible(False)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.tones().open_paper))
        painter.fillRect(0, 0, 4, self.height(), QColor(theme.tones().accent))
