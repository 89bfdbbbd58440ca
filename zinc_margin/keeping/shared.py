"""What several windows, or several batches, change is changed by one of them at a time.

The lock lies on the folder: it leaves no file behind, and goes with its process, however that ends.
"""

from __future__ import annotations

import errno
import fcntl
import os
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from zinc_margin.measure.errors import CannotDo

_PATIENCE = 10.0
"""Seconds. Whoever holds the lock reads and writes one small file."""


@contextmanager
def alone_in(folder: Path) -> Iterator[None]:
    """Keep others from changing what is shared in a folder; what it holds is then read again.

    Where a disk has no locks, or there is no such folder, the work goes on without.

    Raises
    ------
    CannotDo
        When another holds on to it.
    """
    try:
        descriptor = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    except OSError:
        yield
        return
    try:
        _lock(descriptor, folder)
        yield
    finally:
        os.close(descriptor)


def _lock(descriptor: int, folder: Path) -> None:
    end = time.monotonic() + _PATIENCE
    while True:
        try:
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
            return
        except OSError as why:
            if why.errno not in (errno.EWOULDBLOCK, errno.EINTR):
                return
        if time.monotonic() > end:
            raise CannotDo(
                f"Another program is changing what is in {folder}; nothing was written. Try again."
            )
        time.sleep(0.01)
