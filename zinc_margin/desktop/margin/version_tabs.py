"""The versions of a photo as tabs under its name."""

from __future__ import annotations

from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget

from zinc_margin.desktop import theme
from zinc_margin.desktop.margin.ledger_line import INDENT
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.parts import Field, Link, Switch, clear, text

_MOST_SHOWN = 4


class VersionTabs(QWidget):
    """One tab per version; the current one can be renamed, copied or removed."""

    def __init__(self, table: Table) -> None:
        super().__init__()
        self.table = table
        row = QHBoxLayout(self)
        row.setContentsMargins(INDENT, 2, 8, 0)
        row.setSpacing(8)
        row.addWidget(text("version:", soft=True, wrap=False))
        self._tabs = QHBoxLayout()
        row.addLayout(self._tabs)
        row.addStretch(1)
        self.name = Field("Name of this version", self._take_name, 84)
        self.name.literal = True
        self.remove = Link("remove", table.remove_version, "Remove this version")
        for part in (self.name, self.remove):
            row.addWidget(part)
        self.switch: Switch | None = None
        self._shown: tuple[str, ...] = ()

    def _take_name(self, typed: str) -> None:
        self.table.name_version(typed)

    def refresh(self, one: Print) -> None:
        """Update the tabs."""
        names = tuple(docket.version for docket in one.versions)
        several = len(names) > 1
        if names != self._shown:
            self._shown = names
            clear(self._tabs)
            self.switch = None
            if several:
                first = max(0, min(one.which - 1, len(names) - _MOST_SHOWN))
                shown = list(enumerate(names))[first : first + _MOST_SHOWN]
                words = tuple((str(n), name[:9]) for n, name in shown)
                self.switch = Switch("Version", words, lambda n: self.table.take_version(int(n)))
                self._tabs.addWidget(self.switch)
        if self.switch is not None:
            self.switch.show_value(str(one.which))
        self.setVisible(several)
        self.name.setVisible(len(names) < 4)
        self.name.show_value(one.docket.version)

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.paper))
