"""The keys, and the one sheet that shows them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QShortcut
from PySide6.QtWidgets import QGridLayout, QWidget

from zinc_margin.desktop import theme
from zinc_margin.desktop.parts import text


@dataclass(frozen=True)
class Key:
    """One row of the sheet of keys.

    Attributes
    ----------
    shown, does : str
        The keys, and what they do.
    acts : Mapping
        The action that each key sequence calls; empty where a view handles the key itself.
    """

    shown: str
    does: str
    acts: Mapping[str, str] = field(default_factory=dict)


KEYS: tuple[Key, ...] = (
    Key("1 – 7", "open a line of the margin", {str(n): f"line {n}" for n in range(1, 8)}),
    Key("Ctrl+O", "open photos", {"Ctrl+O": "open"}),
    Key("Ctrl+Return", "make the file", {"Ctrl+Return": "make"}),
    Key("Ctrl+S", "save the print settings beside the photo", {"Ctrl+S": "save"}),
    Key("Ctrl+Shift+S", "save the open photos as one list", {"Ctrl+Shift+S": "save list"}),
    Key("Ctrl+P", "print it", {"Ctrl+P": "print"}),
    Key("Ctrl+R", "batch: make the files of all open photos", {"Ctrl+R": "batch"}),
    Key("Esc", "stop the work under way", {"Esc": "stop"}),
    Key("Ctrl+Z", "undo", {"Ctrl+Z": "undo"}),
    Key("Ctrl+Shift+Z, Ctrl+Y", "redo", {"Ctrl+Shift+Z": "redo", "Ctrl+Y": "redo"}),
    Key(
        "Page Up, Page Down",
        "the photo before, the photo after",
        {"PgUp": "photo before", "PgDown": "photo after"},
    ),
    Key("Ctrl+A, Ctrl or Shift press", "choose several photos", {"Ctrl+A": "choose all"}),
    Key("Ctrl+W", "close the photo", {"Ctrl+W": "close"}),
    Key("R", "rotate the size", {"R": "rotate size"}),
    Key("W", "fill (trim), the whole picture, or a border", {"W": "fit"}),
    Key(
        "[  ]  M",
        "crop: quarter left, quarter right, mirror",
        {"[": "quarter left", "]": "quarter right", "M": "mirror"},
    ),
    Key("L", "crop: straighten along a line that is drawn", {"L": "straighten"}),
    Key("I", "crop: put the subject point (then press, or arrows and Return)", {"I": "subject"}),
    Key(
        "G  C  S",
        "crop: guides, trimmed part, surround",
        {"G": "guides", "C": "trimmed part", "S": "surround"},
    ),
    Key("Wheel, Ctrl+Wheel", "crop: size the frame, rotate by 0.1°"),
    Key("Alt  Shift  Space", "crop, held: from the centre, no snapping, the picture bare"),
    Key("U", "centimetres, inches, or px/cm", {"U": "units"}),
    Key("Z, Wheel", "loupe: 100 to 800 %, the whole", {"Z": "zoom"}),
    Key(
        "K  N  X",
        "loupe: keep to compare, next place, held: compare the first two",
        {"K": "keep to compare", "N": "next place"},
    ),
    Key("P", "loupe: mark the place for the test strip", {"P": "strip place"}),
    Key("V", "loupe: show what was added, or what is sharpened", {"V": "veil"}),
    Key("Arrows", "crop: move the frame a pixel (Shift: ten); loupe: pan"),
    Key(
        "Ctrl+C, Ctrl+V",
        "copy the size; paste a size, a picture or files",
        {"Ctrl+C": "copy", "Ctrl+V": "paste"},
    ),
    Key(
        "Ctrl+Shift+Page Up, Page Down",
        "move the photo in the row",
        {"Ctrl+Shift+PgUp": "move back", "Ctrl+Shift+PgDown": "move on"},
    ),
    Key("Alt+Left, Alt+Right", "loupe, divided: move the line"),
    Key("Ctrl+F", "find a control", {"Ctrl+F": "find"}),
    Key("F1", "what the open line is about", {"F1": "explain"}),
    Key("D", "dim the window for a dark room", {"D": "dim"}),
    Key("?", "this sheet", {"?": "keys"}),
)
"""Every key, once: the sheet shows this table, and the window binds it."""


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
        for index, key in enumerate(KEYS, 1):
            name = text(key.shown, wrap=False)
            name.setFont(theme.sans(13, bold=True))
            grid.addWidget(name, index, 0)
            grid.addWidget(text(key.does, wrap=False), index, 1)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        self.close()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.close()


def bind(parent: QWidget, calls: Mapping[str, Callable[[], object]]) -> None:
    """Give a window its keys.

    Parameters
    ----------
    calls : Mapping
        Every action of `KEYS`, by name.

    Raises
    ------
    ValueError
        When a key has no action, or an action no key.
    """
    bound = {(sequence, act) for key in KEYS for sequence, act in key.acts.items()}
    if odd := {act for _, act in bound} ^ set(calls):
        raise ValueError(f"keys and actions do not match: {', '.join(sorted(odd))}")
    for sequence, act in bound:
        QShortcut(QKeySequence(sequence), parent, activated=calls[act])  # type: ignore[call-overload]
