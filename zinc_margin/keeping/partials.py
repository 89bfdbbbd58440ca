"""What is being written, noted down: after a crash, its remains are found and taken away.

Every partial file has an entry in the XDG state folder, locked by the process that writes it. A
lock goes with its process, however that ends; an entry whose lock can be had is an orphan's.
"""

from __future__ import annotations

import fcntl
import json
import os
import re
import secrets
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure.words import shortened

_PARTIAL = re.compile(r"\..*\.[0-9a-f]{8}\.part", re.DOTALL)


def partial_beside(goal: Path) -> Path:
    """Return a new hidden name beside a file that is to be written.

    Parameters
    ----------
    goal : Path
    """
    return goal.with_name(f".{shortened(goal.name)}.{secrets.token_hex(4)}.part")


def _folder() -> Path:
    return own_folder("state") / "partials"


@contextmanager
def entered(part: Path) -> Iterator[None]:
    """Note a partial file for as long as it is written; where that cannot be noted, go on.

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
        yield
        return
    try:
        with suppress(OSError):
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
            os.write(descriptor, json.dumps({"partial": str(part)}).encode())
        yield
    finally:
        with suppress(OSError):
            entry.unlink()
        os.close(descriptor)


def swept() -> list[Path]:
    """Take away partial files whose writers are gone; return those that were taken away."""
    removed = []
    for entry in sorted(_folder().glob("*.json")):
        with suppress(OSError):
            descriptor = os.open(entry, os.O_RDWR)
            try:
                fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
                part = _noted(os.read(descriptor, 100_000))
                if part is not None and part.is_file():
                    part.unlink()
                    removed.append(part)
                entry.unlink()
            finally:
                os.close(descriptor)
    return removed


def _noted(raw: bytes) -> Path | None:
    """Return the partial of an entry; only a file by a partial's name is ever taken away."""
    try:
        part = Path(json.loads(raw)["partial"])
    except (ValueError, KeyError, TypeError):
        return None
    return part if part.is_absolute() and _PARTIAL.fullmatch(part.name) else None
