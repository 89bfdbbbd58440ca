"""Long work on the command line: a line of progress, and an end when it is interrupted."""

from __future__ import annotations

import signal
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from zinc_margin.measure import words


@contextmanager
def interruptible() -> Iterator[threading.Event]:
    """Give an event that an interrupt, or a polite kill, sets."""
    cancel = threading.Event()
    before = signal.signal(signal.SIGINT, lambda *_: cancel.set())
    terminated = signal.signal(signal.SIGTERM, lambda *_: cancel.set())
    try:
        yield cancel
    finally:
        signal.signal(signal.SIGINT, before)
        signal.signal(signal.SIGTERM, terminated)
        if sys.stderr.isatty():
            print(file=sys.stderr, end="\r\x1b[K")


def progress_line() -> Callable[[float], None] | None:
    """Return a progress line for a terminal; None in a pipe."""
    if not sys.stderr.isatty():
        return None
    started = time.monotonic()

    def show(share: float) -> None:
        gone = time.monotonic() - started
        left = words.seconds(gone / share - gone) if share > 0.05 else "…"
        print(f"\r\x1b[K{share:4.0%}  {left} left", end="", file=sys.stderr, flush=True)

    return show
