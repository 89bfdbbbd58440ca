"""Take pictures of every view at several window sizes, and report texts that are cut off.

Run ``python docs/picture_views.py FOLDER``: each size and look runs in a process of its own. The
pictures are for looking at, not for the repository.
"""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

from demo_window import dialogs, empty_window, open_demo, settle
from PySide6.QtWidgets import QApplication, QLabel, QPushButton, QRadioButton, QWidget

from zinc_margin.docket.docket import LINES

LOOKS = {
    "small": (1024, 700, 1, 1.0, False),
    "usual": (1280, 800, 1, 1.0, False),
    "dim": (1280, 800, 1, 1.0, True),
    "large-letters": (1280, 800, 1, 1.5, False),
    "4k": (1920, 1080, 2, 1.0, False),
}
"""Width, height, scale of the screen, size of the letters, and whether the theme is dim."""


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
    window = empty_window(width, height, dim)
    open_demo(window)
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
    for dialog in dialogs(window):
        shoot(dialog, dialog.windowTitle().lower().replace(" ", "-"))
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
