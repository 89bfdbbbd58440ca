"""What a file is called, and what it may never overwrite."""

from __future__ import annotations

import os
import re
from pathlib import Path

from ..measure.errors import BadRequest, CannotDo
from ..plan.model import Plan

ENDINGS: dict[str, str] = {"tiff": ".tif", "jpeg": ".jpg", "png": ".png", "pdf": ".pdf"}
FORMATS: dict[str, str] = {
    ".tif": "tiff", ".tiff": "tiff", ".jpg": "jpeg", ".jpeg": "jpeg", ".png": "png",
    ".pdf": "pdf",
}  # fmt: skip


def format_of(path: Path) -> str:
    """Return the format that a file's ending asks for.

    Raises
    ------
    BadRequest
        When the ending is none that can be written.
    """
    try:
        return FORMATS[path.suffix.lower()]
    except KeyError:
        raise BadRequest(
            f"“{path.name}” has no ending that I write; end it in .tif, .jpg, .png or .pdf."
        ) from None


def ruled_name(photo: Path, plan: Plan) -> str:
    """Return the name by rule, without its ending: the photo's, and the size."""
    size = re.sub(r"[^\w+.½⅛¼⅜⅝¾⅞]+", "", plan.size.label.replace("×", "x").replace("/", "-"))
    return f"{photo.stem}-{size.lower() if size.islower() or 'x' in size else size}"


def goal(photo: Path, plan: Plan) -> Path:
    """Return where a plan's file goes, counted up past files that are there already."""
    line = plan.docket.file
    folder = Path(line.folder).expanduser() if line.folder else photo.parent
    # the pieces of a picture lie in a folder of their own, unless they are pages
    pieces = plan.pieces is not None and line.format != "pdf"
    ending = "-pieces" if pieces else ENDINGS[line.format]
    name = line.name or ruled_name(photo, plan)
    path = folder / (name + ending)
    count = 2
    while os.path.lexists(path):
        path = folder / f"{name}-{count}{ending}"
        count += 1
    return path


def piece_goal(photo: Path, plan: Plan, folder: Path) -> Path:
    """Return where one piece's file goes: numbered, so that they sort in the order of laying."""
    piece, pieces = plan.cut, plan.pieces
    assert piece is not None and pieces is not None
    name = plan.docket.file.name or ruled_name(photo, plan)
    number = f"{piece.number:0{len(str(len(pieces.each)))}d}"
    place = f"row{piece.row}-column{piece.column}"
    return folder / f"{name}-{number}-{place}{ENDINGS[plan.docket.file.format]}"


def map_goal(photo: Path, plan: Plan, folder: Path) -> Path:
    """Return where the map of a picture in pieces goes: before its pieces."""
    pieces = plan.pieces
    assert pieces is not None
    name = plan.docket.file.name or ruled_name(photo, plan)
    return folder / f"{name}-{0:0{len(str(len(pieces.each)))}d}-map.png"


def same_file(one: Path, other: Path) -> bool:
    """Tell whether two paths lead to one file, through any link."""
    try:
        return os.path.samefile(one, other)
    except OSError:
        return os.path.abspath(one) == os.path.abspath(other)


def check_goal(photo: Path, out: Path, overwrite: bool) -> None:
    """Refuse a goal that is the photo, a folder, taken, or out of reach.

    Raises
    ------
    BadRequest, CannotDo
    """
    if same_file(photo, out):
        raise BadRequest(
            f"{out} is the photo itself; the original is never written over. Choose another name."
        )
    if out.is_dir():
        raise BadRequest(f"{out} is a folder; name the file to write.")
    if os.path.lexists(out) and not overwrite:
        raise BadRequest(f"{out} is there already and was kept; choose another name.")
    folder = out.parent
    if not folder.is_dir():
        raise CannotDo(f"There is no folder {folder}; nothing was written.")
    if not os.access(folder, os.W_OK | os.X_OK):
        raise CannotDo(f"You may not write into {folder}; choose another folder.")
