"""Send files to a lab: check them, send them with a manifest, and show the answer."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QHBoxLayout,
    QPushButton,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from zinc_margin.desktop.dialogs.base import Dialog
from zinc_margin.desktop.widgets.parts import Choice, FolderLink, listing, row
from zinc_margin.desktop.widgets.refusals import carry_out
from zinc_margin.handoff.checking import check
from zinc_margin.handoff.labs import every, find
from zinc_margin.handoff.order import Line, send
from zinc_margin.keeping.job import Job
from zinc_margin.measure import words
from zinc_margin.measure.errors import ZincError

_MOST_COPIES = 10_000
_COPIES, _ANSWER = 2, 3


class SendDialog(Dialog):
    """Sends finished files as one order.

    Parameters
    ----------
    lines : sequence of Line
        The files and the ordered sizes.
    units : str
        Units of displayed sizes.
    """

    def __init__(self, parent: QWidget, lines: Sequence[Line], units: str) -> None:
        super().__init__(parent, "Send to a lab")
        self.lines = list(lines)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 18)
        column.setSpacing(8)
        self.lab = Choice(
            "Counter",
            tuple((each.key, each.name) for each in every() if each.takes_orders),
            self._take,
            300,
        )
        self.box = FolderLink("The lab's drop box", self.lines[0].file.parent / "order")
        column.addLayout(row("Counter", self.lab))
        column.addLayout(row("Drop box", self.box))
        self.list = listing("Files of the order", "File", "Ordered as", "Copies", "Its answer")
        self.list.setRowCount(len(self.lines))
        fixed = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        for at, line in enumerate(self.lines):
            size = words.pair(line.size.width_mm, line.size.height_mm, units)
            for place, shown in enumerate((line.file.name, size, str(line.copies), "")):
                cell = QTableWidgetItem(shown)
                cell.setFlags(fixed | Qt.ItemFlag.ItemIsEditable if place == _COPIES else fixed)
                self.list.setItem(at, place, cell)
        self.list.itemChanged.connect(self._typed)
        column.addWidget(self.list, 1)
        column.addWidget(self.progress)
        below = QHBoxLayout()
        below.addWidget(self.sentence, 1)
        below.addWidget(self.stop)
        self.send = QPushButton("Send")
        self.send.setObjectName("make")
        self.send.setAutoDefault(False)
        self.send.clicked.connect(partial(carry_out, self, self.begin))
        below.addWidget(self.send)
        column.addLayout(below)
        self.fixed = (self.send, self.lab, self.box)
        self.resize(860, 460)
        self._take(self.lab.itemData(0))

    def _take(self, key: str) -> None:
        """Check the files against another lab."""
        self.lab.show_value(key)
        result = find(key)
        for at in range(len(self.lines)):
            self._answer(at, "checking …")

        def work(job: Job) -> list[str]:
            answers = []
            for line in self.lines:
                if job.cancelled:
                    break
                try:
                    findings = check(line.file, result, line.size)
                except ZincError as why:
                    answers.append(str(why))
                    continue
                said = " ".join(f"{each.text} {each.way}" for each in findings)
                answers.append(said or "would be accepted")
            return answers

        def done(answers: list[str]) -> None:
            for at, said in enumerate(answers):
                self._answer(at, said)
            bad = sum(said != "would be accepted" for said in answers)
            count = f"{len(answers)} file{'' if len(answers) == 1 else 's'}"
            self.sentence.setText(
                f"{bad} of {count} would be refused." if bad else f"{count} to send."
            )

        self.lane.run(work, done)

    def _answer(self, at: int, said: str) -> None:
        cell = self.list.item(at, _ANSWER)
        assert cell is not None
        cell.setText(said)
        cell.setToolTip(said)
        self.list.resizeRowToContents(at)

    def _typed(self, cell: QTableWidgetItem) -> None:
        if cell.column() != _COPIES:
            return
        line = self.lines[cell.row()]
        try:
            copies = int(cell.text())
        except ValueError:
            copies = 0
        if 1 <= copies <= _MOST_COPIES:
            self.lines[cell.row()] = Line(line.file, line.size, copies)
        else:
            self.sentence.setText(f"Type 1 to {_MOST_COPIES} copies; it remains {line.copies}.")
            cell.setText(str(line.copies))

    def begin(self) -> None:
        """Send the order."""
        result = find(self.lab.value)
        lines, folder = list(self.lines), self.box.folder

        def work(job: Job) -> dict[str, Any]:
            return send(lines, result, folder, job)

        def done(receipt: dict[str, Any]) -> None:
            for at, answer in enumerate(receipt["files"]):
                self._answer(at, "accepted" if answer["accepted"] else " ".join(answer["reasons"]))
            if receipt["accepted"]:
                self.sentence.setText(
                    f"Accepted; the receipt is in {folder.name}/{receipt['folder']}."
                )
                self.send.setVisible(False)
            else:
                self.sentence.setText("Refused; the reason is next to each file.")

        self.do_work(work, done, "Sending …", "Stopped. Sending again continues from here.")
