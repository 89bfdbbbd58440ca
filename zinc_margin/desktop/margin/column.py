"""The margin: heading, seven lines and foot."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QWidget

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
from zinc_margin.desktop.model.events import (
    ALL_LINES,
    ActiveChanged,
    DocketChanged,
    FileNameChanged,
    LineOpened,
    OwnChanged,
    PhotosChanged,
    PixelsChanged,
    UnitsChanged,
)
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.services.shell import Shell
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import Elided, Link, column_layout
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
        self.name = Elided(Qt.TextElideMode.ElideMiddle)
        self.name.setFont(theme.serif(17))
        self.add = Link("new version", table.add_version, "Add a version of this print")
        line.addWidget(self.name, 1)
        line.addWidget(self.add)

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

    def __init__(self, table: Table, shell: Shell) -> None:
        super().__init__()
        self.table = table
        self.setFixedWidth(theme.px(WIDTH))
        column = column_layout(self, (0, 0, 0, 0), 0)
        self.heading = Heading(table)
        column.addWidget(self.heading)
        self.tabs = VersionTabs(table)
        column.addWidget(self.tabs)
        self.destination = Destination(table)
        column.addWidget(self.destination)
        bodies: dict[str, Body] = {name: kind(table, name, shell) for name, kind in _BODIES.items()}
        self.bodies = bodies
        self.lines: dict[str, Line] = {}
        self._opened = ""
        ground = Ground()
        inner = column_layout(ground, (0, 0, 0, 0), 0)
        for number, name in enumerate(LINES, 1):
            line = Line(
                number,
                name.capitalize(),
                bodies[name],
                partial(table.open_line, name),
            )
            line.head.help.clicked.connect(partial(shell.explain, name))
            self.lines[name] = line
            inner.addWidget(line)
        inner.addStretch(1)
        self.roll = QScrollArea()
        self.roll.setWidget(ground)
        self.roll.setWidgetResizable(True)
        self.roll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.roll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(self.roll, 1)
        self.foot = Foot(table, shell)
        column.addWidget(self.foot)

        shown = (ActiveChanged, DocketChanged, PhotosChanged)
        figures = (*shown, PixelsChanged, UnitsChanged)
        table.observe(self.show_head, *shown)
        table.observe(self.show_destination, *figures, lines=ALL_LINES - {"file", "photo"})
        table.observe(self.show_lines, *figures, FileNameChanged, LineOpened, OwnChanged)
        table.observe(self.show_foot, *figures, FileNameChanged)

    def discard_closed(self) -> None:
        """Remove the controls of closed lines until they are opened again."""
        for name, body in self.bodies.items():
            if name != self.table.line:
                body.be_discarded()

    def show_head(self) -> None:
        """Show the photo's name and its versions; without a photo, hide the margin."""
        one = self.table.current
        self.setVisible(one is not None)
        if one is not None:
            self.heading.name.setText(one.name)
            self.tabs.refresh(one)

    def show_destination(self) -> None:
        """Show the maker, the paper and the size."""
        one = self.table.current
        if one is not None:
            self.destination.refresh(one.shown_plan())

    def show_lines(self) -> None:
        """Show every line's decision and consequence, and the controls of the open one."""
        one = self.table.current
        if one is None:
            return
        plan = one.shown_plan()
        for name, entry in entries(one.facts, plan, self.table.units).items():
            line = self.lines[name]
            is_open = name == self.table.line
            if is_open:
                self.bodies[name].refresh(one, plan)
            line.show_entry(entry, is_open)
        self._fit_lines()

    def _fit_lines(self) -> None:
        """Drop the second rows of closed lines where space is short; show the open line whole."""
        heads = [line.head for line in self.lines.values()]
        body = self.bodies[self.table.line]
        room = self.roll.viewport().height()
        needed = sum(head.full_height for head in heads) + body.sizeHint().height()
        for head in heads:
            head.be_compact(needed > room and not head.is_open)
        if self._opened != self.table.line:
            self._opened = self.table.line
            QTimer.singleShot(0, self._scroll_to_open)

    def _scroll_to_open(self) -> None:
        """Scroll until the open line is in view, at least from its head on."""
        line = self.lines[self.table.line]
        bar, room = self.roll.verticalScrollBar(), self.roll.viewport().height()
        top, bottom = line.y(), line.y() + line.sizeHint().height()
        if bottom > bar.value() + room or top < bar.value():
            bar.setValue(max(0, min(top, bottom - room) if bottom - top <= room else top))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self.table.current is not None:
            self._fit_lines()

    def show_foot(self) -> None:
        """Show the total and the file."""
        one = self.table.current
        if one is not None:
            self.foot.show_plan(one, one.shown_plan(), self.table.units)
