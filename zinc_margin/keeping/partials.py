"""Partial files: recorded while they are written, so leftovers of a crash can be removed.

Each partial file has an entry in the XDG state folder, locked by the process that writes it. The
lock ends with its process, so an entry whose lock is free is an orphan. Machines may share that
folder, and locks may not reach from one to another, so only the machine that wrote an entry removes
its file.
"""

from __future__ import annotations

import errno
import fcntl
import json
import os
import platform
import re
import secrets
import stat
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

from zinc_margin.gate.documents import parse
from zinc_margin.gate.values import Wrong, name_from
from zinc_margin.gate.values import record as fields
from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.words import shorten

_PARTIAL = re.compile(r"\..*\.[0-9a-f]{8}\.part", re.DOTALL)


def partial_beside(goal: Path) -> Path:
    """Return a new hidden name in the same folder as the destination."""
    return goal.with_name(f".{shorten(goal.name)}.{secrets.token_hex(4)}.part")


def _folder() -> Path:
    return own_folder("state") / "partials"


@contextmanager
def record(part: Path) -> Iterator[Callable[[Path], None]]:
    """Record a partial file while it is written; if recording fails, continue without.

    At the end, remove a file that has not received its final name, while it is still recorded.
    Yield a function that records a placeholder: an empty file that reserves the final name.

    Parameters
    ----------
    part : Path
        The partial file.
    """
    entry = _folder() / f"{secrets.token_hex(8)}.json"
    try:
        entry.parent.mkdir(parents=True, exist_ok=True)
        descriptor = os.open(entry, os.O_RDWR | os.O_CREAT | os.O_EXCL, 0o600)
    except OSError:
        try:
            yield lambda placeholder: None
        finally:
            with suppress(OSError):
                part.unlink()
        return

    def note(**paths: Path) -> None:
        named = {"partial": str(part), "machine": platform.node()} | {
            key: str(path) for key, path in paths.items()
        }
        _under_way[entry] = json.dumps(named).encode()
        with suppress(OSError):
            os.pwrite(descriptor, _under_way[entry], 0)

    try:
        with suppress(OSError):
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        note()
        yield lambda placeholder: note(placeholder=placeholder)
    finally:
        for left in (part, entry):
            with suppress(OSError):
                left.unlink()
        _under_way.pop(entry, None)
        os.close(descriptor)


_under_way: dict[Path, bytes] = {}
"""The entries of this process."""


def abandon() -> None:
    """Remove the partial files of this process, which is about to end without cleaning up."""
    for entry, raw in list(_under_way.items()):
        for left in (*_leftovers(_read(raw)), entry):
            with suppress(OSError):
                left.unlink()


def sweep() -> list[Path]:
    """Remove partial files whose writers have ended; return the paths removed."""
    removed: list[Path] = []
    try:
        entries = sorted(_folder().glob("*.json"))
    except OSError:  # for example a state folder with an impossible name
        return removed
    for entry in entries:
        with suppress(OSError):
            descriptor = os.open(entry, os.O_RDWR)
            try:
                fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
                named = _read(os.read(descriptor, 100_000))
                if named.get("machine") not in (None, "", platform.node()):
                    continue
                for remains in _leftovers(named):
                    remains.unlink()
                    removed.append(remains)
                entry.unlink()
            finally:
                os.close(descriptor)
    return removed


_ENTRY = fields({"partial": name_from}, {"placeholder": name_from, "machine": name_from})


def _read(raw: bytes) -> dict[str, Any]:
    """Return an entry's fields; none if it is damaged."""
    with suppress(BadRequest, Wrong):
        return _ENTRY(parse(raw.decode("utf-8", "surrogateescape"), "the entry"))
    return {}


def _leftovers(named: dict[str, Any]) -> Iterator[Path]:
    """Yield the leftovers of an entry: a partial file, or an empty file that reserved a name."""
    if not named:
        return
    part, placeholder = Path(named["partial"]), Path(named["placeholder"] or os.devnull)
    if not (part.is_absolute() and _PARTIAL.fullmatch(part.name)):
        return
    if part.is_file():
        yield part
    if placeholder.parent == part.parent and _is_empty(placeholder):
        yield placeholder


def _is_empty(path: Path) -> bool:
    status = path.lstat() if os.path.lexists(path) else None
    return status is not None and stat.S_ISREG(status.st_mode) and status.st_size == 0


_PATIENCE = 10.0
"""Seconds. Every holder of the lock reads and writes only one small file."""


@contextmanager
def alone_in(folder: Path) -> Iterator[None]:
    """Lock a folder's shared data against other processes; read the data after locking.

    Without locks on this disk, or without the folder, continue unlocked.

    Raises
    ------
    CannotDo
        If another process keeps the lock.
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
            raise CannotDo(f"Another program is changing {folder}; nothing was written. Try again.")
        time.sleep(0.01)
