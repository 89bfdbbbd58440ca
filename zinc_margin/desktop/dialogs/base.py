"""What all dialogs share: a lane, a sentence, progress, and a word that stops the work."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QProgressBar, QWidget

from zinc_margin.desktop.services.work import Lane
from zinc_margin.desktop.widgets.parts import Link, text
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import ZincError

_STEPS = 1000


class Dialog(QDialog):
    """A dialog over the window.

    Parameters
    ----------
    stops : str
        The word that stops the work.
    keeps_all : bool
        Whether its lane carries out every request; otherwise a new one cancels the previous one.

    Attributes
    ----------
    sentence : QLabel
        Results and refusals; the subclass places it, `progress` and `stop`.
    fixed : sequence of QWidget
        Controls that are disabled during the work.
    """

    def __init__(
        self, parent: QWidget, title: str, stops: str = "stop", keeps_all: bool = False
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.lane = Lane(keeps_all, self.say)
        self.sentence = text("", soft=True)
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setRange(0, _STEPS)
        self.progress.setAccessibleName(f"{title}: progress")
        self.progress.setVisible(False)
        self.stop = Link(stops, self.stop_work, "Leaves no partial file")
        self.stop.setVisible(False)
        self.fixed: Sequence[QWidget] = ()
        self._job: Job | None = None

    def say(self, sentence: object) -> None:
        """Show a result or an error."""
        self.sentence.setText(str(sentence))

    def show_refusal(self, why: str) -> None:
        """Show a refusal; the result of an accepted value is already there."""
        if why:
            self.say(why)

    @property
    def under_way(self) -> bool:
        """Whether its work is in progress."""
        return self._job is not None

    def do_work(
        self,
        work: Callable[[Job], Any],
        done: Callable[[Any], None],
        beginning: str,
        stopped: str = "Stopped; nothing was written.",
    ) -> None:
        """Do the work in the background, with progress; `done` receives the result."""

        def end(call: Callable[[Any], None], result: object) -> None:
            self.show_work(False)
            call(result)

        def succeed(result: object) -> None:
            end(done, result)

        def fail(why: ZincError) -> None:
            end(self.say, why)

        def be_stopped() -> None:
            end(self.say, stopped)

        self.say(beginning)
        self.show_work(True)
        self._job = self.lane.run(work, succeed, fail, be_stopped, self._show_share)

    def _show_share(self, share: float, left: float | None) -> None:
        self.progress.setValue(round(share * _STEPS))

    def show_work(self, is_it: bool) -> None:
        """Show whether the work is in progress."""
        self.progress.setVisible(is_it)
        self.stop.setVisible(is_it)
        for part in self.fixed:
            part.setEnabled(not is_it)
        self.progress.setValue(0)
        if not is_it:
            self._job = None

    def stop_work(self) -> None:
        """Cancel the work."""
        if self._job is not None:
            self._job.cancel()

    def end_lane(self) -> None:
        """End the lane: wait until the current work has stopped, so nothing half done remains."""
        self.lane.stop()

    def done(self, result: int) -> None:
        self.stop_work()
        self.end_lane()
        super().done(result)
