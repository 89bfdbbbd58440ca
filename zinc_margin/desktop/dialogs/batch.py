"""The batch in the window: every open photo, its state and its result."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, QTimer, QUrl
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QStackedWidget,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from zinc_margin.desktop.dialogs.base import Dialog
from zinc_margin.desktop.dialogs.crop_sheet import CropSheet
from zinc_margin.desktop.dialogs.send import SendDialog
from zinc_margin.desktop.model.prints import Print
from zinc_margin.desktop.services.work import Lane
from zinc_margin.desktop.shell.message import tell_elsewhere
from zinc_margin.desktop.widgets.parts import Choice, FolderLink, Link, listing, row
from zinc_margin.docket import presets
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.presets import Preset
from zinc_margin.docket.versions import beside_or_fresh
from zinc_margin.handoff import labs, report
from zinc_margin.handoff.batch import Batch, Item, items_of, tally
from zinc_margin.handoff.forecast import HEADS, Forecast, cells, forecast, total_words
from zinc_margin.handoff.labs import find
from zinc_margin.handoff.order import Line
from zinc_margin.handoff.watching import EVERY_S, Arrivals
from zinc_margin.keeping.job import Job
from zinc_margin.measure import words
from zinc_margin.measure.errors import ZincError

_STATES = {
    "waiting": "waiting",
    "making": "in progress",
    "made": "made",
    "kept": "made before",
    "skipped": "skipped",
    "failed": "failed",
}
_VIEWS = (("crops", "every crop"), ("list", "the list"))
_HEADS = (HEADS[0], "version", *HEADS[1:], "state", "result")
_NUMBERS = ("its pixels", "file's pixels", "enlarged", "bytes")
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
_ENDED = ("made", "kept", "skipped", "failed")


_ASKED = "Close again to stop. Finished files are kept, and the batch can be continued later."


class BatchDialog(Dialog):
    """Makes the files of every open photo, with its own dockets or with presets.

    Parameters
    ----------
    write : callable
        Receives a print, the index of its version, and the new docket.
    """

    def __init__(
        self,
        parent: QWidget,
        prints: Sequence[Print],
        write: Callable[[Print, int, Docket], None],
        units: str,
    ) -> None:
        super().__init__(parent, "Batch", keeps_all=True)
        self.prints, self._write, self.units = list(prints), write, units
        self.ahead = Lane()
        self._forecasts: dict[int, Forecast] = {}
        self.run: Batch | None = None
        self._asked = False
        self._started = 0.0
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 18)
        column.setSpacing(8)
        every = (
            ("", "each photo has its own settings"),
            *((s.name, s.name) for s in presets.every()),
        )
        self.preset = Choice("Preset", every, self._take_preset, 300)
        self.where = FolderLink("Folder for the files", self.prints[0].facts.path.parent / "prints")
        self.shows = Choice("What is shown", _VIEWS, self._see, 140)
        self.check = Choice(
            "Check against",
            (("", "nothing"), *((c.key, c.name) for c in labs.every())),
            self._take_check,
            190,
        )
        self.check.show_value("")
        self.more = Link("and others …", self._ask_for_more, "Make each photo with several presets")
        self.others: list[str] = []
        column.addLayout(row("Preset", self.preset, self.more, "show:", self.shows))
        column.addLayout(row("Check against", self.check))
        self.watch = Link(
            "watch a folder …", self._ask_for_watch, ("Make files for photos that arrive there")
        )
        column.addLayout(row("Folder", self.where, self.watch))
        self.crops = CropSheet()
        self.list = listing("Files of the batch", *map(words.capital, _HEADS))
        self.list.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.list.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.views = QStackedWidget()
        self.views.addWidget(self.crops)
        self.views.addWidget(self.list)
        column.addWidget(self.views, 1)
        column.addWidget(self.progress)
        below = QHBoxLayout()
        below.addWidget(self.sentence, 1)
        self.send = Link("send them …", self._send, "Send the files to a lab")
        self.open_report = Link("the report", self._open_report)
        self.retry = Link("try failed items again", self._retry)
        self.pause = Link("pause", self._pause)
        for part in (self.send, self.open_report, self.retry, self.pause, self.stop):
            part.setVisible(False)
            below.addWidget(part)
        self.start = QPushButton("Make all")
        self.start.setObjectName("make")
        self.start.clicked.connect(self.begin)
        below.addWidget(self.start)
        column.addLayout(below)
        self.resize(1030, 700)
        self.items: list[Item] = []
        self._arrivals: Arrivals | None = None
        self._laid: list[Preset] = []
        self._watch_job: Job | None = None
        self._watching = QTimer(self)
        self._watching.setInterval(round(EVERY_S * 1000))
        self._watching.timeout.connect(self._look)
        self._fill()

    def _take_preset(self, key: str) -> None:
        self._fill()

    def _take_check(self, key: str) -> None:
        self.check.show_value(key)

    def _fill(self) -> None:
        """List the items."""
        laid = self._presets()
        of = {one.facts.path: one for one in self.prints}
        self.items = items_of(
            of, laid, lambda path: (of[path].docket,) if laid else of[path].versions
        )
        self.more.setEnabled(bool(laid))
        self.more.setText(f"and {len(self.others)} more …" if self.others else "and others …")
        self.list.setRowCount(len(self.items))
        self._forecasts.clear()
        self.list.setColumnHidden(1, not any(item.version for item in self.items))
        for at in range(len(self.items)):
            self._show_item(at)
        self.crops.show_items([(of[item.photo], item) for item in self.items], self._corrected)
        count = len(self.items)
        self.sentence.setText(
            f"{count} file{'' if count == 1 else 's'}. Check every crop, and drag those that "
            "need it."
        )
        self._look_ahead()

    def _look_ahead(self) -> None:
        """Plan every new or changed file in the background, and show what it will be."""
        of = {one.facts.path: one.facts for one in self.prints}
        items = [
            (at, of[item.photo], item.docket, item.preset)
            for at, item in enumerate(self.items)
            if at not in self._forecasts
        ]

        def work(job: Job) -> None:
            for at, facts, docket, preset in items:
                job.check()
                one = forecast(facts, docket, preset)
                self.ahead.post(partial(self._take_forecast, job, at, one))

        def done(_: None) -> None:
            if self.run is None and self._arrivals is None:
                every = list(self._forecasts.values())
                self.sentence.setText(f"{total_words(every)} Check every crop.")

        self.ahead.run(work, done)

    def _take_forecast(self, job: Job, at: int, one: Forecast) -> None:
        if not job.cancelled and at < len(self.items):
            self._forecasts[at] = one
            self._show_item(at)

    def _presets(self) -> list[Preset]:
        """Return the presets for each photo; empty if each has its own settings."""
        first = self.preset.currentData()
        if not first:
            self.others = []
            return []
        self.others = [name for name in self.others if name != first]
        return [presets.find(name) for name in (first, *self.others)]

    def _ask_for_more(self) -> None:
        """Offer the other presets to tick."""
        menu = QMenu(self)
        for preset in presets.every():
            if preset.name != self.preset.currentData():
                action = menu.addAction(preset.name)
                action.setCheckable(True)
                action.setChecked(preset.name in self.others)
                action.toggled.connect(partial(self._take_other, preset.name))
        menu.popup(self.more.mapToGlobal(self.more.rect().bottomLeft()))

    def _take_other(self, name: str, is_it: bool) -> None:
        self.others = [other for other in self.others if other != name] + [name] * is_it
        self._fill()

    # A watched folder.

    def _ask_for_watch(self) -> None:
        """Ask for a folder to watch, or stop watching."""
        if self._arrivals is not None:
            self._end_watch()
            return
        folder = QFileDialog.getExistingDirectory(self, "Folder to watch", str(self.where.folder))
        if folder:
            self.begin_watch(Path(folder))

    def begin_watch(self, folder: Path) -> None:
        """Make files for photos that arrive in a folder, until stopped."""
        if folder.resolve() == self.where.folder.absolute():
            self.sentence.setText(
                "That is the destination folder; finished files would be made again. Choose "
                "another folder."
            )
            return
        self._arrivals, self._laid = Arrivals(folder), self._presets()
        self.watch.setText(f"stop watching {folder.name}")
        self.items = []
        self._changed()
        self._see("list")
        self.start.setVisible(False)
        for fixed in (self.preset, self.more, self.check, self.where):
            fixed.setEnabled(False)
        self._watching.start()

    def _look(self) -> None:
        arrivals, laid, key = self._arrivals, self._laid, self.check.value
        if arrivals is None or self.lane.busy:
            return
        folder = self.where.folder

        def work(job: Job) -> None:
            photos = arrivals.look()
            if photos:
                items = items_of(photos, laid, beside_or_fresh)
                self.lane.post(partial(self._arrived, items))
                run = Batch(
                    items,
                    folder,
                    self._item_changed,
                    check_for=find(key) if key else None,
                )
                run.job = job
                run.work()

        def failed(why: ZincError) -> None:
            self._end_watch()
            self.sentence.setText(str(why))

        self._watch_job = self.lane.run(work, lambda _: None, failed, self._end_watch)

    def _arrived(self, items: list[Item]) -> None:
        self.items += items
        self.list.setRowCount(len(self.items))
        self._changed()

    def _end_watch(self) -> None:
        self._watching.stop()
        if self._watch_job is not None:
            self._watch_job.cancel()
        self._arrivals = None
        self.watch.setText("watch a folder …")
        for fixed in (self.preset, self.more, self.check, self.where):
            fixed.setEnabled(True)
        self.sentence.setText(f"{tally(self.items)}. The folder is no longer watched.")

    def _see(self, view: str) -> None:
        self.shows.show_value(view)
        self.views.setCurrentWidget(self.crops if view == "crops" else self.list)

    def _corrected(self, item: Item) -> None:
        """Store a corrected crop: in the photo's version, or for this batch if it uses a preset."""
        if item.preset is None:
            self._write(*self._owner(item), item.docket)
        at = next(n for n, each in enumerate(self.items) if each is item)
        self._forecasts.pop(at, None)
        self._look_ahead()

    def _owner(self, item: Item) -> tuple[Print, int]:
        one = next(one for one in self.prints if one.facts.path == item.photo)
        mine = [each for each in self.items if each.photo == item.photo]
        return one, next(n for n, each in enumerate(mine) if each is item)

    def _show_item(self, at: int) -> None:
        item = self.items[at]
        state = "would be refused" if item.refused else _STATES[item.state]
        goal = item.goal.name if item.goal is not None else ""
        known = self._known(at)
        name, *figures = cells(replace(known, remark=""), self.units)
        result = " ".join(item.refused or ()) or goal or item.remark or known.remark
        if known.remark and item.state == "waiting":
            state = "to be skipped"
        for column, shown in enumerate((name, item.version, *figures, state, result)):
            cell = QTableWidgetItem(words.local(shown) if column else shown)
            if _HEADS[column] in _NUMBERS:
                cell.setTextAlignment(_RIGHT)
            self.list.setItem(at, column, cell)

    def _known(self, at: int) -> Forecast:
        """Return an item before and after: as it was made, or as it will be."""
        item, ahead = self.items[at], self._forecasts.get(at)
        if item.plan is not None and item.state in ("made", "kept"):
            return Forecast(item.photo.name, item.plan.facts, item.plan)
        return ahead or Forecast(item.photo.name, None, None)

    def begin(self) -> None:
        """Make every waiting item."""
        key = self.check.value
        run = Batch(
            self.items,
            self.where.folder,
            self._item_changed,
            check_for=find(key) if key else None,
        )
        self._work(run)

    def _work(self, run: Batch) -> None:
        self.run, self._asked = run, False
        self._started = time.monotonic()
        self.start.setVisible(False)
        for fixed in (self.preset, self.check, self.where, self.crops):
            fixed.setEnabled(False)
        self.progress.setVisible(True)
        self._see("list")
        for part, there in ((self.pause, True), (self.stop, True), (self.retry, False)):
            part.setVisible(there)

        def work(job: Job) -> Path:
            run.job = job
            try:
                run.work()
            finally:
                page = report.write_report(run.items, run.folder, "Batch")
            return page

        def failed(why: ZincError) -> None:
            self._ended()
            self.sentence.setText(str(why))

        self.lane.run(work, self._ended, failed, self._ended)

    def _changed(self) -> None:
        for at in range(len(self.items)):
            self._show_item(at)
        done = sum(item.state in _ENDED for item in self.items)
        self.progress.setRange(0, max(1, len(self.items)))
        self.progress.setValue(done)
        gone = time.monotonic() - self._started
        left = f", {words.seconds(gone / done * (len(self.items) - done))} left" if done else ""
        asked = f". {_ASKED}" if self._asked else ""
        self.sentence.setText(f"{tally(self.items)}{left}{asked}")

    def _item_changed(self, item: Item) -> None:
        self.lane.post(self._changed)  # from the worker's thread

    def _ended(self, page: Path | None = None) -> None:
        self._changed()
        for part in (self.pause, self.stop):
            part.setVisible(False)
        waits = any(item.state == "waiting" for item in self.items)
        self.start.setText("Go on" if waits else "Make all")
        self.start.setVisible(waits)
        self.retry.setVisible(any(item.state == "failed" for item in self.items))
        self.open_report.setVisible(True)
        self.send.setVisible(bool(self._made()))
        self.sentence.setText(tally(self.items))
        tell_elsewhere(self.parentWidget() or self, "The batch has ended", tally(self.items))

    def _pause(self) -> None:
        if self.run is not None:
            (self.run.go_on if self.run.paused else self.run.pause)()
            self.pause.setText("continue" if self.run.paused else "pause")

    def stop_work(self) -> None:
        """Cancel the batch; finished files are kept."""
        if self.run is not None:
            self.run.job.cancel()
            self.sentence.setText("Stopping …")

    def _retry(self) -> None:
        if self.run is not None:
            self.run.retry()
            self._work(self.run)

    def _made(self) -> list[Line]:
        """Return the finished files with their planned sizes."""
        return [
            Line(item.goal, item.plan.size)
            for item in self.items
            if item.state in ("made", "kept") and item.goal is not None and item.plan is not None
        ]

    def _send(self) -> None:
        SendDialog(self, self._made(), self.units).open()

    def _open_report(self) -> None:
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(self.where.folder / "report.html")))

    @property
    def under_way(self) -> bool:
        """Whether files are being made."""
        return (self.run is not None or self._arrivals is not None) and bool(self.lane.busy)

    def reject(self) -> None:
        """Close; while files are being made, ask once."""
        if self.under_way and not self._asked:
            self._asked = True
            self._changed()
            return
        super().reject()

    def done(self, result: int) -> None:
        self._watching.stop()
        if self._watch_job is not None:
            self._watch_job.cancel()
        self.stop_work()
        if self.run is not None:
            self.run.go_on()
        self.ahead.stop()
        super().done(result)
