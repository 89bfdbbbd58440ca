"""What a file is called, and what it may never overwrite."""

from __future__ import annotations

import os
import re
from collections.abc import Set
from dataclasses import replace
from pathlib import Path

from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.plan.model import Plan

ENDINGS: dict[str, str] = {
    "tiff": ".tif",
    "jpeg": ".jpg",
    "png": ".png",
    "webp": ".webp",
    "jxl": ".jxl",
    "pdf": ".pdf",
}
FORMATS: dict[str, str] = {
    ".tif": "tiff", ".tiff": "tiff", ".jpg": "jpeg", ".jpeg": "jpeg", ".png": "png",
    ".webp": "webp", ".jxl": "jxl", ".pdf": "pdf",
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
            f"“{path.name}” has no ending that I write; end it in .tif, .jpg, .png, .webp, .jxl or "
            ".pdf."
        ) from None


_LONGEST = 200
"""Bytes of a name without its ending; file systems take 255 with it."""

_FORBIDDEN = re.compile(r'[\x00-\x1f\x7f/\\:*?"<>|]+')


def ruled_name(photo: Path, plan: Plan, counter: int = 1) -> str:
    """Return the name by rule, without its ending: the docket's, or the photo's and the size.

    Whatever a field holds, the name stays in its folder and can be written on any file system.
    """
    rule = plan.docket.file.rule or "{name}-{size}"
    return safe_name(_filled(rule, photo, plan, counter)) or safe_name(photo.stem) or "print"


def subfolder(photo: Path, plan: Plan) -> Path:
    """Return the folders by rule, inside the docket's own; an empty path where there are none."""
    parts = (plan.docket.file.folder_rule or "").split("/")
    return Path(*filter(None, (safe_name(_filled(part, photo, plan, 1)) for part in parts)))


def _filled(rule: str, photo: Path, plan: Plan, counter: int) -> str:
    """Return a rule with its fields filled in."""
    line = plan.docket.file
    values = {
        "name": photo.stem, "title": plan.said.title, "author": plan.said.author,
        "project": line.project or "", "text": line.note or "", "size": _short_size(plan),
        "ppi": f"{round(plan.leaf.tag_x[0] / plan.leaf.tag_x[1])}ppi",
        "paper": plan.sharpen.paper if plan.sharpen is not None else "",
        "version": plan.docket.version, "date": plan.said.date, "counter": f"{counter:03d}",
        "piece": "" if plan.cut is None else _piece_name(plan),
    }  # fmt: skip
    made = re.sub(r"\{([^{}]*)\}", lambda found: values.get(found[1], ""), rule)
    # what stood between two fields goes with an empty one
    return re.sub(r"([-_ .])[-_ .]*(?=[-_.])", r"\1", made).strip("-_ ")


def safe_name(text: str) -> str:
    """Return a text as a file's name: no folders, no marks that systems forbid, not too long."""
    name = _FORBIDDEN.sub("-", text).strip(" .")
    while len(name.encode("utf-8", "surrogateescape")) > _LONGEST:
        name = name[:-1].rstrip(" .")
    return name


def _short_size(plan: Plan) -> str:
    size = re.sub(r"[^\w+.½⅛¼⅜⅝¾⅞]+", "", plan.size.label.replace("×", "x").replace("/", "-"))
    return size.lower() if size.islower() or "x" in size else size


def goal(photo: Path, plan: Plan, taken: Set[Path] = frozenset()) -> Path:
    """Return where a plan's file goes, counted up past files that are there, or `taken`."""
    line = plan.docket.file
    folder = Path(line.folder).expanduser() if line.folder else photo.parent
    folder /= subfolder(photo, plan)
    # the pieces of a picture lie in a folder of their own, unless they are pages
    pieces = plan.pieces is not None and line.format != "pdf"
    ending = "-pieces" if pieces else ENDINGS[line.format]
    counted = line.name is None and line.rule is not None and "{counter}" in line.rule
    name = line.name or ruled_name(photo, plan)
    path = folder / (name + ending)
    count = 2
    while os.path.lexists(path) or path in taken:
        name_ = ruled_name(photo, plan, count) if counted else f"{name}-{count}"
        path = folder / f"{name_}{ending}"
        count += 1
    return path


def _piece_base(photo: Path, plan: Plan) -> str:
    return plan.docket.file.name or ruled_name(photo, replace(plan, cut=None))


def piece_goal(photo: Path, plan: Plan, folder: Path) -> Path:
    """Return where one piece's file goes: numbered, so that they sort in the order of laying."""
    line = plan.docket.file
    named = line.name is None and line.rule is not None and "{piece}" in line.rule
    name = ruled_name(photo, plan) if named else f"{_piece_base(photo, plan)}-{_piece_name(plan)}"
    return folder / f"{name}{ENDINGS[line.format]}"


def _piece_name(plan: Plan) -> str:
    piece, pieces = plan.cut, plan.pieces
    assert piece is not None and pieces is not None
    number = f"{piece.number:0{len(str(len(pieces.each)))}d}"
    return f"{number}-row{piece.row}-column{piece.column}"


def map_goal(photo: Path, plan: Plan, folder: Path) -> Path:
    """Return where the map of a picture in pieces goes: before its pieces."""
    pieces = plan.pieces
    assert pieces is not None
    return folder / f"{_piece_base(photo, plan)}-{0:0{len(str(len(pieces.each)))}d}-map.png"


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
