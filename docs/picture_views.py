"""Take pictures of every view at several window sizes, and report texts that are cut off.

Run ``python docs/picture_views.py FOLDER``: each size and look runs in a process of its own. The
pictures are for looking at, not for the repository.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
# Decisions of earlier windows must not return, nor those of this one stay.
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from PySide6.QtWidgets import QApplication, QDialog, QLabel, QPushButton, QRadioButton, QWidget

from zinc_margin.demo import folder as demo
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.application import start
from zinc_margin.desktop.shell.window import Window
from zinc_margin.docket.docket import LINES

LOOKS = {
    "small": (1024, 700, 1, 1.0, False),
    "usual": (1280, 800, 1, 1.0, False),
    "dim": (1280, 800, 1, 1.0, True),
    "large-letters": (1280, 800, 1, 1.5, False),
    "4k": (1920, 1080, 2, 1.0, False),
}
"""Width, height, scale of the screen, size of the letters, and whether the theme is dim."""
_QUIET_S, _MOST_S = 0.4, 60.0


def settle(window: Window) -> None:
    """Wait until nothing is under way."""
    ends, quiet = time.monotonic() + _MOST_S, time.monotonic()
    while time.monotonic() < ends and time.monotonic() - quiet < _QUIET_S:
        QApplication.processEvents()
        if window.busy:
            quiet = time.monotonic()
        time.sleep(0.01)


def cut_off(part: QWidget) -> Iterator[str]:
    """Yield visible texts that have less room than they need."""
    for each in part.findChildren(QWidget):
        if not isinstance(each, (QLabel, QPushButton, QRadioButton)) or not each.isVisible():
            continue
        wraps = isinstance(each, QLabel) and each.wordWrap()
        needed = each.heightForWidth(each.width()) if wraps else each.sizeHint().width()
        room = each.height() if wraps else each.width()
        if each.text() and needed > room + 1:
            yield f"{each.text()[:60]!r} needs {needed}, has {room}"
        elif 0 < each.visibleRegion().boundingRect().width() < each.width() - 1 and each.text():
            yield f"{each.text()[:60]!r} is covered at the side"


def take(name: str, folder: Path) -> None:
    """Take the pictures of one look."""
    width, height, _, letters, dim = LOOKS[name]
    application = QApplication.instance() or QApplication(["views"])
    assert isinstance(application, QApplication)
    font = application.font()
    font.setPointSizeF(font.pointSizeF() * letters)
    application.setFont(font)
    start(dim)
    window = Window(Table("cm"))
    window.resize(width, height)
    window.show()
    source = demo.cache_folder()
    if not demo.is_there(source):
        demo.write_demo(source)
    window.open_photos([source / photo for photo in demo.NAMES])
    settle(window)
    window.message.dismiss()

    def shoot(part: QWidget, view: str) -> None:
        settle(window)
        part.grab().save(str(folder / f"{name}-{view}.png"))
        for text in cut_off(part):
            print(f"{name}, {view}: {text}")

    for line in LINES:
        window.table.open_line(line)
        shoot(window, line)
    window.table.activate(2)
    shoot(window, "canvas")
    asks = window.dialogs
    for call in (asks.show_batch, asks.show_presets, asks.lay_together, asks.make_strip):
        call()
        settle(window)
        for dialog in window.findChildren(QDialog):
            if dialog.isVisible():
                shoot(dialog, dialog.windowTitle().lower().replace(" ", "-"))
                dialog.done(QDialog.DialogCode.Rejected)
    window.end()


def main() -> None:
    """Take the pictures of one look, or of all."""
    folder = Path(sys.argv[1])
    folder.mkdir(parents=True, exist_ok=True)
    if len(sys.argv) > 2:
        take(sys.argv[2], folder)
        return
    for name, (_, _, scale, _, _) in LOOKS.items():
        environment = os.environ | {"QT_SCALE_FACTOR": str(scale)}
        subprocess.run([sys.executable, __file__, str(folder), name], env=environment, check=True)


if __name__ == "__main__":
    main()
