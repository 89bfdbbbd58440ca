"""Long work on the command line: a line of progress, and an end when it is interrupted."""

from __future__ import annotations

import os
import signal
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, redirect_stdout, suppress


def hush_libraries() -> None:
    """Keep off the terminal what libraries print by themselves of a broken photo.

    They write to the system's second stream; our own sentences go on under another number.
    """
    stream = sys.__stderr__
    if stream is None or sys.stderr is not stream:
        return  # somebody reads along in this process
    with suppress(OSError, ValueError):
        if stream.fileno() != 2:
            return
        stream.flush()
        ours = os.dup(2)
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, 2)
        os.close(nowhere)
        sys.stderr = os.fdopen(ours, "w", 1, stream.encoding, "surrogateescape")


_quiet = False


@contextmanager
def quieted(quiet: bool) -> Iterator[None]:
    """Print nothing but what went wrong, where that is asked."""
    global _quiet
    _quiet = quiet
    try:
        if quiet:
            with open(os.devnull, "w") as nowhere, redirect_stdout(nowhere):
                yield
        else:
            yield
    finally:
        _quiet = False


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
    if _quiet or not sys.stderr.isatty():
        return None
    from zinc_margin.measure import words

    started = time.monotonic()

    def show(share: float) -> None:
        gone = time.monotonic() - started
        left = words.seconds(gone / share - gone) if share > 0.05 else "…"
        print(f"\r\x1b[K{share:4.0%}  {left} left", end="", file=sys.stderr, flush=True)

    return show
