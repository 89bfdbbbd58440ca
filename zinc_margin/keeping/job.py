"""A job: long-running work with progress, time left and a way to cancel it."""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import Future, wait
from dataclasses import dataclass
from pathlib import Path
from threading import Event, Thread
from typing import TypeVar

from zinc_margin.measure.errors import Cancelled

T = TypeVar("T")
Show = Callable[[float, float | None], None]
"""Receives the share done, 0 to 1, and the seconds left (None while unknown)."""

_EVERY_S = 0.05
"""Least time between progress updates, in s: faster ones flicker and are not seen."""
_KNOWN_FROM = 0.03
"""The share done from which elapsed time can predict the rest."""


@dataclass(frozen=True)
class Journal:
    """A record of finished files; each is entered before it gets its name.

    Attributes
    ----------
    note : callable
        Receives a file's name and SHA-256.
    another : callable
        Returns another name for one that was taken meanwhile.
    """

    note: Callable[[Path, str], None]
    another: Callable[[Path], Path]


class Job:
    """Long-running work: the worker reports progress and checks for cancellation.

    Parameters
    ----------
    show : Show or None
        Shows progress; called from the working thread.
    journal : Journal or None
        The record of finished files.
    every_s : float
        Least time between two calls of `show`, in seconds.
    """

    def __init__(
        self, show: Show | None = None, journal: Journal | None = None, every_s: float = _EVERY_S
    ) -> None:
        self.journal = journal
        self._show, self._every_s = show, every_s
        self._stop = Event()
        self._started = time.monotonic()
        self._shown = 0.0
        self._part = (0.0, 1.0)

    @property
    def cancelled(self) -> bool:
        """Whether the job was cancelled; it then neither finishes nor delivers."""
        return self._stop.is_set()

    def cancel(self) -> None:
        """Cancel the job."""
        self._stop.set()

    def check(self) -> None:
        """Raise Cancelled if the job was cancelled."""
        if self._stop.is_set():
            raise Cancelled

    def wait(self, seconds: float) -> bool:
        """Wait, or stop waiting when the job is cancelled; return whether it was."""
        return self._stop.wait(seconds)

    def run_apart(self, work: Callable[[], T]) -> T:
        """Return the result of work that cannot be stopped; if cancelled, let it end unobserved.

        Raises
        ------
        Cancelled
        """
        result: Future[T] = Future()

        def carry_out() -> None:
            try:
                result.set_result(work())
            except BaseException as why:
                result.set_exception(why)

        Thread(target=carry_out, name="apart", daemon=True).start()
        while not wait([result], timeout=_EVERY_S).done:
            self.check()
        self.check()
        return result.result()

    def report(self, share: float) -> None:
        """Show the share of this job (or part) that is done, 0 to 1."""
        now = time.monotonic()
        if self._show is None or (now - self._shown < self._every_s and share < 1):
            return
        self._shown = now
        start, length = self._part
        whole = start + length * share
        gone = now - self._started
        self._show(whole, gone / whole - gone if whole > _KNOWN_FROM else None)

    def report_waiting(self, seconds: float | None) -> None:
        """Show that the work waits for something else, for about so many seconds."""
        if self._show is not None and not self.cancelled:
            self._show(self._part[0], seconds)

    def part(self, start: float, length: float) -> Job:
        """Return a job for a part of this one, from `start`, of `length`."""
        part = Job(self._show, self.journal, self._every_s)
        part._stop, part._started = self._stop, self._started
        part._part = (self._part[0] + self._part[1] * start, self._part[1] * length)
        return part

    def step(self, done: int, count: int) -> Job:
        """Return the job of one of `count` equal steps, after `done` of them."""
        return self.part(done / count, 1 / count)

    def of_file(self, journal: Journal) -> Job:
        """Return the job for one of many files: with a journal, without its own progress."""
        file = Job(None, journal)
        file._stop = self._stop
        return file


class _Idle(Job):
    """A job without progress or cancellation, shared by all callers."""

    def cancel(self) -> None:
        raise RuntimeError("the idle job is shared and cannot be cancelled")


IDLE = _Idle()
"""For work that is neither watched nor cancelled."""
