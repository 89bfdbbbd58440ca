"""Give a finished partial file its final name, without replacing a file that took it meanwhile."""

from __future__ import annotations

import ctypes
import errno
import os
from collections.abc import Callable
from contextlib import suppress
from functools import cache
from pathlib import Path
from typing import Any

_HERE = -100
"""The working folder, as renameat2 calls it (AT_FDCWD)."""
_KEEP = 1
"""RENAME_NOREPLACE, linux/fs.h."""


def settle_new(part: Path, goal: Path, note: Callable[[Path], None] = lambda goal: None) -> None:
    """Give a partial its final name, which must not exist; may raise OSError.

    Parameters
    ----------
    part, goal : Path
        Both in one folder.
    note : callable
        Called with a placeholder before it is created.

    Raises
    ------
    FileExistsError
        If the goal exists; the partial then keeps its name.
    """
    try:
        os.link(part, goal)  # unlike a rename, this fails if the name exists
        os.unlink(part)
    except FileExistsError:
        raise
    except OSError:  # many removable disks have no hard links
        if not _rename(part, goal):
            note(goal)
            os.close(os.open(goal, os.O_CREAT | os.O_EXCL | os.O_WRONLY))
            try:
                os.replace(part, goal)
            except OSError:
                with suppress(OSError):
                    os.unlink(goal)
                raise
    flush_folder(goal.parent)


def flush_folder(folder: Path) -> None:
    """Flush a folder's names to disk, if the disk supports it."""
    with suppress(OSError):
        descriptor = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(descriptor)
        finally:
            os.close(descriptor)


@cache
def _renameat2() -> Any:
    """Return the system call, or None if the C library lacks it."""
    try:
        return ctypes.CDLL(None, use_errno=True).renameat2
    except (OSError, AttributeError):
        return None


def _rename(part: Path, goal: Path) -> bool:
    """Rename without replacing; return False if this disk or system cannot."""
    call = _renameat2()
    if call is None:
        return False
    if call(_HERE, os.fsencode(part), _HERE, os.fsencode(goal), _KEEP) == 0:
        return True
    why = ctypes.get_errno()
    if why in (errno.ENOSYS, errno.EINVAL, errno.ENOTSUP):
        return False
    raise OSError(why, os.strerror(why), str(goal))
