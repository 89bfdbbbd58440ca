"""The keys, and the one sheet that shows them."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QShortcut
from PySide6.QtWidgets import QGridLayout, QWidget

from zinc_margin.desktop import theme
from zinc_margin.desktop.margin.bodies import SizeBody
from zinc_margin.desktop.margin.crop_body import CropBody
from zinc_margin.desktop.parts import text
from zinc_margin.desktop.view import GUIDES, OFF, SURROUNDS
from zinc_margin.docket.docket import LINES

if TYPE_CHECKING:
    from zinc_margin.desktop.window import Window

KEYS: tuple[tuple[str, str], ...] = (
    ("1 – 7", "open a line of the margin"),
    ("Ctrl+O", "open photos"),
    ("Ctrl+Return", "make the file"),
    ("Ctrl+S", "keep the photo's dockets beside it"),
    ("Ctrl+Shift+S", "keep the whole rack in one file"),
    ("Ctrl+R", "the run: everything in the rack"),
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


def bind(window: Window) -> None:
    """Give the window its keys."""

    def add(keys: str, call: Callable[[], object]) -> None:
        QShortcut(QKeySequence(keys), window, activated=call)  # type: ignore[call-overload]

    for number, line in enumerate(LINES, 1):
        add(str(number), window.unless_typing(lambda line=line: window.table.open_line(line)))  # type: ignore[misc]
    add("Ctrl+O", window.ask_for_photos)
    add("Ctrl+Return", window.make)
    add("Ctrl+S", window.keep_dockets)
    add("Ctrl+Shift+S", window.ask_for_rack_file)
    add("Ctrl+R", window.show_run)
    add("Esc", window.stop_making)
    add("Ctrl+Z", window.table.undo)
    add("Ctrl+Shift+Z", window.table.redo)
    add("Ctrl+Y", window.table.redo)
    add("Ctrl+W", window.close_photo)
    add("PgUp", lambda: window.table.activate(window.table.active - 1))
    add("PgDown", lambda: window.table.activate(window.table.active + 1))
    size = window.margin.bodies["size"]
    assert isinstance(size, SizeBody)
    add("Ctrl+A", window.unless_typing(lambda: window.table.choose(window.table.prints)))
    add("R", window.unless_typing(size.swap))
    crop = window.margin.bodies["crop"]
    assert isinstance(crop, CropBody)
    look = window.table.look_next
    add("[", window.in_crop(crop.left.click))
    add("]", window.in_crop(crop.right.click))
    add("M", window.in_crop(crop.mirror_it))
    add("L", window.unless_typing(lambda: window.begin_crop("level")))
    add("I", window.unless_typing(lambda: window.begin_crop("mark")))
    add("G", window.in_crop(lambda: look("guide", tuple(GUIDES))))
    add("C", window.in_crop(lambda: look("off", tuple(OFF))))
    add("S", window.in_crop(lambda: look("surround", tuple(SURROUNDS))))
    add("W", window.unless_typing(window.swap_fit))
    add("U", window.unless_typing(window.next_units))
    add("K", window.unless_typing(window.loupe.keep_candidate))
    add("N", window.unless_typing(window.loupe.look_next))
    add("P", window.unless_typing(window.loupe.mark_place))
    add("V", window.unless_typing(window.loupe.toggle_veil))
    add("Z", window.unless_typing(window.next_zoom))
    add("D", window.unless_typing(window.toggle_dim))
    add("?", window.unless_typing(window.show_keys))
