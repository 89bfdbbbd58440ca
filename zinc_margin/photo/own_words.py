"""Reading what a photo's metadata say of it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from threading import Lock

import pyexiv2

from zinc_margin.facts.said import Said

pyexiv2.set_log_level(4)


ONE_AT_A_TIME = Lock()
"""Exiv2's XMP parser is one for the whole process."""


_LONGEST = 200


_TITLES = (
    "Xmp.dc.title", "Iptc.Application2.ObjectName", "Xmp.dc.description",
    "Iptc.Application2.Caption", "Exif.Image.ImageDescription",
)  # fmt: skip


_AUTHORS = ("Xmp.dc.creator", "Iptc.Application2.Byline", "Exif.Image.Artist")


_DATES = ("Exif.Photo.DateTimeOriginal", "Xmp.photoshop.DateCreated", "Exif.Image.DateTime")


def said(path: Path) -> Said:
    """Read a photo's own words; nothing where they cannot be read.

    Parameters
    ----------
    path : Path
    """
    with ONE_AT_A_TIME:
        try:
            with pyexiv2.Image(str(path)) as image:
                result = image.read_exif() | image.read_iptc() | image.read_xmp()
        except (RuntimeError, ValueError, UnicodeDecodeError):
            return Said()
    date = _first(result, _DATES)[:10].replace(":", "-")
    return Said(_first(result, _TITLES), date, _first(result, _AUTHORS))


def _first(fields: Mapping[str, object], keys: Sequence[str]) -> str:
    for key in keys:
        value = fields.get(key)
        if isinstance(value, Mapping):  # a text in several languages
            value = next(iter(value.values()), "")
        if isinstance(value, (list, tuple)):
            value = ", ".join(str(part) for part in value)
        text = " ".join(str(value or "").split())
        if text:
            return text[:_LONGEST]
    return ""
