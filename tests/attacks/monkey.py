"""A monkey at the real window: random keys, clicks, drags, words and wheels, by a seed.

``python -m tests.attacks.monkey --count 2000 --seed 1``. It ends at the first error with what it
did last. Dialogs of the system are answered with nothing, or with a file that is no use.
"""

from __future__ import annotations

import argparse
import io
import os
import random
import sys
import tempfile
import traceback
from collections import deque
from contextlib import redirect_stderr
from pathlib import Path
from types import TracebackType

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PIL import Image
from PySide6.QtCore import (
    QCoreApplication,
    QEventLoop,
    QPoint,
    QPointF,
    Qt,
    QTimer,
    QtMsgType,
    qInstallMessageHandler,
)
from PySide6.QtGui import QDesktopServices, QKeySequence, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QLabel, QLineEdit, QWidget

from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell import keys as sheet
from zinc_margin.desktop.shell.application import start
from zinc_margin.desktop.shell.window import Window

WORDS = (
    "30x20cm",
    "A3+",
    "16:9",
    "300",
    "12 MP",
    "2.2 m",
    "8 1/2 x 11",
    "0",
    "-3",
    "1e999999999",
    "½",
    "2 MB",
    "a" * 300,
    "",
    " ",
    "ÿ",
    "\u202e",
    "50%",
    "10x15 in",
    "5",
    "100",
    "80 cm",
    "#204060",
    "{name}-{counter}",
    "../../x",
    "~nosuchuser/x",
    "1/0",
    "nan",
    "A5",
    "9x6cm",
    "0.5",
    "45",
    "3mm",
)
KEYS = (
    Qt.Key.Key_Tab,
    Qt.Key.Key_Backtab,
    Qt.Key.Key_Left,
    Qt.Key.Key_Right,
    Qt.Key.Key_Up,
    Qt.Key.Key_Down,
    Qt.Key.Key_Return,
    Qt.Key.Key_Escape,
    Qt.Key.Key_Space,
    Qt.Key.Key_Home,
    Qt.Key.Key_End,
    Qt.Key.Key_Delete,
    Qt.Key.Key_PageUp,
    Qt.Key.Key_PageDown,
)
_BENIGN = ("This plugin does not support", "Populating font family")
_HELD = (
    Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.AltModifier,
    Qt.KeyboardModifier.ControlModifier,
)


class Monkey:
    """Does so many things to a window, and remembers the last of them."""

    def __init__(
        self, window: Window, photos: list[Path], count: int, seed: int, failures: list[str]
    ) -> None:
        self.window, self.photos, self.left = window, photos, count
        self.chance = random.Random(seed)
        self.did: deque[str] = deque(maxlen=12)
        self.failures = failures
        self.shortcuts = [sequence for key in sheet.KEYS for sequence in key.acts]
        self.loop = QEventLoop()
        self.timer = QTimer()
        self.timer.timeout.connect(self._act)

    def work(self) -> None:
        """Do everything; what has the window wait in a dialog does not stop it."""
        self.timer.start(2)
        self.loop.exec()
        self.timer.stop()

    def _act(self) -> None:
        if self.left <= 0:
            for widget in QApplication.topLevelWidgets():
                if widget is not self.window and widget.isVisible():
                    widget.close()
            self.loop.quit()
            return
        if self.failures:
            self.failures.append("after: " + "; ".join(self.did))
            self.left = 0
            return
        self.left -= 1
        if not self.window.table.prints and not self.window.busy:
            self.window.open_photos(self.photos)
        act = self.chance.choices(
            (
                self._key,
                self._shortcut,
                self._click,
                self._drag,
                self._type,
                self._wheel,
                self._resize,
            ),
            (12, 18, 40, 14, 12, 6, 1),
        )[0]
        act()

    def _top(self) -> QWidget:
        return QApplication.activePopupWidget() or QApplication.activeModalWidget() or self.window

    def _widget(self, kind: type[QWidget] = QWidget) -> QWidget | None:
        top = self._top()
        rows = [
            each
            for each in top.findChildren(kind)
            if each.isVisible() and each.isEnabled() and each.width() > 2 and each.height() > 2
        ]
        return self.chance.choice(rows) if rows else None

    def _spot(self, widget: QWidget) -> QPoint:
        return QPoint(self.chance.randrange(widget.width()), self.chance.randrange(widget.height()))

    def _note(self, *words: object) -> None:
        self.did.append(" ".join(map(str, words)))

    def _key(self) -> None:
        goal = QApplication.focusWidget() or self._top()
        key, held = self.chance.choice(KEYS), self.chance.choice(_HELD)
        self._note("key", key.name, held.name, type(goal).__name__)
        QTest.keyClick(goal, key, held)

    def _shortcut(self) -> None:
        keys = self.chance.choice(self.shortcuts)
        if keys == "Ctrl+W" and self.chance.random() < 0.7:
            return
        self._note("keys", keys)
        QTest.keySequence(QApplication.focusWidget() or self._top(), QKeySequence(keys))

    def _click(self) -> None:
        widget = self._widget()
        if widget is None:
            return
        spot = self._spot(widget)
        self._note("click", type(widget).__name__, getattr(widget, "text", str)(), spot.toTuple())
        button = self.chance.choices(
            (Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton), (9, 1)
        )[0]
        if self.chance.random() < 0.15:
            QTest.mouseDClick(widget, button, self.chance.choice(_HELD), spot)
        else:
            QTest.mouseClick(widget, button, self.chance.choice(_HELD), spot)

    def _drag(self) -> None:
        benches = self.window.benches
        widget = benches if self.chance.random() < 0.7 and self._top() is self.window else None
        widget = widget or self._widget()
        if widget is None:
            return
        child = widget.childAt(self._spot(widget)) or widget
        spot = self._spot(child)
        self._note("drag", type(child).__name__, spot.toTuple())
        left = Qt.MouseButton.LeftButton
        QTest.mousePress(child, left, self.chance.choice(_HELD), spot)
        for _ in range(self.chance.randrange(1, 5)):
            far = QPoint(self.chance.randint(-300, 300), self.chance.randint(-300, 300))
            QTest.mouseMove(child, spot + far)
        QTest.mouseRelease(child, left, Qt.KeyboardModifier.NoModifier, spot + far)

    def _type(self) -> None:
        field = self._widget(QLineEdit)
        if not isinstance(field, QLineEdit) or field.isReadOnly():
            return
        words = self.chance.choice(WORDS)
        self._note("type", field.accessibleName(), repr(words[:20]))
        field.setFocus()
        field.selectAll()
        field.insert(words)  # keys only say what is ASCII
        if self.chance.random() < 0.8:
            QTest.keyClick(field, Qt.Key.Key_Return)

    def _wheel(self) -> None:
        widget = self._widget()
        if widget is None:
            return
        spot = QPointF(self._spot(widget))
        self._note("wheel", type(widget).__name__)
        turn = QPoint(0, self.chance.choice((-120, 120, 1200, -1200)))
        event = QWheelEvent(
            spot,
            QPointF(widget.mapToGlobal(spot.toPoint())),
            QPoint(),
            turn,
            Qt.MouseButton.NoButton,
            self.chance.choice(_HELD),
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QCoreApplication.sendEvent(widget, event)

    def _resize(self) -> None:
        self.window.resize(self.chance.randint(1024, 1700), self.chance.randint(700, 1100))


def _photos(folder: Path) -> list[Path]:
    rows, columns = np.mgrid[0:240, 0:360]
    paths = []
    for n, shape in enumerate(((240, 360), (240, 160), (120, 360))):
        noise = np.random.default_rng(n).normal(0, 5, (*shape, 3))
        base = np.stack([rows * 0.8, columns * 0.6, (rows > 120) * 150.0], 2)[
            : shape[0], : shape[1]
        ]
        paths.append(folder / f"kiln-{n}.{('jpg', 'png', 'tif')[n]}")
        Image.fromarray(np.clip(base + noise, 0, 255).astype(np.uint8)).save(paths[-1])
    return paths


def attack(count: int, seed: int) -> list[str]:
    """Let a monkey at a window of its own; return what went wrong."""
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        homes = {f"XDG_{kind}_HOME": str(folder / "home") for kind in ("CACHE", "DATA", "STATE")}
        before = {key: os.environ.get(key) for key in homes}
        os.environ.update(homes)
        try:
            return _attack(folder, count, seed)
        finally:
            for key, value in before.items():
                if value is None:
                    os.environ.pop(key, None)
                else:
                    os.environ[key] = value


def _attack(folder: Path, count: int, seed: int) -> list[str]:
    photos = _photos(folder)
    held = {path: path.read_bytes() for path in photos}
    (folder / "no use.json").write_text("{")
    chance = random.Random(seed)
    answers = [("", ""), (str(folder / "no use.json"), ""), (str(folder / "new.json"), "")]
    kept = {
        name: getattr(QFileDialog, name)
        for name in (
            "getOpenFileName",
            "getOpenFileNames",
            "getSaveFileName",
            "getExistingDirectory",
        )
    }
    opened = QDesktopServices.openUrl
    start()
    failures: list[str] = []

    def raised(kind: type[BaseException], why: BaseException, trace: TracebackType | None) -> None:
        failures.append("".join(traceback.format_exception(kind, why, trace)))

    def told(kind: QtMsgType, context: object, message: str) -> None:
        if kind != QtMsgType.QtDebugMsg and not any(each in message for each in _BENIGN):
            failures.append(f"Qt: {message}")

    hooks = sys.excepthook, sys.unraisablehook
    said = io.StringIO()
    sys.excepthook = raised
    sys.unraisablehook = lambda each: raised(
        each.exc_type, each.exc_value or Exception(), each.exc_traceback
    )
    handler = qInstallMessageHandler(told)
    window = Window(Table("cm"))
    window.show()
    window.open_photos(photos)
    monkey = Monkey(window, photos, count, seed, failures)
    try:
        for name in kept:
            many, one = name.endswith("Names"), name.endswith("Directory")
            setattr(
                QFileDialog,
                name,
                staticmethod(
                    lambda *asked, many=many, one=one, **known: (
                        ([], "") if many else str(folder) if one else chance.choice(answers)
                    )
                ),
            )
        QDesktopServices.openUrl = staticmethod(lambda url: True)
        with redirect_stderr(said):
            monkey.work()
            for _ in range(2000):
                QApplication.processEvents()
                if not window.busy:
                    break
                QTest.qWait(10)
            texts = [label.text() for label in window.findChildren(QLabel)]
            window.close()
            window.close()
            QApplication.processEvents()
    finally:
        sys.excepthook, sys.unraisablehook = hooks
        qInstallMessageHandler(handler)
        for name, call in kept.items():
            setattr(QFileDialog, name, call)
        QDesktopServices.openUrl = opened
        window.deleteLater()
    wrong = failures
    wrong += [
        text for text in (*texts, *said.getvalue().splitlines()) if "Something went wrong" in text
    ]
    wrong += [f"{path.name} is another" for path, was in held.items() if path.read_bytes() != was]
    wrong += [f"{path.name} was left" for path in folder.rglob("*.part")]
    return wrong


def main() -> int:
    """Attack, and say how it went."""
    parser = argparse.ArgumentParser(description="A monkey at the window.")
    parser.add_argument("--count", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=0)
    options = parser.parse_args()
    wrong = attack(options.count, options.seed)
    print("\n".join(wrong))
    print(f"{options.count} things done (seed {options.seed}): {len(wrong)} went wrong.")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
