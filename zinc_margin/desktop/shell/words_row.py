"""The row of words at the top: every action with a key can also be clicked."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QWidget

from zinc_margin.desktop.model.events import (
    ActiveChanged,
    DocketChanged,
    PhotosChanged,
    UnitsChanged,
)
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.services.shell import Shell
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import Switch, text
from zinc_margin.desktop.widgets.refusals import carry_out
from zinc_margin.measure.words import UNITS_SHOWN

Act = Callable[[], None]


class Word(QPushButton):
    """One word of the row."""

    def __init__(self, words: str, tip: str, pressed: Act | None = None) -> None:
        super().__init__(words)
        self.setObjectName("word")
        self.setToolTip(tip)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAutoDefault(False)
        if pressed is not None:
            self.clicked.connect(partial(carry_out, self, pressed))


class WordsRow(QWidget):
    """Open, recent, presets, batch, undo, redo; units, light or dim, find, help."""

    def __init__(self, table: Table, shell: Shell) -> None:
        super().__init__()
        self.table, self._shell = table, shell
        self.setObjectName("words")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(theme.px(32))
        line = QHBoxLayout(self)
        line.setContentsMargins(8, 0, 10, 1)
        line.setSpacing(2)
        self.open = Word("open …", "Open photos (Ctrl+O), or drop them here", shell.ask_for_photos)
        self.recent = Word("recent", "Recent photos; a whole folder; the demo")
        menu = QMenu(self.recent)
        menu.aboutToShow.connect(partial(self._fill_recent, menu))
        self.recent.setMenu(menu)
        self.presets = Word(
            "presets …", "Apply, save, import and export presets", shell.dialogs.show_presets
        )
        self.batch = Word(
            "batch …", "Make the files of all open photos (Ctrl+R)", shell.dialogs.show_batch
        )
        self.undo = Word("undo", "Undo a decision (Ctrl+Z)", table.undo)
        self.redo = Word("redo", "Redo it (Ctrl+Shift+Z)", table.redo)
        self.units = Switch("Units", tuple((one, one) for one in UNITS_SHOWN), table.use_units)
        self.units.setToolTip("Centimetres, inches, or centimetres with pixels per centimetre (U)")
        self.tone = Switch("Window", (("light", "light"), ("dim", "dim")), self._take_tone)
        self.tone.setToolTip("Dim for a dark room (D)")
        self.seek = Word("find", "Find a control by name (Ctrl+F)", shell.find_control)
        self.help = Word("help", "This line, the keys, the guide")
        helps = QMenu(self.help)
        for shown, call in (
            ("What is this line?\tF1", shell.explain_line),
            ("Find a control …\tCtrl+F", shell.find_control),
            ("Keys\t?", shell.show_keys),
            ("The guide", shell.show_guide),
            ("Log of failures", shell.show_log),
            ("Open the demo", shell.look_at_demo),
        ):
            helps.addAction(shown, call)
        self.help.setMenu(helps)
        for part in (self.open, self.recent, self.presets, self.batch, self.undo, self.redo):
            line.addWidget(part)
        line.addStretch(1)
        self.working = text("working …", soft=True, wrap=False)
        keeps = self.working.sizePolicy()
        keeps.setRetainSizeWhenHidden(True)
        self.working.setSizePolicy(keeps)
        self.working.setVisible(False)
        line.addWidget(self.working)
        line.addSpacing(8)
        aside: tuple[QWidget, ...] = (self.units, self.tone, self.seek, self.help)
        for each in aside:
            line.addWidget(each)
            line.addSpacing(8)
        kinds = (ActiveChanged, DocketChanged, PhotosChanged, UnitsChanged)
        table.observe(self.refresh, *kinds)

    def _take_tone(self, key: str) -> None:
        self._shell.use_dim(key == "dim")

    def refresh(self) -> None:
        """Disable words that cannot be used now."""
        one = self.table.current
        for part in (self.batch, self.seek):
            part.setEnabled(one is not None)
        self.undo.setEnabled(one is not None and one.history.can_undo)
        self.redo.setEnabled(one is not None and one.history.can_redo)
        self.units.show_value(self.table.units)
        self.tone.show_value("light" if theme.tones() is theme.LIGHT else "dim")

    def _fill_recent(self, menu: QMenu) -> None:
        menu.clear()
        recent = self._shell.remembered.recent
        for name in recent:
            path = Path(name)
            menu.addAction(
                f"{path.name}\t{_short(path.parent)}", partial(self._shell.open_photos, [name])
            )
        if recent:
            menu.addAction("Clear this list", self._shell.forget_recent)
            menu.addSeparator()
        menu.addAction("Open a folder …", self._shell.ask_for_folder)
        keep = menu.addAction(
            "Save the open photos as one list …\tCtrl+Shift+S", self._shell.ask_for_rack_file
        )
        keep.setEnabled(self.table.current is not None)
        menu.addAction("Open the demo", self._shell.look_at_demo)


def _short(folder: Path) -> str:
    """Return a folder in the short form that people use."""
    home = Path.home()
    name = f"~/{folder.relative_to(home)}" if folder.is_relative_to(home) else str(folder)
    return name if len(name) <= 40 else f"… {name[-38:]}"
