"""File formats: what each is called, what it can hold, and how large it comes out.

All that is said of a format is in one entry of ``data/formats.json``; what writes it is one
module of `handoff.formats` of the same key. An entry that lacks a part ends the program's start.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from zinc_margin.measure.tables import table


@dataclass(frozen=True)
class Format:
    """One entry.

    Attributes
    ----------
    key, name : str
    endings : tuple of str
        Of files; the first is written.
    bits : tuple of int
        That a sample can have.
    quality : str
        When quality counts: ``always``, ``never``, ``unless-lossless``, ``pdf-jpeg``.
    overhead : int
        Bytes next to the pixels.
    size : float
        Of a lossy file, against a JPEG of the same quality.
    raw : bool
        Whether it can hold the pixels as they are, so its size is known exactly.
    most_px : int or None
        Along a side.
    cmyk : bool
        Whether it holds CMYK.
    whole : bool
        Whether all pixels have to be in memory to write it.
    screen : bool
        Whether it is for screens.
    srgb : bool
        Whether its colours are always sRGB, which its readers take for granted.
    """

    key: str
    name: str
    endings: tuple[str, ...]
    bits: tuple[int, ...]
    quality: str
    overhead: int
    size: float = 1.0
    raw: bool = False
    most_px: int | None = None
    cmyk: bool = True
    whole: bool = False
    screen: bool = False
    srgb: bool = False

    def lossy(self, lossless: bool, pdf_jpeg: bool) -> bool:
        """Return whether its quality counts: pixels do not come back as they were.

        Parameters
        ----------
        lossless, pdf_jpeg : bool
            As the docket has them.
        """
        return {
            "always": True,
            "never": False,
            "unless-lossless": not lossless,
            "pdf-jpeg": pdf_jpeg,
        }[self.quality]


def _format(entry: Mapping[str, Any]) -> Format:
    parts = dict(entry)
    for name in ("endings", "bits"):
        parts[name] = tuple(parts[name])
    return Format(**parts)


@cache
def formats() -> dict[str, Format]:
    """Return every format by its key, in their order.

    Raises
    ------
    TypeError
        When an entry lacks a part, or has one that is not known.
    """
    return {entry["key"]: _format(entry) for entry in table("formats")["formats"]}
