"""The margin itself: the heading, seven lines and the foot."""

from __future__ import annotations

from PySide6.QtCore import QRect, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QScrollArea, QWidget

from zinc_margin.desktop import theme
from zinc_margin.desktop.margin.actions import Actions
from zinc_margin.desktop.margin.bodies import PhotoBody, SizeBody
from zinc_margin.desktop.margin.body import Body
from zinc_margin.desktop.margin.crop_body import CropBody
from zinc_margin.desktop.margin.file_body import FileBody
from zinc_margin.desktop.margin.finish_body import FinishBody
from zinc_margin.desktop.margin.foot import Foot
from zinc_margin.desktop.margin.ledger_line import NUMBER_WIDTH, Line
from zinc_margin.desktop.margin.pixels_body import PixelsBody
from zinc_margin.desktop.margin.sharpen_body import SharpenBody
from zinc_margin.desktop.margin.version_tabs import VersionTabs
from zinc_margin.desktop.parts import stacked
from zinc_margin.desktop.state import Table
from zinc_margin.docket.docket import LINES
from zinc_margin.handoff.pace import predicted
from zinc_margin.measure import words
from zinc_margin.plan.text.lines import entries, total

WIDTH = 360


class Heading(QWidget):
    """The photo's name over the margin."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(46)
        self._name, self._version = "", "print"

    def show_name(self, name: str, version: str = "print") -> None:
        """Show whose margin it is."""
        self._name, self._version = name, version
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.paper))
        painter.setPen(QColor(t.ink))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        painter.setFont(theme.serif(17))
        taken = max(54, painter.fontMetrics().horizontalAdvance(self._version[:14]) + 8)
        box = QRect(
            NUMBER_WIDTH + 8, 0, self.width() - NUMBER_WIDTH - 16 - taken, self.height() - 2
        )
        shown = painter.fontMetrics().elidedText(
            self._name, Qt.TextElideMode.ElideMiddle, box.width()
        )
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft | middle, shown)
        painter.setFont(theme.sans(13))
        painter.setPen(QColor(t.soft))
        kind = QRect(self.width() - 102, 0, 86, self.height() - 2)
        painter.drawText(kind, Qt.AlignmentFlag.AlignRight | middle, self._version[:14])


class Ground(QWidget):
    """The paper under the lines, with the rule that runs down to the foot."""

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.paper))
        painter.setPen(QColor(t.rule))
        painter.drawLine(NUMBER_WIDTH, 0, NUMBER_WIDTH, self.height())


_BODIES: dict[str, type[Body]] = {
    "photo": PhotoBody, "size": SizeBody, "crop": CropBody, "pixels": PixelsBody,
    "sharpen": SharpenBody, "finish": FinishBody, "file": FileBody,
}  # fmt: skip


class Margin(QWidget):
    """The column in which the print is written down."""

    def __init__(self, table: Table, actions: Actions) -> None:
        super().__init__()
        self.table = table
        self.setFixedWidth(WIDTH)
        column = stacked(self, (0, 0, 0, 0), 0)
        self.heading = Heading()
        column.addWidget(self.heading)
        self.tabs = VersionTabs(table)
        column.addWidget(self.tabs)
        bodies: dict[str, Body] = {
            name: kind(table, name, actions) for name, kind in _BODIES.items()
        }
        self.bodies = bodies
        self.lines: dict[str, Line] = {}
        ground = Ground()
        inner = stacked(ground, (0, 0, 0, 0), 0)
        for number, name in enumerate(LINES, 1):
            line = Line(
                number,
                name.capitalize(),
                bodies[name],
                lambda name=name: table.open_line(name),  # type: ignore[misc]
            )
            self.lines[name] = line
            inner.addWidget(line)
        inner.addStretch(1)
        self.roll = QScrollArea()
        self.roll.setWidget(ground)
        self.roll.setWidgetResizable(True)
        self.roll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.roll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(self.roll, 1)
        self.foot = Foot(actions)
        column.addWidget(self.foot)

    def refresh(self) -> None:
        """Bring every line up to date with the docket."""
        one = self.table.current
        self.roll.setEnabled(one is not None)
        self.foot.make.setEnabled(one is not None)
        if one is None:
            self.heading.show_name("No photo open")
            self.tabs.setVisible(False)
            self.foot.show_total("Open a photo", "Drop it here, or press Ctrl+O.")
            for line in self.lines.values():
                line.setVisible(False)
            return
        plan = one.plan()
        self.heading.show_name(one.name, one.docket.version)
        self.tabs.setVisible(True)
        self.tabs.refresh(one)
        for name, entry in entries(one.facts, plan, self.table.units).items():
            line = self.lines[name]
            line.setVisible(True)
            is_open = name == self.table.line
            if is_open:
                self.bodies[name].refresh(one, plan)
            line.show_entry(entry, is_open)
        first, second = total(plan, self.table.units)
        seconds = predicted(plan)
        about = f", about {words.seconds(seconds)}" if seconds and seconds >= 1 else ""
        self.foot.show_total(first, second + about)
