"""The keyboard shortcuts, and the sheet that lists them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QShortcut
from PySide6.QtWidgets import QGridLayout, QWidget

from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import text
from zinc_margin.desktop.widgets.refusals import carry_out
from zinc_margin.measure.tables import table


@dataclass(frozen=True)
class Key:
    """One row of the sheet of keys.

    Attributes
    ----------
    shown, does : str
        The keys and their effect.
    acts : Mapping
        The action of each key sequence; empty if a view handles the key.
    """

    shown: str
    does: str
    acts: Mapping[str, str] = field(default_factory=dict)


KEYS = tuple(Key(**one) for one in table("keys")["keys"])
"""Every key, listed once: the sheet shows this table, and the window binds it."""


class KeySheet(QWidget):
    """Every key on one sheet; any key or click closes it."""

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
    """Bind the keys in a window.

    Parameters
    ----------
    calls : Mapping
        Every action of `KEYS`, by name.

    Raises
    ------
    ValueError
        If a key has no action, or an action no key.
    """
    bound = {(sequence, act) for key in KEYS for sequence, act in key.acts.items()}
    if odd := {act for _, act in bound} ^ set(calls):
        raise ValueError(f"keys and actions do not match: {', '.join(sorted(odd))}")
    for sequence, act in bound:
        shortcut = QShortcut(QKeySequence(sequence), parent)
        shortcut.activated.connect(partial(carry_out, parent, calls[act]))
