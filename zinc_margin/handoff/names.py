"""File names, and the files that must never be overwritten."""

from __future__ import annotations

import os
import unicodedata
from collections.abc import Set
from pathlib import Path

from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.formats import formats
from zinc_margin.measure.words import shortened
from zinc_margin.plan.file.name import (
    is_counted,
    map_file_name,
    piece_file_name,
    ruled_name,
    subfolder,
)
from zinc_margin.plan.model import PrintPlan


def format_of(path: Path) -> str:
    """Return the format that a file's ending asks for.

    Raises
    ------
    BadRequest
        When the ending is none that can be written.
    """
    for form in formats().values():
        if path.suffix.lower() in form.endings:
            return form.key
    *some, last = (form.endings[0] for form in formats().values())
    raise BadRequest(f"“{path.name}” needs one of these endings: {', '.join(some)}, {last}.")


def first_goal(photo: Path, plan: PrintPlan, folder: Path | None = None, count: int = 1) -> Path:
    """Return where a plan's file would go, were nothing there; no disk is looked at.

    Parameters
    ----------
    folder : Path, optional
        In place of the plan's own.
    count : int
        From 2 on the name is counted up.
    """
    file = plan.file
    if folder is None:
        folder = _expanded(file.folder) if file.folder else photo.parent
    folder /= subfolder(photo, plan)
    # the pieces of a picture lie in a folder of their own, unless they are pages
    pieces = plan.pieces is not None and file.format != "pdf"
    ending = "-pieces" if pieces else ending_of(plan)
    name = shortened(file.name) if file.name else ruled_name(photo, plan)
    if count > 1:
        name = ruled_name(photo, plan, count) if is_counted(plan) else f"{name}-{count}"
    return folder / f"{name}{ending}"


def goal(
    photo: Path, plan: PrintPlan, taken: Set[str] = frozenset(), folder: Path | None = None
) -> Path:
    """Return where a plan's file goes, counted up past files that are there, or `taken`.

    Parameters
    ----------
    taken : set of str
        Names that others of the same work have, as `alike` gives them.
    folder : Path, optional
        In place of the plan's own.
    """
    count = 1
    path = first_goal(photo, plan, folder)
    while os.path.lexists(path) or alike(path) in taken:
        count += 1
        path = first_goal(photo, plan, folder, count)
    return path


def _expanded(folder: str) -> Path:
    try:
        return Path(folder).expanduser()
    except RuntimeError:  # ~somebody, whom this machine does not know
        return Path(folder)


def alike(path: Path) -> str:
    """Return what two names share that some disks take for one: capitals, composed letters."""
    return unicodedata.normalize("NFC", str(path)).casefold()


def ending_of(plan: PrintPlan) -> str:
    """Return the ending of a plan's files, with its dot."""
    return formats()[plan.file.format].endings[0]


def piece_goal(photo: Path, plan: PrintPlan, folder: Path) -> Path:
    """Return where one piece's file goes: numbered, so they sort in the order of laying."""
    return folder / f"{piece_file_name(photo, plan)}{ending_of(plan)}"


def map_goal(photo: Path, plan: PrintPlan, folder: Path) -> Path:
    """Return where the map of a picture in pieces goes: before its pieces."""
    return folder / f"{map_file_name(photo, plan)}.png"


def same_file(one: Path, other: Path) -> bool:
    """Return whether two paths lead to one file, through any link."""
    try:
        return os.path.samefile(one, other)
    except OSError:
        return os.path.abspath(one) == os.path.abspath(other)


def check_goal(photo: Path, out: Path, overwrite: bool) -> None:
    """Refuse a goal that is the photo, a folder, taken, or out of reach.

    Parameters
    ----------
    overwrite : bool
        Whether a file that is there is replaced (never the photo).
    """
    if same_file(photo, out):
        raise BadRequest(f"{out} is the original, which is never overwritten; choose another name.")
    if out.is_dir():
        raise BadRequest(f"{out} is a folder; name the file to write.")
    if os.path.lexists(out) and not overwrite:
        raise BadRequest(f"{out} is there already and was kept; choose another name.")
    folder = out.parent
    if not folder.is_dir():
        raise CannotDo(f"There is no folder {folder}; nothing was written.")
    if not os.access(folder, os.W_OK | os.X_OK):
        raise CannotDo(f"You may not write into {folder}; choose another folder.")
