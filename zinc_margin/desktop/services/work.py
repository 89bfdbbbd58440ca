"""Background work: requests wait in lanes; results return to the window's thread."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from typing import Any

from PySide6.QtCore import QObject, Qt, Signal

from zinc_margin.keeping import log
from zinc_margin.keeping.job import Job, Show
from zinc_margin.measure.errors import Cancelled, ZincError

Failed = Callable[[ZincError], None]


class _Post(QObject):
    """Calls functions in the window's thread until the lane ends."""

    arrived = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.ended = False
        self.arrived.connect(self._call, Qt.ConnectionType.QueuedConnection)

    def _call(self, call: Callable[[], None]) -> None:
        # A pending call would reach deleted widgets after the lane has ended.
        if not self.ended:
            call()


class Lane:
    """One worker. A cancelled request neither runs nor delivers.

    Parameters
    ----------
    keeps_all : bool
        Carry out every request in order; otherwise a new request cancels the previous one.
    say : callable, optional
        Receives the errors of requests that do not handle their own.
    """

    def __init__(
        self, keeps_all: bool = False, say: Callable[[ZincError], object] | None = None
    ) -> None:
        self._pool = ThreadPoolExecutor(1, "lane")
        self._post = _Post()
        self._keeps_all = keeps_all
        self._say = say or _nothing
        self._newest: Job | None = None
        self.busy = 0

    def run(
        self,
        work: Callable[[Job], Any],
        done: Callable[[Any], None],
        failed: Failed | None = None,
        stopped: Callable[[], None] | None = None,
        show: Show | None = None,
    ) -> Job:
        """Do `work` in the worker, then call one of the other functions in the window's thread.

        Parameters
        ----------
        done : callable
            Receives the result.
        failed : callable, optional
            Receives the error; by default, the lane says it.
        stopped : callable, optional
            Called once cancelled work has ended, or would have started.
        show : Show, optional
            Receives progress, in the window's thread.
        """
        job = Job(None if show is None else self._shower(show))
        if self._post.ended:
            job.cancel()
            return job
        if not self._keeps_all and self._newest is not None:
            self._newest.cancel()
        self._newest = job
        self.busy += 1
        self._pool.submit(self._carry_out, job, work, done, failed, stopped or _nothing)
        return job

    def _shower(self, show: Show) -> Show:
        return lambda share, left: self.post(partial(show, share, left))

    def _carry_out(
        self,
        job: Job,
        work: Callable[[Job], Any],
        done: Callable[[Any], None],
        failed: Failed | None,
        stopped: Callable[[], None],
    ) -> None:
        deliver: Callable[[], None] = _nothing
        try:
            job.check()
            deliver = partial(done, work(job))
        except Cancelled:
            job.cancel()  # the work itself may raise it: a print was cancelled at the printer
        except Exception as why:  # without an answer the window would wait forever
            error = why if isinstance(why, ZincError) else ZincError(log.record(why))
            deliver = partial(failed or self._failed, error)
        self._post.arrived.emit(partial(self._arrive, job, deliver, stopped))

    def _failed(self, why: ZincError) -> None:
        self._say(why)

    def _arrive(self, job: Job, deliver: Callable[[], None], stopped: Callable[[], None]) -> None:
        self.busy -= 1
        # A job can also be cancelled while its result is being delivered.
        try:
            (stopped if job.cancelled else deliver)()
        except ZincError as why:  # the result is a decision that is impossible by now
            self._say(why)

    def _end(self) -> None:
        self._post.ended, self.busy = True, 0
        if self._newest is not None:
            self._newest.cancel()

    def post(self, call: Callable[[], None]) -> None:
        """Call a function in the window's thread, from inside the work."""
        self._post.arrived.emit(call)

    def stop_soon(self) -> None:
        """Drop waiting requests; let the current one end without delivering."""
        self._end()
        self._pool.shutdown(wait=False, cancel_futures=True)

    def finish(self) -> None:
        """Carry out all requests, then end the worker."""
        self._post.ended, self.busy = True, 0
        self._pool.shutdown(wait=True)

    def stop(self) -> None:
        """Cancel the current request and wait for the worker to end, without delivering."""
        self._end()
        self._pool.shutdown(wait=True, cancel_futures=True)


def _nothing(*_: object) -> None:
    pass
