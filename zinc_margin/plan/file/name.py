"""File names by rule."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

from zinc_margin.measure.sizes import is_known
from zinc_margin.measure.words import NAME_BYTES, bytes_of, pair
from zinc_margin.plan.model import PrintPlan

_COUNTER = "\ue000"
"""Placeholder for the counter until the name is shortened: a private-use character."""


_DECIMALS = str.maketrans(
    {"⅛": ".125", "¼": ".25", "⅜": ".375", "½": ".5", "⅝": ".625", "¾": ".75", "⅞": ".875"}
)
"""Fractions as decimals: many labs accept only letters, digits, hyphens and points."""
_SIDES = re.compile(r"[\d.½⅛¼⅜⅝¾⅞]+ × [\d.½⅛¼⅜⅝¾⅞]+ (?:mm|cm|m|in|ft)")
"""A label of two sides without fractions such as 1/2."""
_UNSEEN = re.compile("[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]+")
"""Marks that change the direction of writing, which can disguise a name."""
_FORBIDDEN = re.compile(r'[\x00-\x1f\x7f/\\:*?"<>|\ud800-\udc7f\udd00-\udfff]+')


def ruled_name(photo: Path, plan: PrintPlan, counter: int = 1) -> str:
    """Return the name by rule, without suffix: the docket's rule, or photo, version and size.

    Whatever the fields contain, the file stays in its folder and any file system accepts the name.

    Parameters
    ----------
    counter : int
        Value of ``{counter}``, from 1.
    """
    usual = "{name}-{version}-{size}" if plan.record.is_named else "{name}-{size}"
    rule = plan.file.rule or usual
    name = safe_name(_fill(rule, photo, plan, _COUNTER), f"{counter:03d}")
    return name or safe_name(photo.stem) or "print"


def subfolder(photo: Path, plan: PrintPlan) -> Path:
    """Return the subfolders by rule, inside the docket's folder; an empty path without a rule."""
    parts = (plan.file.folder_rule or "").split("/")
    return Path(*filter(None, (safe_name(_fill(part, photo, plan, "001")) for part in parts)))


def _fill(rule: str, photo: Path, plan: PrintPlan, counter: str) -> str:
    """Return a rule with its fields filled in."""
    line = plan.file
    values = {
        "name": photo.stem,
        "title": plan.said.title,
        "author": plan.said.author,
        "project": line.project or "",
        "text": line.note or "",
        "size": _short_size(plan),
        "ppi": f"{round(plan.page.ppi)}ppi",
        "paper": plan.sharpen.paper if plan.sharpen is not None else "",
        "version": plan.record.version,
        "date": plan.said.date,
        "counter": counter,
        "piece": "" if plan.cut is None else _piece_name(plan),
    }
    result = re.sub(r"\{([^{}]*)\}", lambda match: values.get(match[1], ""), rule)
    # Drop the separator next to an empty field.
    return re.sub(r"([-_ .])[-_ .]*(?=[-_.])", r"\1", result).strip("-_ ")


def safe_name(text: str, counter: str = "") -> str:
    """Return a text as a file name: no folders, no forbidden characters, not too long.

    Parameters
    ----------
    counter : str
        Replacement for `_COUNTER`, which is never shortened.
    """
    plain = _FORBIDDEN.sub("-", _UNSEEN.sub("", text))
    parts = plain.strip(" .").split(_COUNTER)
    room = NAME_BYTES - len(counter) * (len(parts) - 1)
    while sum(map(bytes_of, parts)) > room:
        at = max(range(len(parts)), key=lambda each: bytes_of(parts[each]))
        body = parts[at].rstrip("-_ .")
        # Shorten the name by its last letter; without letters, by its last separator.
        parts[at] = body[:-1] + parts[at][len(body) :] if body else parts[at][:-1]
    return counter.join(parts).strip(" .")


def print_name(plan: PrintPlan) -> str:
    """Return a print's size: its usual name, its sides as given, or those that it came to.

    A size that follows the photo ("within 18 × 13 cm") is named by its own sides.
    """
    size, pixels = plan.size, plan.pixels
    if plan.maker.for_screen:
        return f"{pixels.width} × {pixels.height} px"
    if _SIDES.fullmatch(size.label) or is_known(size.label):
        return size.label
    return pair(size.width_mm, size.height_mm, plan.units)


def _short_size(plan: PrintPlan) -> str:
    plain = print_name(plan).replace("×", "x").replace("/", "-").translate(_DECIMALS)
    size = re.sub(r"(?<!\d)\.(?=\d)", "0.", re.sub(r"[^\w+.]+", "", plain))
    return size.lower() if size.islower() or "x" in size else size


def is_counted(plan: PrintPlan) -> bool:
    """Return whether a rule has a counter."""
    line = plan.file
    return line.name is None and line.rule is not None and "{counter}" in line.rule


def piece_file_name(photo: Path, plan: PrintPlan) -> str:
    """Return the name of one piece's file, without suffix.

    Parameters
    ----------
    plan : Plan
        A plan of one piece.
    """
    line = plan.file
    if line.name is None and line.rule is not None and "{piece}" in line.rule:
        return ruled_name(photo, plan)
    return f"{_piece_base(photo, plan)}-{_piece_name(plan)}"


def map_file_name(photo: Path, plan: PrintPlan) -> str:
    """Return the name of the map of a picture in pieces; it sorts before the pieces."""
    pieces = plan.pieces
    assert pieces is not None
    return f"{_piece_base(photo, plan)}-{0:0{len(str(len(pieces.each)))}d}-map"


def _piece_base(photo: Path, plan: PrintPlan) -> str:
    return plan.file.name or ruled_name(photo, replace(plan, cut=None))


def _piece_name(plan: PrintPlan) -> str:
    piece, pieces = plan.cut, plan.pieces
    assert piece is not None and pieces is not None
    count = len(pieces.each)
    return f"{piece.number:0{len(str(count))}d}-of-{count}"
