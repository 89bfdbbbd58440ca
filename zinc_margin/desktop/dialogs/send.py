"""Send files to a lab: check them, send them with a manifest, and show the answer."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QProgressBar,
    QPushButton,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from zinc_margin.desktop.services.work import Lane
from zinc_margin.desktop.widgets.parts import Choice, FolderLink, Link, listing, row, text
from zinc_margin.handoff.checking import check
from zinc_margin.handoff.labs import every, find
from zinc_margin.handoff.order import Line, send
from zinc_margin.keeping.job import Job
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest, ZincError

_MOST_COPIES = 10_000
_COPIES, _ANSWER = 2, 3


class SendDialog(QDialog):
    """Sends finished files as one order.

    Parameters
    ----------
    lines : sequence of Line
        The files and the ordered sizes.
    units : str
        Units of displayed sizes.
    """

    def __init__(self, parent: QWidget, lines: Sequence[Line], units: str) -> None:
        super().__init__(parent)
        self.setWindowTitle("Send to a lab")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.lines = list(lines)
        self.lane = Lane()
        self._job: Job | None = None
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
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setRange(0, 1000)
        self.progress.setAccessibleName("Progress of the sending")
        self.progress.setVisible(False)
        column.addWidget(self.progress)
        below = QHBoxLayout()
        self.sentence = text("", soft=True)
        below.addWidget(self.sentence, 1)
        self.stop = Link("stop", self._stop)
        self.stop.setVisible(False)
        below.addWidget(self.stop)
        self.send = QPushButton("Send")
        self.send.setObjectName("make")
        self.send.setAutoDefault(False)
        self.send.clicked.connect(self.begin)
        below.addWidget(self.send)
        column.addLayout(below)
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

        self.lane.run(work, done, lambda why: self.sentence.setText(str(why)))

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
        try:
            result = find(self.lab.value)
        except BadRequest as why:
            self.sentence.setText(str(why))
            return
        lines, folder = list(self.lines), self.box.folder
        self._under_way(True)

        def work(job: Job) -> dict[str, Any]:
            return send(lines, result, folder, job)

        def done(receipt: dict[str, Any]) -> None:
            self._under_way(False)
            for at, answer in enumerate(receipt["files"]):
                self._answer(at, "accepted" if answer["accepted"] else " ".join(answer["reasons"]))
            if receipt["accepted"]:
                self.sentence.setText(
                    f"Accepted; the receipt is in {folder.name}/{receipt['folder']}."
                )
                self.send.setVisible(False)
            else:
                self.sentence.setText("Refused; the reason is next to each file.")

        def failed(why: ZincError) -> None:
            self._under_way(False)
            self.sentence.setText(str(why))

        def stopped() -> None:
            self._under_way(False)
            self.sentence.setText("Stopped. Sending again continues from here.")

        self._job = self.lane.run(
            work,
            done,
            failed,
            stopped,
            lambda share, left: self.progress.setValue(round(share * 1000)),
        )

    def _under_way(self, is_it: bool) -> None:
        self.progress.setVisible(is_it)
        self.stop.setVisible(is_it)
        for part in (self.send, self.lab, self.box):
            part.setEnabled(not is_it)
        if is_it:
            self.progress.setValue(0)
            self.sentence.setText("Sending …")

    def _stop(self) -> None:
        if self._job is not None:
            self._job.cancel()

    def done(self, result: int) -> None:
        self.lane.stop()
        super().done(result)
