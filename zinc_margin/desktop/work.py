"""Work away from the window: threads, the newest request first, results back in the window."""

from __future__ import annotations

import sys
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Event
from typing import Any

from PySide6.QtCore import QObject, Qt, Signal

from zinc_margin.measure.errors import Cancelled, ZincError


class Job:
    """One piece of work under way; `cancel` is seen by the work itself."""

    def __init__(self) -> None:
        self.cancel = Event()


class _Post(QObject):
    """Carries results into the window's thread, for as long as somebody waits for them."""

    arrived = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.ended = False
        self.arrived.connect(self._hand_over, Qt.ConnectionType.QueuedConnection)

    def _hand_over(self, call: Callable[[], None]) -> None:
        # what was on its way when the lane ended would reach parts that are gone
        if not self.ended:
            call()


class Lane:
    """A single worker; of several waiting requests only the newest is carried out.

    Parameters
    ----------
    keeps_all : bool
        Carry out every request, in turn.
    """

    def __init__(self, keeps_all: bool = False) -> None:
        self._pool = ThreadPoolExecutor(1, "lane")
        self._post = _Post()
        self._keeps_all = keeps_all
        self._newest: Job | None = None
        self.busy = 0

    def run(
        self,
        work: Callable[[Job], Any],
        done: Callable[[Any], None],
        failed: Callable[[ZincError], None] | None = None,
    ) -> Job:
        """Do `work` in the worker, then call `done` (or `failed`) in the window's thread.

        A lane that has ended takes nothing more.
        """
        job = Job()
        if self._post.ended:
            job.cancel.set()
            return job
        if not self._keeps_all and self._newest is not None:
            self._newest.cancel.set()
        self._newest = job
        self.busy += 1
        self._pool.submit(self._carry_out, job, work, done, failed)
        return job

    def _carry_out(
        self,
        job: Job,
        work: Callable[[Job], Any],
        done: Callable[[Any], None],
        failed: Callable[[ZincError], None] | None,
    ) -> None:
        answer: Callable[[], None] = _nothing
        try:
            if not job.cancel.is_set() or failed is not None:
                result = work(job)
                if not job.cancel.is_set() or failed is not None:
                    answer = _bound(done, result)
        except Cancelled as why:
            if failed is not None:
                answer = _bound(failed, why)
        except ZincError as why:
            if failed is not None:
                answer = _bound(failed, why)
        except Exception as why:  # a worker must answer, or the window would wait for ever
            text = f"Something went wrong that should not ({type(why).__name__}: {why})."
            if failed is not None:
                answer = _bound(failed, ZincError(text))
            else:
                print(f"zinc-margin: {text}", file=sys.stderr)
        self._post.arrived.emit(_bound(self._arrive, answer))

    def _arrive(self, answer: Callable[[], None]) -> None:
        self.busy -= 1
        answer()

    def _end(self) -> None:
        self._post.ended, self.busy = True, 0
        if self._newest is not None:
            self._newest.cancel.set()

    def post(self, call: Callable[[], None]) -> None:
        """Call something in the window's thread; for progress from inside the work."""
        self._post.arrived.emit(call)

    def stop_soon(self) -> None:
        """Let go of what waits; what is under way ends by itself, and nobody hears of it."""
        self._end()
        self._pool.shutdown(wait=False, cancel_futures=True)

    def finish(self) -> None:
        """Do what is asked for, and let the worker end."""
        self._post.ended, self.busy = True, 0
        self._pool.shutdown(wait=True)

    def stop(self) -> None:
        """Cancel what is under way and wait for the worker's end; nobody hears of it."""
        self._end()
        self._pool.shutdown(wait=True, cancel_futures=True)


def _nothing() -> None:
    pass


def _bound(call: Callable[[Any], None], value: Any) -> Callable[[], None]:
    return lambda: call(value)
