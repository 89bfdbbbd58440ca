"""The foot of the margin: the total, the future file, and one button."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QMimeData, Qt, QUrl
from PySide6.QtGui import QColor, QDrag, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QWidget

from zinc_margin.desktop.margin.ledger_line import INDENT
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.services.shell import Shell
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import Field, Link, Switch, column_layout, text
from zinc_margin.handoff.pace import predict
from zinc_margin.measure import words
from zinc_margin.measure.formats import formats
from zinc_margin.plan.file.name import ruled_name
from zinc_margin.plan.model import Plan
from zinc_margin.plan.text.lines import total

_SHORT = {"jxl": "JXL"}


class Finished(QLabel):
    """The result; a finished file can be dragged to another program or folder."""

    def __init__(self) -> None:
        super().__init__()
        self.setWordWrap(True)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.files: tuple[Path, ...] = ()

    def hold(self, files: Sequence[Path]) -> None:
        """Accept the files that can be dragged."""
        self.files = tuple(files)
        self.setCursor(Qt.CursorShape.OpenHandCursor if self.files else Qt.CursorShape.ArrowCursor)
        self.setToolTip("Drag the file to a folder or another program" if self.files else "")

    def carried(self) -> QMimeData:
        """Return the dragged data."""
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in self.files])
        return data

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self.files and event.buttons() & Qt.MouseButton.LeftButton:
            drag = QDrag(self)
            drag.setMimeData(self.carried())
            drag.exec(Qt.DropAction.CopyAction)


class Foot(QWidget):
    """The finished print, the file's name, folder and format, and *Make file*."""

    def __init__(self, table: Table, shell: Shell) -> None:
        super().__init__()
        self._table = table
        column = column_layout(self, (INDENT, 8, 8, 10), 4)
        self.total = text("")
        self.total.setFont(theme.serif(16))
        self.parts = text("", soft=True)
        self.name = Field("File name", table.take_file_name, help_="The file's name")
        self.name.literal = True
        self.ending = text("", soft=True, wrap=False)
        self.folder = Link("", shell.choose_folder, "Choose another folder")
        self.format = Switch(
            "Format",
            tuple((form.key, _SHORT.get(form.key, form.name)) for form in formats().values()),
            self._take_format,
        )
        for form in formats().values():
            self.format.button(form.key).setToolTip(f"Write a {form.name}")
        self._goal = shell.goal
        self.make = QPushButton("Make file")
        self.make.setObjectName("make")
        self.make.setToolTip("Ctrl+Return")
        self.make.clicked.connect(shell.make)
        tip = "Print it on a printer of this system, a simulated one, or as a PDF"
        self.print = Link("print …", shell.dialogs.print_it, tip)
        self.progress = QProgressBar()
        self.progress.setRange(0, 1000)
        self.progress.setTextVisible(False)
        self.progress.setAccessibleName("Progress")
        self.said = Finished()
        self.show_folder = Link("show it in its folder", shell.show_folder)
        self.send = Link("send it …", shell.dialogs.send_written, "Send the file to a lab")
        self.cancel = Link("stop", shell.stop_making, "Leaves no partial file (Esc)")
        self._under = QWidget()
        under = QHBoxLayout(self._under)
        under.setContentsMargins(0, 0, 0, 0)
        under.addWidget(self.said, 1)
        under.addWidget(self.cancel)
        column.addWidget(self.total)
        column.addWidget(self.parts)
        named = QHBoxLayout()
        named.setSpacing(4)
        named.addWidget(self.name, 1)
        named.addWidget(self.ending)
        named.addWidget(self.folder)
        column.addLayout(named)
        column.addWidget(self.format)
        making = QHBoxLayout()
        making.setSpacing(12)
        making.addWidget(self.make, 1)
        making.addWidget(self.print)
        column.addLayout(making)
        column.addWidget(self.progress)
        column.addWidget(self._under)
        after = QHBoxLayout()
        after.setSpacing(16)
        after.addWidget(self.show_folder)
        after.addWidget(self.send)
        after.addStretch(1)
        column.addLayout(after)
        self.rest()

    def _take_format(self, key: str) -> None:
        self._table.decide("file", format=key)

    def rest(self) -> None:
        """Show only the total."""
        for widget in (self.progress, self._under, self.show_folder, self.send):
            widget.setVisible(False)
        self.make.setVisible(True)
        self.print.setVisible(True)

    def show_plan(self, one: Print, plan: Plan, units: str) -> None:
        """Show the print in two rows, and its future file."""
        first, second = total(plan, units)
        seconds = predict(plan)
        about = f", about {words.seconds(seconds)}" if seconds and seconds >= 1 else ""
        self.total.setText(first)
        self.parts.setText(second + about)
        line = plan.settled.file
        goal = self._goal(one, plan)
        self.name.show_value(line.name or ruled_name(one.facts.path, plan))
        self.name.show_help(f"The file's name. It will be {goal.name}.")
        self.ending.setText(goal.suffix)
        metrics = self.folder.fontMetrics()
        label = f"in {goal.parent.name}" if line.folder else "next to the photo"
        self.folder.setText(metrics.elidedText(label, Qt.TextElideMode.ElideMiddle, theme.px(112)))
        self.folder.setToolTip(f"{goal.parent}\nClick to choose another folder.")
        self.format.show_value(plan.file.format)

    def show_progress(self, share: float, words: str) -> None:
        """Show work in progress."""
        self.make.setVisible(False)
        self.print.setVisible(False)
        self.show_folder.setVisible(False)
        self.send.setVisible(False)
        for widget in (self.progress, self._under, self.cancel):
            widget.setVisible(True)
        self.progress.setValue(round(share * 1000))
        self.said.setText(words)

    def show_end(self, words: str, has_file: bool, files: Sequence[Path] = ()) -> None:
        """Show the result."""
        self.rest()
        self._under.setVisible(True)
        self.cancel.setVisible(False)
        self.said.setText(words)
        self.show_folder.setVisible(has_file)
        self.send.setVisible(has_file)
        self.said.hold(files if has_file else ())

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.foot))
        painter.setPen(QColor(t.ink))
        painter.drawLine(0, 0, self.width(), 0)
