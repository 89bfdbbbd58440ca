"""Small files, written whole or not at all."""

from __future__ import annotations

import errno
import hashlib
import os
import shutil
import stat
from contextlib import suppress
from pathlib import Path

from zinc_margin.gate.files import check_is_file, check_not_device, is_device
from zinc_margin.keeping.partials import partial_beside, record
from zinc_margin.keeping.settling import flush_folder
from zinc_margin.measure.errors import BadRequest, CannotDo


def write_whole(path: Path, data: bytes) -> None:
    """Write a small file whole or not at all; may raise OSError.

    An existing file keeps its permissions, and a link keeps its target.
    """
    path = Path(os.path.realpath(path))
    if is_device(path):
        raise OSError(errno.EINVAL, "It is a pipe or a device")
    part = partial_beside(path)
    with record(part):
        with part.open("xb") as file:
            file.write(data)
            with suppress(OSError):
                os.fchmod(file.fileno(), stat.S_IMODE(path.stat().st_mode))
            file.flush()
            os.fsync(file.fileno())
        if part.read_bytes() != data:  # some file systems report a full disk only here
            raise OSError(errno.EIO, "the disk did not store all bytes")
        os.replace(part, path)
        flush_folder(path.parent)


def copy_whole(source: Path, goal: Path) -> None:
    """Copy a file whole or not at all, replacing the goal; refuse pipes and devices."""
    check_not_device(goal)
    part = partial_beside(goal)
    try:
        with record(part):
            shutil.copyfile(source, part)
            with part.open("rb+") as file:
                os.fsync(file.fileno())
            if digest_of(part) != digest_of(source):
                raise OSError(errno.EIO, "the disk did not store all bytes")
            os.replace(part, goal)
            flush_folder(goal.parent)
    except OSError as why:
        raise CannotDo(f"{goal} could not be written: {why.strerror or why}.") from None


_HEAD = 65_536


def check_ours(path: Path, *marks: str) -> None:
    """Refuse to overwrite a file that this program did not write.

    Parameters
    ----------
    *marks : str
        Strings of which one occurs near the start of our files.
    """
    if not os.path.lexists(path):
        return
    with suppress(OSError, BadRequest):
        check_is_file(path)
        with path.open("rb") as file:
            head = file.read(_HEAD)
        if not head or any(mark.encode("utf-8") in head for mark in marks):
            return
    raise CannotDo(f"{path} exists and was kept. Choose another name.")


def save_whole(path: Path, data: bytes | str) -> None:
    """Write a small file that the user requested; text as UTF-8.

    Parameters
    ----------
    data : bytes or str
        Text is written as UTF-8.
    """
    try:
        # Write a name that is not UTF-8 with replacement characters.
        write_whole(path, data.encode("utf-8", "replace") if isinstance(data, str) else data)
    except OSError as why:
        raise CannotDo(
            f"{path} could not be written: {why.strerror or why}. The previous file is unchanged."
        ) from None


def make_folder(folder: Path) -> None:
    """Create a folder and its parents if they are missing."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as why:
        raise CannotDo(
            f"The folder {folder} could not be created: {why.strerror}. Nothing was changed."
        ) from None


def digest_of(path: Path) -> str:
    """Return a file's SHA-256 in hexadecimal; may raise OSError."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
