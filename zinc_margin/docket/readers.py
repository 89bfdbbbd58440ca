"""What every field of a docket may hold: read from JSON, or refused by its name."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from fractions import Fraction
from typing import Any

from zinc_margin.docket.docket import FORMATS, METHODS, PLACES, Frame, GoalProfile, Margins
from zinc_margin.measure.amounts import LEAST_BYTES
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import LONGEST_MM, plain_text
from zinc_margin.measure.makers import find_maker
from zinc_margin.measure.papers import find_process
from zinc_margin.measure.resolution import HIGHEST_PPI, LOWEST_PPI
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.tones import EDGE, parse_tone
from zinc_margin.measure.ways import TARGETS, WAYS, Way
from zinc_margin.photo.facts import Measured

NAME_FIELDS = (
    "name", "title", "author", "project", "text", "size", "ppi", "paper", "version", "date",
    "counter", "piece",
)  # fmt: skip
"""What a name's rule may hold in braces."""


class Wrong(Exception):
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
            raise Wrong(f"must be a number from {low} to {high}") from None
        if not low <= exact <= high:
            raise Wrong(f"must be from {low} to {high}")
        return exact

    return read


def _length(value: Any) -> Fraction:
    exact = _number(0, LONGEST_MM)(value)
    if exact == 0:
        raise Wrong("must be more than 0")
    return exact


def _one_of(*words: str) -> Callable[[Any], str]:
    def read(value: Any) -> str:
        if value not in words:
            raise Wrong("must be one of " + ", ".join(words))
        return str(value)

    return read


def _whole(low: int, high: int) -> Callable[[Any], int]:
    def read(value: Any) -> int:
        if isinstance(value, bool) or not isinstance(value, int) or not low <= value <= high:
            raise Wrong(f"must be a whole number from {low} to {high}")
        return value

    return read


def _yes_or_no(value: Any) -> bool:
    if not isinstance(value, bool):
        raise Wrong("must be true or false")
    return value


def short_text(value: Any) -> str:
    """Read a short text."""
    if not isinstance(value, str) or not value or len(value) > 4000 or "\0" in value:
        raise Wrong("must be a short text")
    return value


def _file_name(value: Any) -> str:
    text = short_text(value)
    if "/" in text or text in (".", ".."):
        raise Wrong("must be a file's name without a folder")
    return text


def _paper(value: Any) -> str:
    # a paper of one's own is known by its figure; the plan asks for one that has none
    return plain_text(short_text(value))[:60]


def _known(read: Callable[[str], Any], what: str) -> Callable[[Any], Any]:
    def look_up(value: Any) -> Any:
        try:
            return read(short_text(value))
        except BadRequest as why:
            raise Wrong(f"must be {what}: {why}") from None

    return look_up


_tone = _known(parse_tone, "a tone")
_process = _known(lambda name: find_process(name).key, "a way of printing")
_maker = _known(lambda name: find_maker(name).key, "a place to print that is known")


def _size(value: Any) -> PrintSize:
    if not isinstance(value, Mapping):
        raise Wrong("must hold width_mm and height_mm")
    width, height = _length(value.get("width_mm")), _length(value.get("height_mm"))
    label = value.get("label")
    return PrintSize(short_text(label) if label else f"{width} × {height} mm", width, height)


def _way(value: Any) -> Way:
    if not isinstance(value, Mapping) or value.get("kind") not in WAYS:
        raise Wrong("must have a kind: " + ", ".join(WAYS))
    most = 10**7
    names = WAYS[value["kind"]]
    try:
        values = tuple(_number(-most, most)(value.get(name)) for name in names)
        label = short_text(value["label"]) if value.get("label") else ""
        frame = value.get("frame_mm")
        outer = None if frame is None else (_length(frame[0]), _length(frame[1]))
        return Way(value["kind"], values, label, frame=outer)
    except (TypeError, IndexError, KeyError):
        raise Wrong("must have a frame of two lengths") from None
    except BadRequest as why:
        raise Wrong(f"cannot be meant: {why}") from None


def _target(value: Any) -> Way:
    way = _way(value)
    if way.kind not in TARGETS:
        raise Wrong("must have a kind: " + ", ".join(TARGETS))
    return way


def _frame(value: Any) -> Frame:
    if not isinstance(value, Mapping):
        raise Wrong("must hold left, top, width and height")
    most = 10**7
    left, top = (_number(0, most)(value.get(key)) for key in ("left", "top"))
    width, height = (_number(Fraction(1, 1000), most)(value.get(k)) for k in ("width", "height"))
    return Frame(left, top, width, height)


def _margins(value: Any) -> Margins:
    if not isinstance(value, Mapping):
        raise Wrong("must hold top, right, bottom and left")
    read = _number(0, LONGEST_MM)
    return Margins(*(read(value.get(key)) for key in ("top", "right", "bottom", "left")))


def _profile(value: Any) -> GoalProfile:
    if not isinstance(value, Mapping) or value.get("space") not in ("RGB", "GRAY", "CMYK"):
        raise Wrong("must hold path, name and space (RGB, GRAY or CMYK)")
    return GoalProfile(short_text(value.get("path")), short_text(value.get("name")), value["space"])


def _rule(value: Any) -> str:
    text = short_text(value)
    if "/" in text or not _fields_known(text):
        raise Wrong(f"must be a name without folders, of words and {_fields()}")
    return text


def _folder_rule(value: Any) -> str:
    text = short_text(value).strip("/ ")
    if not _fields_known(text) or ".." in text.split("/"):
        raise Wrong(f"must be folders parted by /, of words and {_fields()}")
    return text


def _fields_known(rule: str) -> bool:
    named = re.findall(r"\{([^{}]*)\}", rule)
    whole = rule.count("{") == rule.count("}") == len(named)
    return whole and all(name in NAME_FIELDS for name in named)


def _fields() -> str:
    return ", ".join("{" + name + "}" for name in NAME_FIELDS)


def _wrap_tone(value: Any) -> str:
    return EDGE if value == EDGE else _tone(value)


def _measured(value: Any) -> Measured:
    try:
        return Measured.from_plain(value)
    except (KeyError, TypeError, ValueError):
        raise Wrong("must hold what was measured: noise, blocks, halo …") from None


def _or_none(read: Callable[[Any], Any]) -> Callable[[Any], Any]:
    return lambda value: None if value is None else read(value)


_ppi = _number(LOWEST_PPI, HIGHEST_PPI)
READERS: dict[str, dict[str, Callable[[Any], Any]]] = {
    "photo": {
        "ground": _tone, "digest": _or_none(short_text), "measured": _or_none(_measured),
        "page": _or_none(_whole(1, 500)),
    },
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
        "caption": _or_none(short_text), "foot": _or_none(short_text),
        "edition": _or_none(short_text),
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
        "folder_rule": _or_none(_folder_rule),
        "project": _or_none(short_text), "note": _or_none(short_text),
        "mark": _or_none(short_text), "mark_picture": _or_none(short_text),
        "mark_place": _one_of(*PLACES),
        "mark_size": _number(Fraction(1, 2), 100), "mark_strength": _number(0, 100),
        "slip": _yes_or_no,
        "max_bytes": _or_none(_whole(LEAST_BYTES, 10**13)),
        "folder": _or_none(short_text), "name": _or_none(_file_name),
    },
}  # fmt: skip
