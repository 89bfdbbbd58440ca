"""Dockets as readable JSON: exact numbers as text, unknown fields kept, wrong ones named."""

from __future__ import annotations

import json
from dataclasses import fields, replace
from fractions import Fraction
from pathlib import Path
from typing import Any

from zinc_margin.docket import docket as model
from zinc_margin.docket.docket import (
    LINES,
    RENDERER,
    VERSION,
    Docket,
    Frame,
    GoalProfile,
    Line,
    Margins,
)
from zinc_margin.docket.readers import NAME_FIELDS as NAME_FIELDS
from zinc_margin.docket.readers import READERS, Wrong, short_text
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.ways import WAYS, Way
from zinc_margin.photo.facts import Facts, Measured
from zinc_margin.photo.keeping import save_whole

_LARGEST_DOCKET = 1_000_000
_LINE_TYPES: dict[str, type[Line]] = {
    "photo": model.PhotoLine, "size": model.SizeLine, "crop": model.CropLine,
    "pixels": model.PixelsLine, "sharpen": model.SharpenLine, "finish": model.FinishLine,
    "file": model.FileLine,
}  # fmt: skip


def checked(line: str, key: str, value: Any) -> Any:
    """Return one field's value as the docket keeps it.

    Raises
    ------
    BadRequest
        When it cannot be meant; the sentence names the field.
    """
    try:
        return READERS[line][key](value)
    except Wrong as why:
        shown = json.dumps(value, ensure_ascii=False, default=str)
        raise BadRequest(f"{line}.{key} {why}, not {shown[:60]}.") from None


def to_json(docket: Docket) -> str:
    """Write a docket; `from_json` reads it back equal."""
    lines: dict[str, Any] = {"zinc_margin_docket": VERSION}
    for name in LINES:
        line = getattr(docket, name)
        lines[name] = {key: plain(getattr(line, key)) for key in READERS[name]} | dict(line.extra)
    lines["renderer"] = docket.renderer
    if docket.version != Docket().version:
        lines["version"] = docket.version
    return text_of(lines | dict(docket.extra))


def plain(value: Any) -> Any:
    """Return one field's value as JSON has it."""
    if isinstance(value, Fraction):
        # a plain decimal where it is exact, for whoever reads the file
        return int(value) if value.denominator == 1 else _decimal(value)
    if isinstance(value, PrintSize):
        return {
            "label": value.label,
            "width_mm": plain(value.width_mm),
            "height_mm": plain(value.height_mm),
        }
    if isinstance(value, Way):
        named = zip(WAYS[value.kind], value.values, strict=True)
        label = {"label": value.label} if value.label else {}
        frame = {"frame_mm": [plain(side) for side in value.frame]} if value.frame else {}
        return {"kind": value.kind} | label | {name: plain(part) for name, part in named} | frame
    if isinstance(value, Measured):
        return value.plain()
    if isinstance(value, (Frame, Margins, GoalProfile)):
        return {item.name: plain(getattr(value, item.name)) for item in fields(value)}
    return value


def _decimal(value: Fraction) -> str:
    for places in range(1, 10):
        if 10**places % value.denominator == 0:
            return f"{int(value * 10**places) / 10**places:.{places}f}"
    return str(value)


_KINDS = {
    "zinc_margin_docket": "docket", "zinc_margin_versions": "docket of several versions",
    "zinc_margin_standing": "standing docket", "zinc_margin_rack": "rack",
    "zinc_margin_sizes": "list of sizes", "zinc_margin_papers": "list of papers",
}  # fmt: skip
"""What our files are called, by the key that names their kind."""


def text_of(plain: object) -> str:
    """Return what a file of ours holds, as it is written."""
    return json.dumps(plain, ensure_ascii=False, indent=2) + "\n"


def document(text: str, source: str, key: str, version: int) -> dict[str, Any]:
    """Return what a file of ours holds, without the key that names its kind and version.

    Raises
    ------
    BadRequest
        When it is no JSON, of another kind, or of another version.
    """
    called = _KINDS[key]
    try:
        raw = json.loads(text)
    except (ValueError, RecursionError):
        raise BadRequest(f"{source} is no readable JSON; it was left as it is.") from None
    if not isinstance(raw, dict) or key not in raw:
        keys = raw if isinstance(raw, dict) else {}
        other = next((name for kind, name in _KINDS.items() if kind in keys), None)
        is_no = f"no {called} of Zinc Margin" if other is None else f"a {other}, not a {called}"
        raise BadRequest(f"{source} is {is_no}; it was left as it is.")
    found = raw.pop(key)
    if found != version:
        raise BadRequest(
            f"{source} is of version {found}; this program reads version {version}. "
            "It was left as it is."
        )
    return raw


def from_json(text: str, source: str = "the docket") -> Docket:
    """Read a docket.

    Parameters
    ----------
    source : str
        What the sentences call it.

    Raises
    ------
    BadRequest
        When it is no docket, is newer than this program, or a value is wrong (named).
    """
    raw = document(text, source, "zinc_margin_docket", VERSION)
    lines: dict[str, Any] = {}
    for name in LINES:
        given = raw.pop(name, {})
        if not isinstance(given, dict):
            raise BadRequest(f"In {source}, {name} must hold fields.")
        known = {}
        for key in READERS[name]:
            if key in given:
                try:
                    known[key] = checked(name, key, given.pop(key))
                except BadRequest as why:
                    raise BadRequest(f"In {source}, {why}") from None
        if known.get("bits") not in (None, 8, 16):
            raise BadRequest(f"In {source}, file.bits must be 8 or 16, not {known['bits']}.")
        lines[name] = _LINE_TYPES[name](**known, extra=given)
    try:
        title = short_text(raw.pop("version", Docket().version))[:60]
    except Wrong as why:
        raise BadRequest(f"In {source}, version {why}.") from None
    renderer = raw.pop("renderer", RENDERER)
    if not isinstance(renderer, int) or isinstance(renderer, bool) or renderer < 1:
        raise BadRequest(f"In {source}, renderer must be a whole number from 1.")
    return Docket(**lines, version=title, renderer=renderer, extra=raw)


def with_measured(docket: Docket, facts: Facts) -> Docket:
    """Return the docket with what was measured of its photo, to be kept with it."""
    page = facts.page if facts.pages > 1 else None
    kept = docket.photo
    if facts.measured is None or (kept.digest, kept.page) == (facts.digest, page):
        return docket
    photo = replace(kept, digest=facts.digest, measured=facts.measured, page=page)
    return replace(docket, photo=photo)


def beside(photo: Path) -> Path:
    """Return where a photo's docket is kept when it lies beside the photo."""
    return photo.with_name(photo.name + ".docket.json")


def save(docket: Docket, path: Path) -> None:
    """Write a docket's file, whole or not at all.

    Raises
    ------
    CannotDo
    """
    save_whole(path, to_json(docket))


def load(path: str | Path) -> Docket:
    """Read a docket from a file."""
    return from_json(read_text(Path(path)), str(path))


def read_text(path: Path, called: str = "docket", largest: int = _LARGEST_DOCKET) -> str:
    """Read one of our files as text, of at most so many bytes.

    Parameters
    ----------
    called : str
        What the sentences call it.

    Raises
    ------
    BadRequest
        When there is none, or it is no text.
    CannotDo
        When it may not be read.
    """
    try:
        if path.stat().st_size > largest:
            raise BadRequest(f"{path} is too large to be a {called}.")
        return path.read_text("utf-8")
    except FileNotFoundError:
        raise BadRequest(f"There is no {called} {path}.") from None
    except UnicodeDecodeError:
        raise BadRequest(f"{path} is no readable JSON; it was left as it is.") from None
    except OSError as why:
        raise CannotDo(f"The {called} {path} could not be read: {why.strerror}.") from None
