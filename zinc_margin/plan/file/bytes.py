"""How many bytes a file will have."""

from __future__ import annotations

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.file import SCREEN_FORMATS
from zinc_margin.facts.facts import Facts
from zinc_margin.plan.file.colours import _goal, is_srgb
from zinc_margin.plan.model import FileParts

LEAST_QUALITY = 80
"""Under a byte limit quality gives way down to here; then pixels do."""


_PACKED = {"none": 1.0, "lzw": 0.75, "deflate": 0.65, "zstd": 0.65}


def file_parts(facts: Facts, docket: Docket, size: tuple[int, int]) -> FileParts:
    """Predict what is written; a plain TIFF is exact but for the metadata."""
    line = docket.file
    form = line.format
    lossy = line.lossy
    bits = 8 if lossy or form in SCREEN_FORMATS else line.bits or facts.working_bits
    colour, channels = _goal(facts, docket)
    samples = size[0] * size[1] * channels
    if form == "tiff":
        predicted = int(samples * bits // 8 * _PACKED[line.compression]) + 8192
    elif not lossy:
        predicted = int(samples * (0.55 if bits == 8 else 1.7)) + 4096
    else:
        # bits a pixel of photographs against quality: gentle up to 85, steep beyond
        quality = line.quality
        per_pixel = 0.3 + 1.5 * (quality / 85) ** 3 + max(0, quality - 85) ** 1.6 * 0.08
        if form in SCREEN_FORMATS:
            per_pixel *= 0.7
        predicted = int(size[0] * size[1] * per_pixel / 8) + 8192
    stays_srgb = colour == "srgb" or (colour == "own" and is_srgb(facts))
    return FileParts(
        form, bits, line.quality, predicted, channels, line.max_bytes, colour, stays_srgb
    )
