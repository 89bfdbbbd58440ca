"""Long work on the command line: a progress line, and an end within two seconds of a signal."""

from __future__ import annotations

import os
import signal
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, redirect_stdout, suppress

from zinc_margin.commands.terminal import control
from zinc_margin.keeping.job import Job
from zinc_margin.keeping.partials import abandon
from zinc_margin.measure.errors import Cancelled


def hush_libraries() -> None:
    """Keep libraries' own messages about broken photos off the terminal.

    They write to file descriptor 2; our own messages use another descriptor.
    """
    stream = sys.__stderr__
    if stream is None or sys.stderr is not stream:
        return  # a test captures the output in this process
    with suppress(OSError, ValueError):
        if stream.fileno() != 2:
            return
        stream.flush()
        ours = os.dup(2)
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, 2)
        os.close(nowhere)
        sys.stderr = os.fdopen(ours, "w", 1, stream.encoding, "surrogateescape")


_PATIENCE_S = 1.4
"""Time for an orderly end after a signal."""


def end_on_signals(terminate: Callable[[], None]) -> None:
    """End within two seconds of an interrupt or SIGTERM, whatever the program is waiting for.

    Python runs signal handlers only between its own instructions: a library that is compiling, or
    a file system that does not answer, keeps them waiting. So a thread watches, too.

    Parameters
    ----------
    terminate : callable
        Starts an orderly end after SIGTERM; runs in the main thread.
    """
    signal.signal(signal.SIGTERM, lambda *_: terminate())
    ready, noted = os.pipe()
    os.set_blocking(noted, False)
    signal.set_wakeup_fd(noted, warn_on_full_buffer=False)
    threading.Thread(target=_watch, args=(ready,), daemon=True, name="signals").start()


def _watch(ready: int) -> None:
    while not set(os.read(ready, 64)) & {signal.SIGINT, signal.SIGTERM}:
        pass
    time.sleep(_PATIENCE_S)
    abandon()
    with suppress(OSError, ValueError, AttributeError):
        os.write(2 if sys.stderr is None else sys.stderr.fileno(), _ENDED)
    os._exit(Cancelled.code)


_ENDED = b"zinc-margin: Stopped. Finished files were kept, unfinished ones removed.\n"

_quiet = False


@contextmanager
def quiet_output(quiet: bool) -> Iterator[None]:
    """Print only errors, if requested."""
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
def interruptible() -> Iterator[Job]:
    """Yield a job with a progress line; an interrupt or SIGTERM cancels it."""
    job = Job(_line if not _quiet and sys.stderr.isatty() else None)
    before = signal.signal(signal.SIGINT, lambda *_: job.cancel())
    terminated = signal.signal(signal.SIGTERM, lambda *_: job.cancel())
    try:
        yield job
    finally:
        signal.signal(signal.SIGINT, before)
        signal.signal(signal.SIGTERM, terminated)
        if sys.stderr.isatty():
            control("\r\x1b[K")


def _line(share: float, left: float | None) -> None:
    """Show progress and the time left in one line of the terminal."""
    from zinc_margin.measure import words

    rest = "…" if left is None else words.seconds(left)
    control(f"\r\x1b[K{share:4.0%}  {rest} left")
