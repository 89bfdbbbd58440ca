"""Start the window."""

from __future__ import annotations

import argparse
import signal
import sys
from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QRectF, Qt, QTimer
from PySide6.QtGui import QColor, QIcon, QPainter, QPixmap
from PySide6.QtWidgets import QApplication

from zinc_margin.commands.interrupts import end_on_signals
from zinc_margin.desktop.model.session import Remembered
from zinc_margin.desktop.widgets import theme
from zinc_margin.gate.environment import variable
from zinc_margin.handoff.complete import check_complete
from zinc_margin.keeping.folders import protect_own_folders
from zinc_margin.measure.errors import ZincError

_NAME = "zinc-margin"
"""The name of the desktop file, which gives the program its name and icon on a desktop."""


def main(arguments: Sequence[str] | None = None) -> int:
    """Open the window with photos, or with the demo."""
    parser = argparse.ArgumentParser(prog="zinc-margin window")
    parser.add_argument("photos", nargs="*", metavar="PHOTO")
    parser.add_argument("--demo", action="store_true", help="open the demo")
    parser.add_argument("--return-to", metavar="FILE", help="create it there, and exit")
    options = parser.parse_args(arguments)
    protect_own_folders()
    if sys.platform == "linux" and not any(
        variable(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    ):
        print("zinc-margin: There is no screen for the window.", file=sys.stderr)
        return 1
    try:
        check_complete()
    except ZincError as why:
        print(f"zinc-margin: {why}", file=sys.stderr)
        return 1
    application = start()
    dim = Remembered.load().dim
    if theme.desktop_is_dark(application) if dim is None else dim:
        theme.apply(application, True)
    from zinc_margin.desktop.shell.window import Window

    window = Window()
    if options.return_to:
        window.making.return_to(Path(options.return_to), window.close)
    window.show()
    if options.demo:
        window.look_at_demo()
    window.open_photos(options.photos)
    window.tidy_up()
    window.get_ready()
    signal.signal(signal.SIGINT, lambda *_: window.end())
    end_on_signals(window.end)
    wake = QTimer()
    wake.start(200)  # lets Python handle signals
    wake.timeout.connect(lambda: None)
    code = application.exec()
    return window.making.exit_code if code == 0 else code


def start(dim: bool = False) -> QApplication:
    """Return the application with its style applied."""
    existing = QApplication.instance()
    application = existing if isinstance(existing, QApplication) else QApplication([_NAME])
    application.setApplicationName(_NAME)
    application.setApplicationDisplayName("Zinc Margin")
    application.setDesktopFileName(_NAME)
    application.setWindowIcon(window_icon())
    theme.follow_letters(application)
    theme.apply(application, dim)
    return application


_SIZES = (16, 24, 32, 48, 64, 128, 256)
_ZINC, _PAPER, _INK, _OXIDE, _SKY, _LAND = (
    "#bcbcba",
    "#f8f8f6",
    "#222222",
    "#8e3b2e",
    "#566a78",
    "#2c3236",
)


def window_icon() -> QIcon:
    """Return the icon, for task bars and title bars."""
    icon = QIcon()
    for size in _SIZES:
        icon.addPixmap(_draw_icon(size))
    return icon


def _draw_icon(size: int) -> QPixmap:
    pixmap = QPixmap(size, size)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    unit = size / 16

    def fill(left: float, top: float, width: float, height: float, tone: str) -> None:
        # Draw on whole pixels: a small icon has no space for soft edges.
        box = QRectF(
            round(left * unit), round(top * unit), round(width * unit), round(height * unit)
        )
        painter.fillRect(box, QColor(tone))

    fill(0, 1, 16, 14, _ZINC)
    fill(0, 1, 6, 14, _PAPER)
    fill(0, 6, 1, 4, _OXIDE)
    for top in (4, 8, 12):
        fill(2, top, 3, 1, _INK)
    fill(7, 4, 8, 7, "#ffffff")
    fill(8, 5, 6, 5, _SKY)
    fill(8, 8, 6, 2, _LAND)
    if size >= 32:
        for at in range(7):
            fill(7 + at * 1.25, 12, 0.3, 1 if at % 2 else 1.6, _INK)
    painter.end()
    return pixmap
