"""Dockets as readable JSON: exact numbers as text, unknown fields kept, wrong ones named."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Mapping
from dataclasses import fields, replace
from fractions import Fraction
from pathlib import Path
from typing import Any

from ..measure.amounts import LEAST_BYTES
from ..measure.errors import BadRequest, CannotDo
from ..measure.lengths import LONGEST_MM, plain_text
from ..measure.makers import find_maker
from ..measure.papers import find_process
from ..measure.resolution import HIGHEST_PPI, LOWEST_PPI
from ..measure.sizes import PrintSize
from ..measure.tones import EDGE, parse_tone
from ..measure.ways import TARGETS, WAYS, Way
from ..photo.facts import Facts, Measured
from ..photo.keeping import write_whole
from . import docket as model
from .docket import (
    FORMATS,
    LINES,
    METHODS,
    PLACES,
    VERSION,
    Docket,
    Frame,
    GoalProfile,
    Line,
    Margins,
)

_LARGEST_DOCKET = 1_000_000
NAME_FIELDS = (
    "name", "title", "author", "project", "text", "size", "ppi", "paper", "version", "date",
    "counter",
)  # fmt: skip
"""What a name's rule may hold in braces."""
_LINE_TYPES: dict[str, type[Line]] = {
    "photo": model.PhotoLine, "size": model.SizeLine, "crop": model.CropLine,
    "pixels": model.PixelsLine, "sharpen": model.SharpenLine, "finish": model.FinishLine,
    "file": model.FileLine,
}  # fmt: skip


class _Wrong(Exception):
    """A value that cannot be meant; the text says what would be right."""


def _number(low: Fraction | int, high: Fraction | int) -> Callable[[Any], Fraction]:
    def read(value: Any) -> Fraction:
        try:
            if isinstance(value, bool) or not isinstance(value, (int, float, str)):
                raise ValueError
            if len(str(value)) > 400:
                raise ValueError
            exact = Fraction(str(value))
        except (ValueError, ZeroDivisionError):
            raise _Wrong(f"must be a number from {low} to {high}") from None
        if not low <= exact <= high:
            raise _Wrong(f"must be from {low} to {high}")
        return exact

    return read


def _length(value: Any) -> Fraction:
    exact = _number(0, LONGEST_MM)(value)
    if exact == 0:
        raise _Wrong("must be more than 0")
    return exact


def _one_of(*words: str) -> Callable[[Any], str]:
    def read(value: Any) -> str:
        if value not in words:
            raise _Wrong("must be one of " + ", ".join(words))
        return str(value)

    return read


def _whole(low: int, high: int) -> Callable[[Any], int]:
    def read(value: Any) -> int:
        if isinstance(value, bool) or not isinstance(value, int) or not low <= value <= high:
            raise _Wrong(f"must be a whole number from {low} to {high}")
        return value

    return read


def _yes_or_no(value: Any) -> bool:
    if not isinstance(value, bool):
        raise _Wrong("must be true or false")
    return value


def _text(value: Any) -> str:
    if not isinstance(value, str) or not value or len(value) > 4000 or "\0" in value:
        raise _Wrong("must be a short text")
    return value


def _file_name(value: Any) -> str:
    text = _text(value)
    if "/" in text or text in (".", ".."):
        raise _Wrong("must be a file's name without a folder")
    return text


def _paper(value: Any) -> str:
    # a paper of one's own is known by its figure; the plan asks for one that has none
    return plain_text(_text(value))[:60]


def _known(read: Callable[[str], Any], what: str) -> Callable[[Any], Any]:
    def look_up(value: Any) -> Any:
        try:
            return read(_text(value))
        except BadRequest as why:
            raise _Wrong(f"must be {what}: {why}") from None

    return look_up


_tone = _known(parse_tone, "a tone")
_process = _known(lambda name: find_process(name).key, "a way of printing")
_maker = _known(lambda name: find_maker(name).key, "a place to print that is known")


def _size(value: Any) -> PrintSize:
    if not isinstance(value, Mapping):
        raise _Wrong("must hold width_mm and height_mm")
    width, height = _length(value.get("width_mm")), _length(value.get("height_mm"))
    label = value.get("label")
    return PrintSize(_text(label) if label else f"{width} × {height} mm", width, height)


def _way(value: Any) -> Way:
    if not isinstance(value, Mapping) or value.get("kind") not in WAYS:
        raise _Wrong("must have a kind: " + ", ".join(WAYS))
    most = 10**7
    names = WAYS[value["kind"]]
    try:
        values = tuple(_number(-most, most)(value.get(name)) for name in names)
        label = _text(value["label"]) if value.get("label") else ""
        frame = value.get("frame_mm")
        outer = None if frame is None else (_length(frame[0]), _length(frame[1]))
        return Way(value["kind"], values, label, frame=outer)
    except (TypeError, IndexError, KeyError):
        raise _Wrong("must have a frame of two lengths") from None
    except BadRequest as why:
        raise _Wrong(f"cannot be meant: {why}") from None


def _target(value: Any) -> Way:
    way = _way(value)
    if way.kind not in TARGETS:
        raise _Wrong("must have a kind: " + ", ".join(TARGETS))
    return way


def _frame(value: Any) -> Frame:
    if not isinstance(value, Mapping):
        raise _Wrong("must hold left, top, width and height")
    most = 10**7
    left, top = (_number(0, most)(value.get(key)) for key in ("left", "top"))
    width, height = (_number(Fraction(1, 1000), most)(value.get(k)) for k in ("width", "height"))
    return Frame(left, top, width, height)


def _margins(value: Any) -> Margins:
    if not isinstance(value, Mapping):
        raise _Wrong("must hold top, right, bottom and left")
    read = _number(0, LONGEST_MM)
    return Margins(*(read(value.get(key)) for key in ("top", "right", "bottom", "left")))


def _profile(value: Any) -> GoalProfile:
    if not isinstance(value, Mapping) or value.get("space") not in ("RGB", "GRAY", "CMYK"):
        raise _Wrong("must hold path, name and space (RGB, GRAY or CMYK)")
    return GoalProfile(_text(value.get("path")), _text(value.get("name")), value["space"])


def _rule(value: Any) -> str:
    text = _text(value)
    unknown = [name for name in re.findall(r"\{([^{}]*)\}", text) if name not in NAME_FIELDS]
    if "/" in text or unknown or text.count("{") != text.count("}"):
        fields_ = ", ".join("{" + name + "}" for name in NAME_FIELDS)
        raise _Wrong(f"must be a name without folders, of words and {fields_}")
    return text


def _wrap_tone(value: Any) -> str:
    return EDGE if value == EDGE else _tone(value)


def _measured(value: Any) -> Measured:
    try:
        return Measured.from_plain(value)
    except (KeyError, TypeError, ValueError):
        raise _Wrong("must hold what was measured: noise, blocks, halo …") from None


def _or_none(read: Callable[[Any], Any]) -> Callable[[Any], Any]:
    return lambda value: None if value is None else read(value)


_ppi = _number(LOWEST_PPI, HIGHEST_PPI)
_READERS: dict[str, dict[str, Callable[[Any], Any]]] = {
    "photo": {"ground": _tone, "digest": _or_none(_text), "measured": _or_none(_measured)},
    "size": {
        "size": _or_none(_size), "way": _or_none(_way),
        "lie": _one_of("auto", "as-given", "across"),
        "maker": _or_none(_maker), "ppi": _or_none(_ppi), "floor": _or_none(_ppi),
        "distance_mm": _or_none(_length), "overspill_mm": _or_none(_number(0, 100)),
        "overspill_share": _or_none(_number(0, Fraction(1, 4))),
    },
    "crop": {
        "fit": _one_of("trim", "whole", "border"), "border_mm": _or_none(_number(0, LONGEST_MM)),
        "place_x": _or_none(_number(0, 1)), "place_y": _or_none(_number(0, 1)),
        "frame": _or_none(_frame), "turn": _number(-360, 360),
        "mirror": _yes_or_no,
    },
    "pixels": {
        "choice": _one_of("auto", "keep", "resample"),
        "target": _or_none(_target), "kind": _one_of("photo", "lettering", "drawing"),
        "method": _or_none(_one_of(*METHODS)),
        "crisp": _number(-100, 100),
        "clean": _or_none(_number(0, 100)), "denoise": _or_none(_number(0, 100)),
        "dehalo": _or_none(_number(0, 100)),
    },
    "sharpen": {
        "on": _yes_or_no, "paper": _or_none(_paper), "strength": _number(0, 300),
        "sigma_mm": _or_none(_number(0, 5)), "process": _or_none(_process),
        "lean": _or_none(_number(0, 1)), "halo": _or_none(_number(0, 50)),
        "noise": _or_none(_number(0, 50)), "shadows": _number(0, 100),
        "highlights": _number(0, 100), "grain": _number(0, 100),
        "grain_mm": _number(Fraction(1, 50), 5),
    },
    "finish": {
        "sheet": _or_none(_size), "turned": _yes_or_no, "margins": _or_none(_margins),
        "scales": _yes_or_no, "place_x": _number(0, 1), "place_y": _number(0, 1), "tone": _tone,
        "caption": _or_none(_text), "foot": _or_none(_text), "edition": _or_none(_text),
        "caption_mm": _or_none(_length), "line_mm": _number(0, 100),
        "line_gap_mm": _number(0, 1000), "line_tone": _tone, "marks": _yes_or_no,
        "bleed_mm": _number(0, 100), "make_up": _yes_or_no,
        "wrap_mm": _number(0, 500), "tuck_mm": _number(0, 500),
        "wrap_strip_mm": _or_none(_length), "wrap_soften_mm": _number(0, 500),
        "wrap_tone": _or_none(_wrap_tone), "wrap_strength": _number(0, 100),
        "wrap_own": _yes_or_no, "fold_marks": _yes_or_no, "staple_mm": _number(0, 500),
        "pieces": _or_none(_size), "roll_mm": _or_none(_length),
        "edge_mm": _or_none(_number(0, 500)), "join_mm": _number(0, 1000),
    },
    "file": {
        "format": _one_of(*FORMATS), "bits": _or_none(_whole(8, 16)),
        "quality": _whole(1, 100), "pdf_jpeg": _yes_or_no,
        "packing": _one_of("none", "deflate", "lzw", "zstd"),
        "chroma": _one_of("full", "half", "quarter"), "progressive": _yes_or_no,
        "lossless": _yes_or_no, "colour": _one_of("own", "srgb", "wide", "grey", "icc"),
        "profile": _or_none(_profile),
        "intent": _one_of("relative", "perceptual", "saturation", "absolute"),
        "black_point": _yes_or_no, "metadata": _one_of("all", "copyright", "none"),
        "places": _yes_or_no, "embed": _yes_or_no, "rule": _or_none(_rule),
        "project": _or_none(_text), "note": _or_none(_text),
        "mark": _or_none(_text), "mark_picture": _or_none(_text), "mark_place": _one_of(*PLACES),
        "mark_size": _number(Fraction(1, 2), 100), "mark_strength": _number(0, 100),
        "slip": _yes_or_no,
        "max_bytes": _or_none(_whole(LEAST_BYTES, 10**13)),
        "folder": _or_none(_text), "name": _or_none(_file_name),
    },
}  # fmt: skip


def checked(line: str, key: str, value: Any) -> Any:
    """Return one field's value as the docket keeps it.

    Raises
    ------
    BadRequest
        When it cannot be meant; the sentence names the field.
    """
    try:
        return _READERS[line][key](value)
    except _Wrong as why:
        shown = json.dumps(value, ensure_ascii=False, default=str)
        raise BadRequest(f"{line}.{key} {why}, not {shown[:60]}.") from None


def to_json(docket: Docket) -> str:
    """Write a docket; `from_json` reads it back equal."""
    lines: dict[str, Any] = {"zinc_margin_docket": VERSION}
    for name in LINES:
        line = getattr(docket, name)
        lines[name] = {key: plain(getattr(line, key)) for key in _READERS[name]} | dict(line.extra)
    if docket.version != Docket().version:
        lines["version"] = docket.version
    return json.dumps(lines | dict(docket.extra), ensure_ascii=False, indent=2) + "\n"


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
    try:
        raw = json.loads(text)
    except (ValueError, RecursionError):
        raise BadRequest(f"{source} is no readable JSON; it was left as it is.") from None
    if not isinstance(raw, dict) or "zinc_margin_docket" not in raw:
        raise BadRequest(f"{source} is no docket of Zinc Margin.")
    version = raw.pop("zinc_margin_docket")
    if version != VERSION:
        raise BadRequest(
            f"{source} is of version {version}; this program reads version {VERSION}. "
            "It was left as it is."
        )
    lines: dict[str, Any] = {}
    for name in LINES:
        given = raw.pop(name, {})
        if not isinstance(given, dict):
            raise BadRequest(f"In {source}, {name} must hold fields.")
        known = {}
        for key in _READERS[name]:
            if key in given:
                try:
                    known[key] = checked(name, key, given.pop(key))
                except BadRequest as why:
                    raise BadRequest(f"In {source}, {why}") from None
        if known.get("bits") not in (None, 8, 16):
            raise BadRequest(f"In {source}, file.bits must be 8 or 16, not {known['bits']}.")
        lines[name] = _LINE_TYPES[name](**known, extra=given)
    try:
        title = _text(raw.pop("version", Docket().version))[:60]
    except _Wrong as why:
        raise BadRequest(f"In {source}, version {why}.") from None
    return Docket(**lines, version=title, extra=raw)


def with_measured(docket: Docket, facts: Facts) -> Docket:
    """Return the docket with what was measured of its photo, to be kept with it."""
    if facts.measured is None or docket.photo.digest == facts.digest:
        return docket
    photo = replace(docket.photo, digest=facts.digest, measured=facts.measured)
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
    try:
        write_whole(path, to_json(docket).encode("utf-8"))
    except OSError as why:
        raise CannotDo(f"The docket {path} could not be written: {why.strerror}.") from None


def load(path: str | Path) -> Docket:
    """Read a docket from a file."""
    return from_json(read_text(Path(path)), str(path))


def read_text(path: Path) -> str:
    """Read a docket's file as text.

    Raises
    ------
    BadRequest
    """
    try:
        if path.stat().st_size > _LARGEST_DOCKET:
            raise BadRequest(f"{path} is too large to be a docket.")
        return path.read_text("utf-8")
    except FileNotFoundError:
        raise BadRequest(f"There is no docket {path}.") from None
    except UnicodeDecodeError:
        raise BadRequest(f"{path} is no readable JSON; it was left as it is.") from None
    except OSError as why:
        raise BadRequest(f"The docket {path} could not be read: {why.strerror}.") from None
