"""Where the program keeps things between starts (XDG), and small files written whole."""

from __future__ import annotations

import hashlib
import os
import secrets
from contextlib import suppress
from pathlib import Path

from zinc_margin.measure.errors import CannotDo

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


def save_whole(path: Path, data: bytes | str) -> None:
    """Write a small file that a person asked for; text as UTF-8.

    Raises
    ------
    CannotDo
    """
    try:
        write_whole(path, data.encode("utf-8") if isinstance(data, str) else data)
    except OSError as why:
        raise CannotDo(
            f"{path} could not be written: {why.strerror or why}. What was there is as it was."
        ) from None


def save_own(path: Path, data: str) -> None:
    """Write one of a person's own lists, in a folder that may not be there yet.

    Raises
    ------
    CannotDo
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as why:
        raise CannotDo(
            f"The folder {path.parent} could not be made: {why.strerror}. What was there is as it "
            "was."
        ) from None
    save_whole(path, data)
