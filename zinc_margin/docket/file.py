"""Line 7: the file, its colours and its name."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, ClassVar

from zinc_margin.docket.fields import (
    SWITCH,
    Kind,
    Line,
    Option,
    held,
    number,
    one_of,
    said,
    text,
    whole,
)
from zinc_margin.gate import values
from zinc_margin.gate.values import Wrong
from zinc_margin.measure.formats import formats
from zinc_margin.measure.words import LEAST_BYTES, parse_bytes

NAME_FIELDS = (
    "name",
    "title",
    "author",
    "project",
    "text",
    "size",
    "ppi",
    "paper",
    "version",
    "date",
    "counter",
    "piece",
)
"""Fields that a name rule may contain in braces."""

PLACES = (
    "top-left",
    "top",
    "top-right",
    "left",
    "middle",
    "right",
    "bottom-left",
    "bottom",
    "bottom-right",
)
FORMATS = tuple(formats())


@dataclass(frozen=True)
class GoalProfile:
    """An ICC profile, chosen by the user, to which a file is converted.

    Attributes
    ----------
    path, name : str
    space : str
        ``RGB``, ``GRAY`` or ``CMYK``.
    """

    path: str
    name: str
    space: str


def _profile(value: Mapping[str, Any]) -> GoalProfile:
    if value.get("space") not in ("RGB", "GRAY", "CMYK"):
        raise Wrong("must have path, name and space (RGB, GRAY or CMYK)")
    path, name = (values.text_from(value.get(key)) for key in ("path", "name"))
    return GoalProfile(path, name, value["space"])


def _bits(value: Any) -> int:
    bits = _EIGHT_TO_SIXTEEN.read(value)
    if bits not in (8, 16):
        raise Wrong("must be 8 or 16")
    return int(bits)


def _file_name(value: Any) -> str:
    name = values.text_from(value)
    if "/" in name or name in (".", ".."):
        raise Wrong("must be a file name without a folder")
    return name


def _name_rule(value: Any) -> str:
    rule = values.text_from(value)
    if "/" in rule or not _check_fields(rule):
        raise Wrong(f"must be a name without folders, made of text and {_fields()}")
    return rule


def _folder_rule(value: Any) -> str:
    parts = [part.strip() for part in values.text_from(value).split("/")]
    # Even with spaces around it, a folder called `..` would leave the chosen folder.
    rule = "/".join(parts).strip("/ ")
    if not rule or not all(map(_check_fields, parts)) or ".." in parts:
        raise Wrong(f"must be folders separated by /, made of text and {_fields()}")
    return rule


def _check_fields(rule: str) -> bool:
    named = re.findall(r"\{([^{}]*)\}", rule)
    whole_ones = rule.count("{") == rule.count("}") == len(named)
    return whole_ones and all(name in NAME_FIELDS for name in named)


def _fields() -> str:
    return ", ".join("{" + name + "}" for name in NAME_FIELDS)


_EIGHT_TO_SIXTEEN = whole(8, 16)
_BITS = Kind(_bits, "8 or 16", typed=_EIGHT_TO_SIXTEEN.typed, metavar="{8,16}")
_NAME_RULE = Kind(_name_rule, "a name without folders, made of text and fields", metavar="RULE")
_FOLDER_RULE = Kind(_folder_rule, "folders separated by /, made of text and fields", metavar="RULE")
_FILE_NAME = Kind(_file_name, "a file name without a folder")
_BYTES = Kind(
    whole(LEAST_BYTES, 10**13).read,
    f"integer, from {LEAST_BYTES}",
    "bytes",
    typed=parse_bytes,
    metavar="SIZE",
)
_PROFILE = held(GoalProfile, _profile, "path, name and space (RGB, GRAY or CMYK)")


@dataclass(frozen=True)
class FileLine(Line):
    """Line 7 of a docket."""

    title: ClassVar[str] = "File"
    format: str | None = said(
        one_of(*FORMATS),
        "file format; a PDF has one page per sheet",
        nothing="the maker's: TIFF; JPEG for screens and uploads",
        option="format",
    )
    bits: int | None = said(_BITS, "bit depth", nothing="as the photo", option="bits")
    quality: int = said(
        whole(1, 100), "quality of JPEG, WebP and JPEG XL, 1 to 100", 95, option="quality"
    )
    pdf_jpeg: bool = said(
        SWITCH, "store the pictures of a PDF as JPEG", False, option=Option("pdf-jpeg", sets=True)
    )
    compression: str = said(
        one_of("none", "deflate", "lzw", "zstd"),
        "compression of a TIFF",
        "none",
        option="compression",
    )
    subsampling: str = said(
        one_of("4:4:4", "4:2:2", "4:2:0"),
        "chroma subsampling of a JPEG",
        "4:4:4",
        option="subsampling",
    )
    progressive: bool = said(
        SWITCH, "write a progressive JPEG", False, option=Option("progressive", sets=True)
    )
    lossless: bool = said(
        SWITCH, "write lossless WebP or JPEG XL", False, option=Option("lossless", sets=True)
    )
    colour: str | None = said(
        one_of("own", "srgb", "wide", "grey", "icc"),
        "colours of the file: the photo's own, converted, or by `profile`",
        nothing="the maker's: the photo's own; sRGB for screens and uploads",
    )
    profile: GoalProfile | None = said(_PROFILE, "ICC profile to convert to", nothing="none")
    intent: str = said(
        one_of("relative", "perceptual", "saturation", "absolute"),
        "rendering intent",
        "relative",
        option="intent",
    )
    black_point: bool = said(
        SWITCH,
        "black point compensation",
        True,
        option=Option("no-black-point", "no black point compensation", sets=False),
    )
    metadata: str = said(
        one_of("all", "copyright", "none"),
        "metadata copied from the photo",
        "all",
        option="metadata",
    )
    places: bool = said(
        SWITCH,
        "keep the location where the photo was taken",
        True,
        key="location",
        option=Option("no-location", "remove the location", sets=False),
    )
    embed: bool = said(
        SWITCH,
        "write the print settings into the file's XMP",
        False,
        option=Option("embed-docket", sets=True),
    )
    rule: str | None = said(
        _NAME_RULE,
        "rule for file names: {name}-{size}-{paper}, {counter} …; `name` takes precedence",
        nothing="{name}-{size}",
        option=Option(
            "name", "rule for file names in a folder: {name}-{size}-{paper}, {counter} …"
        ),
    )
    folder_rule: str | None = said(
        _FOLDER_RULE,
        "rule for folders inside the folder: {date}/{paper}",
        nothing="none",
        option=Option("folders", "rule for folders inside DIR/: {date}/{paper}"),
    )
    project: str | None = said(text(), "text for {project}", nothing="nothing", option="project")
    note: str | None = said(text(), "text for {text}", nothing="nothing", option="text")
    watermark: str | None = said(
        text(), "watermark: a line of text on the finished page", nothing="none"
    )
    watermark_picture: str | None = said(text(), "picture file of the watermark", nothing="none")
    watermark_place: str = said(
        one_of(*PLACES),
        "position of the watermark on the page",
        "bottom-right",
        option="watermark-place",
    )
    watermark_size: Fraction = said(
        number(Fraction(1, 2), 100, "%"),
        "height of the watermark, percent of the shorter side",
        Fraction(4),
        option="watermark-size",
    )
    watermark_strength: Fraction = said(
        number(0, 100, "%"),
        "strength of the watermark, percent",
        Fraction(60),
        option="watermark-strength",
    )
    printing_notes: bool = said(
        SWITCH,
        "write printing notes next to the file",
        False,
        option=Option("printing-notes", sets=True),
    )
    max_bytes: int | None = said(
        _BYTES,
        "largest file, for example 2MB; quality is lowered first, then pixels",
        nothing="the maker's limit, if it has one",
        option="max-bytes",
    )
    folder: str | None = said(text(), "folder of the file", nothing="next to the photo")
    name: str | None = said(_FILE_NAME, "file name, without its suffix", nothing="by rule")
