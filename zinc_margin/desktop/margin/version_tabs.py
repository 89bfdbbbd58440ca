"""The versions of a photo as tabs under its name."""

from __future__ import annotations

from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget

from zinc_margin.desktop.margin.ledger_line import INDENT
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import Field, Link, Switch, clear, column_layout, row
from zinc_margin.docket.version_names import version_names

_MOST_SHOWN = 4
_LETTERS = {2: 21, 3: 13, 4: 9}
"""Letters of a name on its tab, by the number of tabs."""


class VersionTabs(QWidget):
    """One tab per version; the current one can be renamed, copied or removed."""

    def __init__(self, table: Table) -> None:
        super().__init__()
        self.table = table
        rows = column_layout(self, (INDENT, 2, 8, 0), 4)
        self._tabs = QHBoxLayout()
        rows.addLayout(self._tabs)
        self.name = Field(
            "Name of this version", self._take_name, 176, "Empty: named after its size and paper"
        )
        self.name.literal = True
        self.remove = Link("remove", table.remove_version, "Remove this version")
        rows.addLayout(row("Version", self.name, self.remove))
        self.switch: Switch | None = None
        self._shown: tuple[str, ...] = ()

    def _take(self, number: str) -> None:
        self.table.take_version(int(number))

    def _take_name(self, typed: str) -> None:
        self.table.name_version(typed)

    def refresh(self, one: Print) -> None:
        """Update the tabs."""
        names = version_names(one.versions)
        several = len(names) > 1
        if names != self._shown:
            self._shown = names
            clear(self._tabs)
            self.switch = None
            if several:
                first = max(0, min(one.which - 1, len(names) - _MOST_SHOWN))
                shown = list(enumerate(names))[first : first + _MOST_SHOWN]
                words = tuple((str(n), _short(name, len(shown))) for n, name in shown)
                self.switch = Switch("Version", words, self._take)
                for n, name in shown:
                    self.switch.button(str(n)).setToolTip(name)
                self._tabs.addWidget(self.switch)
        if self.switch is not None:
            self.switch.show_value(str(one.which))
        self.setVisible(several)
        self.name.show_value(names[one.which])

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.paper))


def _short(name: str, tabs: int) -> str:
    most = _LETTERS[min(tabs, _MOST_SHOWN)]
    return name if len(name) <= most else f"{name[: most - 1].rstrip()}…"
