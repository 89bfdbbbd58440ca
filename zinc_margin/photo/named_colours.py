"""Colours that a file names by code points instead of a profile.

HEIF and AVIF keep them in a ``colr`` box (ISO/IEC 23001-17, 14496-12), PNG in a ``cICP`` chunk; the
numbers are defined by ITU-T H.273. Cameras mark opRGB JPEGs (IEC 61966-2-5) only in EXIF, as DCF
2.0 specifies.
"""

from __future__ import annotations

import struct
from functools import cache
from pathlib import Path

import numpy as np
from PIL import ExifTags, Image

from zinc_margin.measure.errors import CannotDo
from zinc_margin.photo import icc
from zinc_margin.photo.colour import BT2020, SRGB

_HEAD = 1 << 18
"""Bytes at the start of a file that are searched for boxes and chunks."""
_PNG = b"\x89PNG\r\n\x1a\n"

_PRIMARIES = {
    1: ("sRGB", SRGB),
    9: ("BT.2020", BT2020),
    12: ("Display P3", ((0.680, 0.320), (0.265, 0.690), (0.150, 0.060))),
}
_OPRGB = ((0.64, 0.33), (0.21, 0.71), (0.15, 0.06))
_GAMMAS = {4: 2.2, 5: 2.8, 8: 1.0}
_FILM_LIKE = (1, 6, 14, 15)  # BT.709's curve has four numbers
_SRGB_CURVE = 13
_HIGH_RANGE = {16: "PQ", 18: "HLG"}


def coded_profile(path: Path) -> bytes | None:
    """Return an ICC profile for the colours named in a file, or None.

    Raises
    ------
    CannotDo
        For a high dynamic range picture, whose tones do not fit paper.
    """
    with path.open("rb") as file:
        head = file.read(_HEAD)
    named = _of_png(head) if head.startswith(_PNG) else _of_boxes(head)
    if named is None:
        return None
    return named_profile(path, *named)


def named_profile(path: Path, primaries: int, transfer: int) -> bytes | None:
    """Return an ICC profile for named colours; None for unknown ones.

    Parameters
    ----------
    path : Path
        For error sentences.
    primaries, transfer : int
        Numbers of ITU-T H.273.

    Raises
    ------
    CannotDo
        For high dynamic range, whose tones do not fit paper.
    """
    if transfer in _HIGH_RANGE:
        raise CannotDo(
            f"{path.name} is a high dynamic range picture ({_HIGH_RANGE[transfer]}), which is "
            "not supported. Save it in a standard range, for example sRGB, in the program "
            "that made it."
        )
    return _profile(primaries, transfer)


def camera_profile(exif: Image.Exif) -> bytes | None:
    """Return opRGB's profile if the camera's EXIF names that space, else None."""
    try:
        if exif.get_ifd(ExifTags.IFD.Interop).get(1) != "R03":
            return None
    except Exception:  # a broken EXIF directory is no reason to refuse the photo
        return None
    return icc.make("opRGB", 563 / 256, icc.primaries(_OPRGB))


@cache
def _profile(primaries: int, transfer: int) -> bytes | None:
    known = _PRIMARIES.get(primaries)
    if known is None:
        return None
    name, points = known
    grid = np.linspace(0, 1, 1024)
    if transfer == _SRGB_CURVE:
        curve: float | np.ndarray = icc.srgb_curve(grid)
    elif transfer in _FILM_LIKE:
        name += ", BT.709 tones"
        curve = np.where(grid < 0.081, grid / 4.5, ((grid + 0.099) / 1.099) ** (1 / 0.45))
    elif transfer in _GAMMAS:
        name += f", gamma {_GAMMAS[transfer]:g}"
        curve = _GAMMAS[transfer]
    else:
        return None
    return icc.make(name, curve, icc.primaries(points))


def _of_boxes(head: bytes) -> tuple[int, int] | None:
    at = head.find(b"colrnclx")
    if at < 0 or len(head) < at + 12:
        return None
    primaries, transfer = struct.unpack_from(">HH", head, at + 8)
    return primaries, transfer


def _of_png(head: bytes) -> tuple[int, int] | None:
    at = len(_PNG)
    while at + 8 <= len(head):
        size, kind = struct.unpack_from(">I4s", head, at)
        if kind == b"IDAT":
            break
        if kind == b"cICP" and size == 4 and at + 12 <= len(head):
            return head[at + 8], head[at + 9]
        at += 12 + size
    return None
