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
    ("Ctrl+S", "save the print settings beside the photo"),
    ("Ctrl+Shift+S", "save the open photos as one list"),
    ("Ctrl+P", "print it"),
    ("Ctrl+R", "batch: make the files of all open photos"),
    ("Esc", "stop the work under way"),
    ("Ctrl+Z", "undo"),
    ("Ctrl+Shift+Z", "redo"),
    ("Page Up, Page Down", "the photo before, the photo after"),
    ("Ctrl+A, Ctrl or Shift press", "choose several photos"),
    ("Ctrl+W", "close the photo"),
    ("R", "rotate the size"),
    ("W", "fill (trim), the whole picture, or a border"),
    ("[  ]  M", "crop: quarter left, quarter right, mirror"),
    ("L", "crop: straighten along a line that is drawn"),
    ("I", "crop: put the subject point (then press, or arrows and Return)"),
    ("G  C  S", "crop: guides, trimmed part, surround"),
    ("Wheel, Ctrl+Wheel", "crop: size the frame, rotate by 0.1°"),
    ("Alt  Shift  Space", "crop, held: from the centre, no snapping, the picture bare"),
    ("U", "centimetres, inches, or px/cm"),
    ("Z, Wheel", "loupe: 100 to 800 %, the whole"),
    ("K  N  X", "loupe: keep to compare, next place, held: compare the first two"),
    ("P", "loupe: mark the place for the test strip"),
    ("V", "loupe: show what was added, or what is sharpened"),
    ("Arrows", "crop: move the frame a pixel (Shift: ten); loupe: pan"),
    ("Ctrl+C, Ctrl+V", "copy the size; paste a size, a picture or files"),
    ("Ctrl+Shift+Page Up, Page Down", "move the photo in the row"),
    ("Alt+Left, Alt+Right", "loupe, divided: move the line"),
    ("Ctrl+F", "find a control"),
    ("F1", "what the open line is about"),
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
    calls : iterable of (str, callable)
        A key, and what it does.
    """
    for key, call in calls:
        QShortcut(QKeySequence(key), parent, activated=call)  # type: ignore[call-overload]
