"""The margin: heading, seven lines and foot."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QSizePolicy, QWidget

from zinc_margin.desktop.margin.actions import Actions
from zinc_margin.desktop.margin.bodies import PhotoBody, SizeBody
from zinc_margin.desktop.margin.body import Body
from zinc_margin.desktop.margin.crop_body import CropBody
from zinc_margin.desktop.margin.destination import Destination
from zinc_margin.desktop.margin.file_body import FileBody
from zinc_margin.desktop.margin.finish_body import FinishBody
from zinc_margin.desktop.margin.foot import Foot
from zinc_margin.desktop.margin.ledger_line import INDENT, Line
from zinc_margin.desktop.margin.pixels_body import PixelsBody
from zinc_margin.desktop.margin.sharpen_body import SharpenBody
from zinc_margin.desktop.margin.version_tabs import VersionTabs
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import Link, column_layout, text
from zinc_margin.docket.docket import LINES
from zinc_margin.plan.text.lines import entries

WIDTH = 360


class Heading(QWidget):
    """The photo's name over the margin, and a link that adds a version."""

    def __init__(self, table: Table) -> None:
        super().__init__()
        line = QHBoxLayout(self)
        line.setContentsMargins(INDENT, 7, 8, 0)
        line.setSpacing(8)
        self.name = text("", wrap=False, literal=True)
        self.name.setFont(theme.serif(17))
        self.name.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.add = Link("new version", table.add_version, "Add a version of this print")
        line.addWidget(self.name, 1)
        line.addWidget(self.add)
        self._whole = ""

    def show_name(self, name: str) -> None:
        """Show the photo's name."""
        self._whole = name
        self._fit()

    def _fit(self) -> None:
        room = max(40, self.name.width())
        shown = self.name.fontMetrics().elidedText(self._whole, Qt.TextElideMode.ElideMiddle, room)
        self.name.setText(shown)
        self.name.setToolTip(self._whole if shown != self._whole else "")

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def paintEvent(self, event: QPaintEvent) -> None:
        QPainter(self).fillRect(self.rect(), QColor(theme.tones().paper))


class Ground(QWidget):
    """The paper behind the lines."""

    def paintEvent(self, event: QPaintEvent) -> None:
        QPainter(self).fillRect(self.rect(), QColor(theme.tones().paper))


_BODIES: dict[str, type[Body]] = {
    "photo": PhotoBody,
    "size": SizeBody,
    "crop": CropBody,
    "pixels": PixelsBody,
    "sharpen": SharpenBody,
    "finish": FinishBody,
    "file": FileBody,
}


class Margin(QWidget):
    """The column that describes the print."""

    def __init__(self, table: Table, actions: Actions) -> None:
        super().__init__()
        self.table = table
        self.setFixedWidth(theme.px(WIDTH))
        column = column_layout(self, (0, 0, 0, 0), 0)
        self.heading = Heading(table)
        column.addWidget(self.heading)
        self.tabs = VersionTabs(table)
        column.addWidget(self.tabs)
        self.destination = Destination(table, actions.say)
        column.addWidget(self.destination)
        bodies: dict[str, Body] = {
            name: kind(table, name, actions) for name, kind in _BODIES.items()
        }
        self.bodies = bodies
        self.lines: dict[str, Line] = {}
        ground = Ground()
        inner = column_layout(ground, (0, 0, 0, 0), 0)
        for number, name in enumerate(LINES, 1):
            line = Line(
                number,
                name.capitalize(),
                bodies[name],
                lambda name=name: table.open_line(name),  # type: ignore[misc]
            )
            line.head.help.clicked.connect(lambda _=False, name=name: actions.explain(name))
            self.lines[name] = line
            inner.addWidget(line)
        inner.addStretch(1)
        self.roll = QScrollArea()
        self.roll.setWidget(ground)
        self.roll.setWidgetResizable(True)
        self.roll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.roll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(self.roll, 1)
        self.foot = Foot(table, actions)
        column.addWidget(self.foot)

    def refresh(self) -> None:
        """Update every line from the docket."""
        one = self.table.current
        if one is None:
            return  # the margin is hidden then
        plan = one.shown_plan()
        self.heading.show_name(one.name)
        self.tabs.refresh(one)
        self.destination.refresh(plan)
        for name, entry in entries(one.facts, plan, self.table.units).items():
            line = self.lines[name]
            is_open = name == self.table.line
            if is_open:
                self.bodies[name].refresh(one, plan)
            line.show_entry(entry, is_open)
        self.foot.show_plan(one, plan, self.table.units)
