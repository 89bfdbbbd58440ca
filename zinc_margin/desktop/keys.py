"""The keys, and the one sheet that shows them."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QShortcut
from PySide6.QtWidgets import QGridLayout, QWidget

from zinc_margin.desktop import theme
from zinc_margin.desktop.parts import text

KEYS: tuple[tuple[str, str], ...] = (
    ("1 – 7", "open a line of the margin"),
    ("Ctrl+O", "open photos"),
    ("Ctrl+Return", "make the file"),
    ("Ctrl+S", "keep the photo's dockets beside it"),
    ("Ctrl+Shift+S", "keep the whole rack in one file"),
    ("Ctrl+R", "batch: make the files of all open photos"),
    ("Esc", "stop the work under way"),
    ("Ctrl+Z", "take back a decision"),
    ("Ctrl+Shift+Z", "make it again"),
    ("Page Up, Page Down", "the photo before, the photo after"),
    ("Ctrl+A, Ctrl or Shift press", "choose several photos in the rack"),
    ("Ctrl+W", "take the photo out of the rack"),
    ("R", "turn the size the other way"),
    ("W", "trim to fill, the whole picture, or an own border"),
    ("[  ]  M", "crop: quarter left, quarter right, mirror"),
    ("L", "crop: level along a line that is drawn"),
    ("I", "crop: mark the subject"),
    ("G  C  S", "crop: guides, what is cut off, surround"),
    ("Wheel, Ctrl+Wheel", "crop: size the frame, turn by 0.1°"),
    ("Alt  Shift  Space", "crop, held: from the centre, no snapping, the picture bare"),
    ("U", "centimetres, inches, or px/cm"),
    ("Z, Wheel", "loupe: 100 to 800 %, the whole"),
    ("K  N  X", "loupe: keep a candidate, next place, held: swap the first two"),
    ("P", "loupe: mark the place for the test strip"),
    ("V", "loupe: show what was invented, or where sharpening acts"),
    ("Arrows", "crop: move the frame a pixel (Shift: ten); loupe: pan"),
    ("D", "dim the window for a dark room"),
    ("?", "this sheet"),
)


class KeySheet(QWidget):
    """Every key on one sheet; any key or press puts it away."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAccessibleName("Keys")
        grid = QGridLayout(self)
        grid.setContentsMargins(28, 22, 32, 24)
        grid.setHorizontalSpacing(24)
        grid.setVerticalSpacing(6)
        title = text("Keys", wrap=False)
        title.setFont(theme.serif(17))
        grid.addWidget(title, 0, 0, 1, 2)
        for index, (key, does) in enumerate(KEYS, 1):
            name = text(key, wrap=False)
            name.setFont(theme.sans(13, bold=True))
            grid.addWidget(name, index, 0)
            grid.addWidget(text(does, wrap=False), index, 1)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        self.close()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.close()


def bind(parent: QWidget, calls: Iterable[tuple[str, Callable[[], object]]]) -> None:
    """Give a window its keys.

    Parameters
    ----------
    parent : QWidget
    calls : iterable of (str, callable)
        A key, and what it does.
    """
    for key, call in calls:
        QShortcut(QKeySequence(key), parent, activated=call)  # type: ignore[call-overload]
