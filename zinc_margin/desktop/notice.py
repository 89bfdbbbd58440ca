"""A word from the desktop when work ends while the window is not in front."""

from __future__ import annotations

import shutil
from collections.abc import Callable

from PySide6.QtCore import QProcess
from PySide6.QtWidgets import QApplication, QWidget

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
    """Ask the desktop to show a notification, by what it has for that; else nothing happens."""
    if shutil.which("notify-send"):
        words = ["-a", "Zinc Margin", "-i", "zinc-margin", title, sentence]
        QProcess.startDetached("notify-send", words)
    elif shutil.which("gdbus"):
        words = ["Zinc Margin", "0", "zinc-margin", title, sentence, "[]", "{}", "-1"]
        QProcess.startDetached("gdbus", [*_BUS, *words])


send: Callable[[str, str], None] = by_desktop
"""Who tells; the tests put another in its place."""


def tell_elsewhere(window: QWidget, title: str, sentence: str) -> None:
    """Tell how work ended, where nobody is looking at the window."""
    if not window.isActiveWindow() or window.isMinimized():
        QApplication.alert(window)
        send(title, sentence)
