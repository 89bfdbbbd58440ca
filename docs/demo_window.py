"""The real window with the demo open, for the scripts of this folder. Import it before Qt."""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
# Decisions of earlier windows must not return, nor those of this one stay.
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from PySide6.QtWidgets import QApplication, QDialog

from zinc_margin.demo import folder as demo
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.application import start
from zinc_margin.desktop.shell.window import Window

_QUIET_S, _MOST_S = 0.4, 300.0


def settle(window: Window) -> None:
    """Wait until nothing is under way."""
    ends, quiet = time.monotonic() + _MOST_S, time.monotonic()
    while time.monotonic() < ends and time.monotonic() - quiet < _QUIET_S:
        QApplication.processEvents()
        if window.busy or window.table.observers.is_stale:
            quiet = time.monotonic()
        time.sleep(0.01)


def empty_window(width: int = 1280, height: int = 800, dim: bool = False) -> Window:
    """Return a window without photos."""
    start(dim)
    window = Window(Table("cm"))
    window.resize(width, height)
    window.show()
    return window


def open_demo(window: Window) -> None:
    """Open the demo's photos, which are drawn first if they are missing."""
    folder = demo.cache_folder()
    if not demo.is_there(folder):
        demo.write_demo(folder)
    window.open_photos([folder / name for name in demo.NAMES])
    settle(window)


def dialogs(window: Window) -> Iterator[QDialog]:
    """Yield the large dialogs, one after the other, each open while it is looked at."""
    asks = window.dialogs
    for call in (asks.show_batch, asks.show_presets, asks.lay_together, asks.make_strip):
        call()
        settle(window)
        for dialog in window.findChildren(QDialog):
            if dialog.isVisible():
                yield dialog
                dialog.done(QDialog.DialogCode.Rejected)
