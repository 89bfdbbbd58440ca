"""File formats: what each is called, what it can hold, and how large it comes out.

All that is said of a format stands in one entry of ``data/formats.json``; what writes it is one
module of `handoff.formats` of the same key. An entry that lacks a part ends the program's start.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from typing import Any

from zinc_margin.measure.tables import table

_BYTES_A_SAMPLE = {8: 0.55, 16: 1.7}
"""Of a photograph that is packed without loss, by its bits."""
_LOSSLESS_OVERHEAD = 4096


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
        Bytes beside the pixels.
    size : float
        Of a lossy file, against a JPEG of the same quality.
    bytes_of_raw : Mapping
        Share of the raw bytes, by compression, where these are known.
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
    bytes_of_raw: Mapping[str, float] = field(default_factory=dict)
    most_px: int | None = None
    cmyk: bool = True
    whole: bool = False
    screen: bool = False
    srgb: bool = False

    def lossy(self, lossless: bool, pdf_jpeg: bool) -> bool:
        """Tell whether its quality counts: pixels do not come back as they were.

        Parameters
        ----------
        lossless, pdf_jpeg : bool
            As the docket has them.
        """
        return {
            "always": True, "never": False, "unless-lossless": not lossless, "pdf-jpeg": pdf_jpeg,
        }[self.quality]  # fmt: skip

    def predicted_bytes(
        self, pixels: int, channels: int, bits: int, quality: int | None, compression: str
    ) -> int:
        """Return about how many bytes a photograph takes.

        Parameters
        ----------
        pixels, channels, bits : int
        quality : int or None
            1–100; None where nothing is lost.
        compression : str
            Of a TIFF.
        """
        samples = pixels * channels
        if self.bytes_of_raw:
            return int(samples * bits // 8 * self.bytes_of_raw[compression]) + self.overhead
        if quality is None:
            return int(samples * _BYTES_A_SAMPLE[bits]) + _LOSSLESS_OVERHEAD
        # bits a pixel of photographs against quality: gentle up to 85, steep beyond
        per_pixel = 0.3 + 1.5 * (quality / 85) ** 3 + max(0, quality - 85) ** 1.6 * 0.08
        if self.size != 1:
            per_pixel *= self.size
        return int(pixels * per_pixel / 8) + self.overhead


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
