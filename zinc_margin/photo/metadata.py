"""A photo's metadata."""

from __future__ import annotations

import math
import os
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from threading import Lock
from typing import Any

import pyexiv2
from PIL import Image

from zinc_margin.facts.facts import Said

pyexiv2.set_log_level(4)


ONE_AT_A_TIME = Lock()
"""Exiv2's XMP parser is global to the process, so only one thread may use it."""


_LONGEST = 200  # characters of a title or name in a caption


_TITLES = (
    "Xmp.dc.title",
    "Iptc.Application2.ObjectName",
    "Xmp.dc.description",
    "Iptc.Application2.Caption",
    "Exif.Image.ImageDescription",
)


_AUTHORS = ("Xmp.dc.creator", "Iptc.Application2.Byline", "Exif.Image.Artist")


_DATES = ("Exif.Photo.DateTimeOriginal", "Xmp.photoshop.DateCreated", "Exif.Image.DateTime")


def words_of(path: Path) -> Said:
    """Read a photo's title, author and date; empty where they cannot be read."""
    with ONE_AT_A_TIME:
        try:
            with metadata_of(path) as image:
                reads = (image.read_exif, image.read_iptc, image.read_xmp)
                result = {key: value for read in reads for key, value in fields(read).items()}
                packet = len(image.read_raw_xmp())
        except (RuntimeError, ValueError) as why:
            # this format cannot hold metadata, so none can be lost
            return Said(readable="unknown image type" in str(why))
    date = _first(result, _DATES)[:10].replace(":", "-")
    # Exiv2 shows binary values as text, which is longer; a tag takes 12 bytes more.
    held = sum(len(str(value)) + 12 for key, value in result.items() if key[:4] != "Xmp.")
    return Said(_first(result, _TITLES), date, _first(result, _AUTHORS), copied_bytes=packet + held)


def metadata_of(path: Path) -> pyexiv2.Image:
    """Open a file with Exiv2, even if its name is not valid UTF-8.

    Raises
    ------
    RuntimeError, ValueError
        If its metadata is unreadable.
    """
    return pyexiv2.Image(os.fsencode(path).decode("latin-1"), "latin-1")


def fields(read: Callable[[str], dict[str, Any]]) -> dict[str, Any]:
    """Return EXIF, IPTC or XMP by key; decode as Latin-1 if it is not UTF-8.

    Parameters
    ----------
    read : callable
        Exiv2's reader, which takes an encoding.

    Raises
    ------
    RuntimeError, ValueError
        If it is damaged.
    """
    try:
        return read("utf-8")
    except UnicodeDecodeError:
        return read("latin-1")


def _first(held: Mapping[str, object], keys: Sequence[str]) -> str:
    for key in keys:
        value = held.get(key)
        if isinstance(value, Mapping):  # a text in several languages
            value = next(iter(value.values()), "")
        if isinstance(value, (list, tuple)):
            value = ", ".join(str(part) for part in value)
        text = " ".join(str(value or "").split())
        if text:
            return text[:_LONGEST]
    return ""


_IFD, _OF_SMALL_FILM = 0x8769, 0xA405
_DIAGONAL_MM = math.hypot(36, 24)  # of 35 mm film, to which the equivalent focal length refers


def focal_px(path: Path, width: int, height: int) -> float | None:
    """Return a camera's focal length in pixels; None if the file has no usable data.

    Parameters
    ----------
    width, height : int
        Size of the whole picture, in pixels.

    References
    ----------
    Exif 2.32, FocalLengthIn35mmFilm.
    """
    try:
        with Image.open(path) as image:
            told = float(image.getexif().get_ifd(_IFD).get(_OF_SMALL_FILM, 0))
    except (OSError, ValueError, TypeError, SyntaxError, Image.DecompressionBombError):
        return None
    return told / _DIAGONAL_MM * math.hypot(width, height) if 5 <= told <= 1000 else None
