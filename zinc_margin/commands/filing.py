"""What the command line takes for the file: format, colours, metadata, name."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from zinc_margin.docket.docket import PLACES
from zinc_margin.docket.store import checked


def declare(parser: argparse.ArgumentParser) -> None:
    """Declare the options of the File line."""
    add = parser.add_argument
    add("--bits", type=int, choices=(8, 16))
    add("--quality", type=int, metavar="N", help="JPEG, WebP and JPEG XL quality, 1 to 100")
    add("--packing", choices=("none", "deflate", "lzw", "zstd"), help="of a TIFF")
    add("--chroma", choices=("full", "half", "quarter"), help="how finely a JPEG keeps colour")
    add("--progressive", action="store_true", help="a progressive JPEG")
    add("--lossless", action="store_true", help="of WebP and JPEG XL")
    add("--colour", metavar="PROFILE", help="own, srgb, wide, grey, or an ICC file")
    add("--intent", choices=("relative", "perceptual", "saturation", "absolute"))
    add("--no-black-point", action="store_true", help="no black-point compensation")
    add("--metadata", choices=("all", "copyright", "none"), help="carried from the photo")
    add("--no-place", action="store_true", help="leave out where it was taken")
    add("--embed-docket", action="store_true", help="write the docket into the file's XMP")
    add("--name", metavar="RULE", help="in a folder: {name}-{size}-{paper}, {counter} …")
    add("--folders", metavar="RULE", help="inside DIR/, by rule: {date}/{paper}")
    add(
        "--mark", metavar="TEXT", help="laid on the finished page, for screens; or a picture's file"
    )
    add("--mark-place", choices=PLACES)
    add("--mark-size", metavar="N", help="height, percent of the shorter side")
    add("--mark-strength", metavar="N", help="how much it covers, percent")
    add("--project", metavar="TEXT", help="what {project} stands for")
    add("--text", metavar="TEXT", help="what {text} stands for")


_FIELDS = ("packing", "chroma", "intent", "metadata", "project", "quality", "bits")


def decided(options: argparse.Namespace) -> dict[str, Any]:
    """Return the fields of the File line that the options give.

    Raises
    ------
    BadRequest
    """
    found: dict[str, Any] = {}
    for name in _FIELDS:
        given = getattr(options, name)
        if given is not None:
            found[name] = checked("file", name, given)
    if options.mark is not None:
        field = "mark_picture" if Path(options.mark).is_file() else "mark"
        found[field] = checked("file", field, options.mark)
    for name in ("mark_place", "mark_size", "mark_strength"):
        given = getattr(options, name)
        if given is not None:
            plain = given.removesuffix("%") if name != "mark_place" else given
            found[name] = checked("file", name, plain)
    if options.text is not None:
        found["note"] = checked("file", "note", options.text)
    if options.name is not None:
        found["rule"] = checked("file", "rule", options.name)
    if options.folders is not None:
        found["folder_rule"] = checked("file", "folder_rule", options.folders)
    if options.colour is not None:
        found |= colour_of(options.colour)
    for option, field, value in (
        ("progressive", "progressive", True), ("lossless", "lossless", True),
        ("no_black_point", "black_point", False), ("no_place", "places", False),
        ("embed_docket", "embed", True), ("pdf_jpeg", "pdf_jpeg", True), ("slip", "slip", True),
    ):  # fmt: skip
        if getattr(options, option):
            found[field] = value
    return found


def colour_of(typed: str) -> dict[str, Any]:
    """Read a file's colours: a word, or an ICC file.

    Raises
    ------
    BadRequest
    """
    from zinc_margin.handoff.colours import read_profile

    if typed in ("own", "srgb", "wide", "grey"):
        return {"colour": typed, "profile": None}
    return {"colour": "icc", "profile": read_profile(typed)}
