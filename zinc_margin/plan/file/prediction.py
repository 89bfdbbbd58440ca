"""Predicted file size, from the photo's measurements or an average photo."""

from __future__ import annotations

import math
from itertools import pairwise

from zinc_margin.facts.measurements import Coded
from zinc_margin.measure.formats import Format

_USUAL = Coded((1.5, 1.8, 2.2, 2.6), (4.4, 4.8, 5.2, 5.5))
"""Average of photographs, for a photo that is not measured yet."""

_QUALITIES = (
    (1, 0.08), (25, 0.22), (40, 0.29), (60, 0.4), (75, 0.55), (85, 0.8), (90, 1.0), (95, 1.42),
    (98, 1.95), (100, 3.3),
)  # fmt: skip
"""Bits by JPEG quality, relative to quality 90: the median of a dozen photographs."""

# Bytes relative to 4:4:4, the median of a dozen photographs.
_SUBSAMPLED = {"4:4:4": 1.0, "4:2:2": 0.87, "4:2:0": 0.78}

_STRETCHED, _STRETCHED_LOSSLESS = 0.55, 0.3
"""Enlarged s times each way, a pixel needs s to the minus this of the bits: it has little new
detail. These and the next are the best fit to 197 files from a dozen photographs.
"""

_SHARPENED = 0.1
"""The increase of lossy bytes for an amount of 1 of sharpening; lossless ones hardly change."""

_LOSSY = 1.04
"""Size of whole files relative to the measured pieces."""

_DEEP = 8.3
"""Extra bits for a 16-bit sample: most of its lower bits are computed and incompressible."""

_PACKED = {"none": 1.11, "lzw": 1.23, "deflate": 1.11, "zstd": 1.11}
"""Size of whole files, by a TIFF's compression, relative to the measured pieces."""


def pixel_bytes(
    form: Format,
    samples: int,
    bits: int,
    coded: Coded | None,
    scale: float,
    sharpened: float,
    quality: int | None,
    compression: str,
    subsampling: str,
    channels: int,
) -> int:
    """Return the predicted bytes of a picture in a file.

    Parameters
    ----------
    samples : int
        Number of samples: pixels times channels.
    bits : int
        Bits per sample.
    coded : Coded or None
        Bits for the photo's own pixels; None until they are measured.
    scale : float
        Output ÷ source pixels, each way.
    sharpened : float
        The amount of sharpening, 0 or more.
    quality : int or None
        1–100; None if lossless.
    compression, subsampling : str
        For a TIFF; for a JPEG.
    """
    if form.raw and compression == "none":
        return samples * bits // 8 + form.overhead
    known = coded or _USUAL
    if quality is None:
        each = _at(known.packed, scale, _STRETCHED_LOSSLESS)
        each = min(bits, each + (_DEEP if bits == 16 else 0.0))
        return int(samples * each / 8 * _PACKED[compression]) + form.overhead
    more = _LOSSY * (1 + _SHARPENED * min(2.0, sharpened))
    each = _at(known.lossy, scale, _STRETCHED) * more * _by_quality(quality)
    if form.key in ("jpeg", "pdf"):
        each *= _SUBSAMPLED[subsampling]
    if channels == 4:
        each *= 1.6
    return int(samples / channels * each * form.size / 8) + form.overhead


def bytes_at_quality(size: int, quality: int, other: int) -> int:
    """Return the predicted bytes of a lossy file at another quality."""
    if quality == other:
        return size
    return int(size * _by_quality(other) / _by_quality(quality))


def quality_for(quality: int, share: float) -> int:
    """Return the highest quality, from 1, whose bytes are at most a share of those at a quality."""
    most = _by_quality(quality) * share
    return next((each for each in range(quality, 1, -1) if _by_quality(each) <= most), 1)


def _at(levels: tuple[float, ...], scale: float, stretched: float) -> float:
    """Return the bits at a scale: interpolated between halvings, and fewer when enlarged."""
    if scale >= 1:
        return levels[0] * scale**-stretched
    depth = min(len(levels) - 1.0, -math.log2(scale))
    low = min(int(depth), len(levels) - 2)
    return levels[low] + (depth - low) * (levels[low + 1] - levels[low])


def _by_quality(quality: int) -> float:
    for (low, least), (high, most) in pairwise(_QUALITIES):
        if quality <= high:
            share = (quality - low) / (high - low)
            return float(least * (most / least) ** share)
    return _QUALITIES[-1][1]
