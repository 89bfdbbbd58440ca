"""The screen's true size: reported by it, or measured with a card or a sheet held against it."""

from __future__ import annotations

import json
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSlider, QVBoxLayout, QWidget

from zinc_margin.desktop.dialogs.base import Dialog
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import Switch, text
from zinc_margin.gate.files import read_own
from zinc_margin.gate.values import figure, table_of
from zinc_margin.keeping.files import write_whole
from zinc_margin.keeping.folders import own_folder
from zinc_margin.keeping.partials import alone_in
from zinc_margin.measure.errors import CannotDo

_CARDS = {"card": (85.60, 53.98), "sheet": (210.0, 297.0)}
_LEAST, _MOST = 40, 600


_SIZES = table_of(figure(_LEAST, _MOST), 100)


def _file() -> Path:
    return own_folder("config") / "screens.json"


def _saved_sizes() -> dict[str, float]:
    return read_own(_file(), _SIZES, {})


def screen_ppi(widget: QWidget) -> float:
    """Return the device pixels per inch of the screen that a widget is on."""
    screen = widget.screen()
    entry = _saved_sizes().get(screen.name())
    if entry is not None:
        return entry
    sentence = screen.physicalDotsPerInch() * screen.devicePixelRatio()
    return sentence if _LEAST <= sentence <= _MOST else 96.0


def keep_screen_ppi(widget: QWidget, ppi: float) -> None:
    """Save this screen's size; if that fails, it must be measured again."""
    path = _file()
    with suppress(OSError, CannotDo):
        path.parent.mkdir(parents=True, exist_ok=True)
        with alone_in(path.parent):
            known = _saved_sizes() | {widget.screen().name(): round(ppi, 2)}
            write_whole(path, json.dumps(known, indent=2).encode("utf-8"))


class _Outline(QWidget):
    """A card or a sheet's corner at the screen's assumed size."""

    def __init__(self, ppi: float) -> None:
        super().__init__()
        self.ppi, self.kind = ppi, "card"
        self.setMinimumSize(520, 330)

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.zinc))
        scale = self.ppi / 25.4 / self.devicePixelRatioF()
        width, height = (side * scale for side in _CARDS[self.kind])
        painter.setPen(QPen(QColor(t.accent), 2))
        painter.fillRect(QRectF(24, 24, width, height), QColor(t.open_paper))
        painter.drawRect(QRectF(24, 24, width, height))
        painter.setPen(QColor(t.soft))
        for centimetre in range(int(_CARDS[self.kind][0] / 10) + 1):
            x = 24 + centimetre * 10 * scale
            painter.drawLine(round(x), 24, round(x), 32)


class ScreenSize(Dialog):
    """Hold a bank card or an A4 sheet against the screen, and adjust the outline to match."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, "True size of the screen")
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 18)
        column.setSpacing(10)
        column.addWidget(
            text(
                "Hold a bank card, or the short side of an A4 sheet, against the outline; "
                "adjust until both are equally wide."
            )
        )
        self.kind = Switch(
            "The object held against the screen",
            (("card", "bank card"), ("sheet", "sheet of A4")),
            self._lay,
        )
        self.kind.show_value("card")
        column.addWidget(self.kind)
        self.outline = _Outline(screen_ppi(parent))
        column.addWidget(self.outline, 1)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(_LEAST * 10, _MOST * 10)
        self.slider.setValue(round(self.outline.ppi * 10))
        self.slider.setAccessibleName("Width of the outline")
        self.slider.valueChanged.connect(self._slide)
        column.addWidget(self.slider)
        below = QHBoxLayout()
        below.addWidget(self.sentence, 1)
        done = QPushButton("They are equally wide")
        done.setObjectName("make")
        done.clicked.connect(self.accept)
        below.addWidget(done)
        column.addLayout(below)
        self._slide(self.slider.value())

    def _lay(self, kind: str) -> None:
        self.outline.kind = kind
        self.outline.update()

    def _slide(self, value: int) -> None:
        self.outline.ppi = value / 10
        self.say(f"{value / 10:.1f} pixels per inch")
        self.outline.update()


def ask_screen_ppi(parent: QWidget, found: Callable[[], object]) -> None:
    """Measure the true size of the screen with the user; call `found` when done."""
    dialog = ScreenSize(parent)

    def keep() -> None:
        keep_screen_ppi(parent, dialog.outline.ppi)
        found()

    dialog.accepted.connect(keep)
    dialog.open()
