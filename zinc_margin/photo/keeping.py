"""Where the program keeps things between starts (XDG), and small files written whole."""

from __future__ import annotations

import hashlib
import os
import secrets
from contextlib import suppress
from pathlib import Path

_USUAL = {
    "cache": "~/.cache",
    "config": "~/.config",
    "data": "~/.local/share",
    "state": "~/.local/state",
}


def own_folder(kind: str) -> Path:
    """Return the program's folder of a kind: ``cache``, ``config``, ``data`` or ``state``."""
    base = os.environ.get(f"XDG_{kind.upper()}_HOME") or _USUAL[kind]
    return Path(base).expanduser() / "zinc-margin"


def kept_with(photo: Path, what: str, more: str = "") -> Path:
    """Return where something is kept that a person has said of a photo; it may raise OSError.

    The photo is known by its name, size and time, so it may be moved; `more` tells its parts apart.
    """
    told = photo.stat()
    key = f"{photo.name}\0{told.st_size}\0{told.st_mtime_ns}{more}"
    name = hashlib.sha256(os.fsencode(key)).hexdigest()[:32]
    return own_folder("data") / what / f"{name}.json"


def write_whole(path: Path, data: bytes) -> None:
    """Write a small file so that it is there whole or not at all; it may raise OSError."""
    part = path.with_name(f".{path.name}.{secrets.token_hex(4)}.part")
    try:
        part.write_bytes(data)
        os.replace(part, path)
    finally:
        with suppress(OSError):
            part.unlink()
