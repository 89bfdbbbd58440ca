"""File names, and the files that must never be overwritten."""

from __future__ import annotations

import os
import unicodedata
from collections.abc import Set
from pathlib import Path

from zinc_margin.gate.files import check_not_device
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.formats import formats
from zinc_margin.measure.words import shorten
from zinc_margin.plan.file.name import (
    is_counted,
    map_file_name,
    piece_file_name,
    ruled_name,
    subfolder,
)
from zinc_margin.plan.model import PrintPlan


def format_of(path: Path) -> str:
    """Return the format for a file name's suffix.

    Raises
    ------
    BadRequest
        If no writable format has this suffix.
    """
    for form in formats().values():
        if path.suffix.lower() in form.endings:
            return form.key
    *some, last = (form.endings[0] for form in formats().values())
    raise BadRequest(f"“{path.name}” needs one of these suffixes: {', '.join(some)}, {last}.")


def first_goal(photo: Path, plan: PrintPlan, folder: Path | None = None, count: int = 1) -> Path:
    """Return the path of a plan's file, assuming an empty folder; no disk access.

    Parameters
    ----------
    folder : Path, optional
        Replaces the plan's folder.
    count : int
        From 2 on, a number is added to the name.
    """
    file = plan.file
    if folder is None:
        folder = _expand(file.folder) if file.folder else photo.parent
    folder /= subfolder(photo, plan)
    # The pieces of a picture get a separate folder, unless they are pages.
    pieces = plan.pieces is not None and file.format != "pdf"
    ending = "-pieces" if pieces else ending_of(plan)
    name = shorten(file.name) if file.name else ruled_name(photo, plan)
    if count > 1:
        name = ruled_name(photo, plan, count) if is_counted(plan) else f"{name}-{count}"
    return folder / f"{name}{ending}"


def goal(
    photo: Path,
    plan: PrintPlan,
    taken: Set[str] = frozenset(),
    folder: Path | None = None,
    count: int = 1,
) -> Path:
    """Return the path of a plan's file, numbered to avoid existing files and `taken`.

    Parameters
    ----------
    taken : set of str
        Names used in the same batch, as `alike` returns them.
    folder : Path, optional
        Replaces the plan's folder.
    count : int
        The first number to try.
    """
    path = first_goal(photo, plan, folder, count)
    while os.path.lexists(path) or alike(path) in taken:
        count += 1
        path = first_goal(photo, plan, folder, count)
    return path


def _expand(folder: str) -> Path:
    try:
        return Path(folder).expanduser()
    except RuntimeError:  # ~user, unknown on this machine
        return Path(folder)


def alike(path: Path) -> str:
    """Return a name's canonical form: some disks ignore case and Unicode composition."""
    return unicodedata.normalize("NFC", str(path)).casefold()


def ending_of(plan: PrintPlan) -> str:
    """Return the suffix of a plan's files, with its dot."""
    return formats()[plan.file.format].endings[0]


def piece_goal(photo: Path, plan: PrintPlan, folder: Path) -> Path:
    """Return the path of one piece's file, numbered in the order of assembly."""
    return folder / f"{piece_file_name(photo, plan)}{ending_of(plan)}"


def map_goal(photo: Path, plan: PrintPlan, folder: Path) -> Path:
    """Return the path of the map of a picture in pieces; it sorts before them."""
    return folder / f"{map_file_name(photo, plan)}.png"


def same_file(one: Path, other: Path) -> bool:
    """Return whether two paths lead to the same file, through any link."""
    try:
        return os.path.samefile(one, other)
    except OSError:
        return os.path.abspath(one) == os.path.abspath(other)


def check_goal(photo: Path, out: Path, overwrite: bool) -> None:
    """Refuse a destination that is the photo, a folder, an existing file, or unreachable.

    Parameters
    ----------
    overwrite : bool
        Whether to replace an existing file (never the photo).
    """
    if same_file(photo, out):
        raise BadRequest(
            f"{out} is the original photo, which is never overwritten. Choose another name."
        )
    if out.is_dir():
        raise BadRequest(f"{out} is a folder. Add a file name.")
    check_not_device(out)
    if os.path.lexists(out) and not overwrite:
        raise BadRequest(f"{out} already exists and was kept. Choose another name.")
    folder = out.parent
    if not folder.is_dir():
        raise CannotDo(f"There is no folder {folder}; nothing was written.")
    if not os.access(folder, os.W_OK | os.X_OK):
        raise CannotDo(f"You don't have permission to write to {folder}. Choose another folder.")
