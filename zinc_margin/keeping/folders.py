"""The program's own folders (XDG)."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

_USUAL = {
    "cache": "~/.cache",
    "config": "~/.config",
    "data": "~/.local/share",
    "state": "~/.local/state",
}


def own_folder(kind: str) -> Path:
    """Return the program's folder of one kind: ``cache``, ``config``, ``data`` or ``state``.

    Parameters
    ----------
    kind : str
        ``cache``, ``config``, ``data`` or ``state``.
    """
    base = os.environ.get(f"XDG_{kind.upper()}_HOME", "")
    if not os.path.isabs(base):  # the specification says to ignore relative paths
        base = os.path.expanduser(_USUAL[kind])
    return Path(base) / "zinc-margin"


def kept_with(photo: Path, what: str, more: str = "") -> Path:
    """Return the path of data that the user entered for a photo; may raise OSError.

    The photo is identified by name, size and time, so it can be moved; `more` distinguishes its
    parts.

    Parameters
    ----------
    what : str
        Its name in error sentences.
    """
    status = photo.stat()
    key = f"{photo.name}\0{status.st_size}\0{status.st_mtime_ns}{more}"
    name = hashlib.sha256(os.fsencode(key)).hexdigest()[:32]
    return own_folder("data") / what / f"{name}.json"
