"""File formats: their names, abilities and typical file sizes.

Each format is one entry of ``data/formats.json``; the module of `handoff.formats` with the same key
writes it. An entry with a missing part stops the program at start.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from zinc_margin.measure.tables import table


@dataclass(frozen=True)
class Format:
    """A file format.

    Attributes
    ----------
    key, name : str
    endings : tuple of str
        File name suffixes; the first is used for writing.
    bits : tuple of int
        Possible bits per sample.
    quality : str
        When the quality setting applies: ``always``, ``never``, ``unless-lossless``, ``pdf-jpeg``.
    overhead : int
        Bytes besides the pixels.
    size : float
        Size of a lossy file relative to a JPEG of the same quality.
    raw : bool
        Whether it can store uncompressed pixels, so that its size is known exactly.
    most_px : int or None
        Limit of a side.
    cmyk : bool
        Whether it can store CMYK.
    whole : bool
        Whether writing it needs all pixels in memory.
    screen : bool
        Whether it is for screens.
    srgb : bool
        Whether its colours are always sRGB, because readers assume it.
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
        """Return whether the format is lossy with these settings, so its quality setting
        applies.

        Parameters
        ----------
        lossless, pdf_jpeg : bool
            The docket's settings.
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
    """Return every format by key, in display order.

    Raises
    ------
    TypeError
        If an entry has a missing or unknown part.
    """
    return {entry["key"]: _format(entry) for entry in table("formats")["formats"]}
