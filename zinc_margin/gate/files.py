"""Files from outside: only regular files of a sensible size, as text or JSON."""

from __future__ import annotations

import stat
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

from zinc_margin.gate.documents import parse
from zinc_margin.gate.values import Wrong
from zinc_margin.measure.errors import BadRequest, CannotDo, ZincError

LARGEST_DOCKET = 1_000_000
_LARGEST_OWN = 50_000_000
"""Bytes; a batch of ten thousand photos has a journal of about 5 MB."""

Value = TypeVar("Value")


def check_is_file(path: Path) -> None:
    """Refuse folders, and pipes or devices that reading might never finish; may raise OSError."""
    mode = path.stat().st_mode
    if stat.S_ISDIR(mode):
        raise BadRequest(f"{path} is a folder; name a file.")
    if not stat.S_ISREG(mode):
        raise BadRequest(f"{path} is a pipe or a device, not a file; nothing was read.")


def is_device(path: Path) -> bool:
    """Return whether it is a pipe or a device: a write could wait forever, or replace it."""
    try:
        mode = path.stat().st_mode
    except OSError:
        return False
    return not (stat.S_ISREG(mode) or stat.S_ISDIR(mode))


def check_not_device(path: Path) -> None:
    """Refuse a pipe or a device as the place of a new file."""
    if is_device(path):
        raise BadRequest(f"{path} is a pipe or a device, not a file; nothing was written.")


def read_bytes(path: Path, called: str, largest: int) -> bytes:
    """Read a file that the user named.

    Parameters
    ----------
    called : str
        Its name in error sentences.
    largest : int
        Bytes.

    Raises
    ------
    BadRequest
        If it is missing, too large, or not a file.
    CannotDo
        If reading is not permitted.
    """
    try:
        check_is_file(path)
        if path.stat().st_size > largest:
            raise BadRequest(f"{path} is too large to be a {called}.")
        return path.read_bytes()
    except FileNotFoundError:
        raise BadRequest(f"There is no {called} at {path}.") from None
    except OSError as why:
        raise CannotDo(f"The {called} {path} could not be read: {why.strerror}.") from None


def read_text(path: Path, called: str = "docket", largest: int = LARGEST_DOCKET) -> str:
    """Read a text file that the user named; see `read_bytes`."""
    try:
        return read_bytes(path, called, largest).decode("utf-8")
    except UnicodeDecodeError:
        raise BadRequest(f"{path} is not readable JSON; it was left unchanged.") from None


def read_own(path: Path, reader: Callable[[Any], Value], otherwise: Value) -> Value:
    """Read JSON that the program keeps for itself.

    Parameters
    ----------
    reader : callable
        Its declaration; see `values`.
    otherwise : Value
        The result if the file is missing or damaged: the data can be made or entered again.
    """
    try:
        return reader(parse(read_text(path, "file", _LARGEST_OWN), str(path)))
    except (ZincError, Wrong, OSError):
        return otherwise
