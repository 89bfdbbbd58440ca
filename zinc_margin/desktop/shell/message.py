"""A message at the lower edge of the bench: what happened, and what to do."""

from __future__ import annotations

import shutil
import sys
from collections.abc import Callable
from types import TracebackType

from PySide6.QtCore import QProcess
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QApplication, QHBoxLayout, QWidget

from zinc_margin.desktop.model.events import Event, Said, Withdrawn
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import Link, text
from zinc_margin.keeping import log


class Message(QWidget):
    """One or several sentences, shown until closed."""

    def __init__(self) -> None:
        super().__init__()
        self._said: list[str] = []
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 8, 16, 8)
        self.label = text("", literal=True)
        self.label.setAccessibleName("Message")
        row.addWidget(self.label, 1)
        self._offered: Callable[[], object] | None = None
        self.offered = Link("", self._take_offer)
        self.offered.setVisible(False)
        row.addWidget(self.offered)
        row.addWidget(Link("close", self.dismiss, "Esc"))
        self.setVisible(False)

    def hear(self, event: Event) -> None:
        """Show what is said to the user, and drop what no longer applies."""
        if isinstance(event, Withdrawn):
            self.withdraw(event.sentence)
        elif isinstance(event, Said):
            self.say(event.sentence)
            if event.remedy is not None:
                self._offered = event.remedy
                self.offered.setText(event.label)
                self.offered.setVisible(True)

    def say(self, sentence: str) -> None:
        """Add a sentence; the last four remain visible."""
        self._said = [*(one for one in self._said if one != sentence), sentence][-4:]
        self.label.setText("\n".join(self._said))
        self.setVisible(True)

    def withdraw(self, sentence: str) -> None:
        """Remove a sentence that no longer applies."""
        if sentence in self._said:
            self._said.remove(sentence)
            self.label.setText("\n".join(self._said))
            if not self._said:
                self.dismiss()

    def _take_offer(self) -> None:
        self.dismiss()
        if self._offered is not None:
            self._offered()

    def dismiss(self) -> None:
        """Close the message."""
        self._said = []
        self.offered.setVisible(False)
        self.setVisible(False)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.tones().open_paper))
        painter.fillRect(0, 0, 4, self.height(), QColor(theme.tones().accent))


class Failures:
    """Shows and logs errors of the program; the docket is then unchanged.

    Parameters
    ----------
    say : callable
        Receives one sentence.
    """

    def __init__(self, say: Callable[[str], None]) -> None:
        self._say, self._before = say, sys.excepthook
        sys.excepthook = self._hook = self._take

    def _take(
        self, kind: type[BaseException], why: BaseException, trace: TracebackType | None
    ) -> None:
        self._before(kind, why, trace)
        if isinstance(why, Exception):
            self._say(f"{log.record(why)} Your decisions are kept.")

    def close(self) -> None:
        """Stop handling errors."""
        if sys.excepthook == self._hook:
            sys.excepthook = self._before


_BUS = (
    "call",
    "--session",
    "--dest",
    "org.freedesktop.Notifications",
    "--object-path",
    "/org/freedesktop/Notifications",
    "--method",
    "org.freedesktop.Notifications.Notify",
)


def by_desktop(title: str, sentence: str) -> None:
    """Ask the desktop's notification service, if any, to show a sentence."""
    if shutil.which("notify-send"):
        words = ["-a", "Zinc Margin", "-i", "zinc-margin", title, sentence]
        QProcess.startDetached("notify-send", words)
    elif shutil.which("gdbus"):
        words = ["Zinc Margin", "0", "zinc-margin", title, sentence, "[]", "{}", "-1"]
        QProcess.startDetached("gdbus", [*_BUS, *words])


send: Callable[[str, str], None] = by_desktop
"""The function that notifies; tests replace it."""


def tell_elsewhere(window: QWidget, title: str, sentence: str) -> None:
    """Notify the user of a result if the window is not active."""
    if not window.isActiveWindow() or window.isMinimized():
        QApplication.alert(window)
        send(title, sentence)
