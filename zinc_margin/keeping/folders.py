"""The program's own folders (XDG)."""

from __future__ import annotations

import hashlib
import os
import stat
from contextlib import suppress
from pathlib import Path

from zinc_margin.gate.environment import folder

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
    base = folder(f"XDG_{kind.upper()}_HOME") or os.path.expanduser(_USUAL[kind])
    return Path(base) / "zinc-margin"


def protect_own_folders() -> None:
    """Make the program's folders private: they name photos, places and printers."""
    for kind in _USUAL:
        folder = own_folder(kind)
        with suppress(OSError):  # a folder that cannot be made is reported by what needs it
            folder.mkdir(mode=0o700, parents=True, exist_ok=True)
            if stat.S_IMODE(folder.stat().st_mode) != 0o700:
                folder.chmod(0o700)


def make_private(folder: Path) -> bool:
    """Create a folder that only the user can read; return whether code may be loaded from it.

    It must belong to the user or to root, and others must not be able to write to it or to a
    folder above it, except to sticky ones. Neither it nor its parent may be a link.
    """
    try:
        missing = [each for each in (folder, *folder.parents) if not each.exists()]
        for each in reversed(missing):
            each.mkdir(mode=0o700, exist_ok=True)
        if folder.is_symlink() or folder.parent.is_symlink():
            return False
        whole = Path(os.path.realpath(folder))
        return all(_is_safe(each.stat(), each == whole) for each in (whole, *whole.parents))
    except OSError:
        return True  # a folder that cannot store code cannot offer any


def _is_safe(status: os.stat_result, is_last: bool) -> bool:
    mine = status.st_uid in (os.getuid(), 0)
    sticky = bool(status.st_mode & stat.S_ISVTX) and not is_last
    return mine and (sticky or not status.st_mode & (stat.S_IWGRP | stat.S_IWOTH))


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
