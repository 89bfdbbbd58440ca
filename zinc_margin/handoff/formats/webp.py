"""WebP, for screens."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from PIL import Image

from zinc_margin.handoff import metadata
from zinc_margin.handoff.formats.bands import Bands, gathered
from zinc_margin.photo.colour import srgb
from zinc_margin.plan.model import Plan


def write(path: Path, bands: Bands, plan: Plan, icc: bytes, photo: Path) -> None:
    """Write a WebP.

    Parameters
    ----------
    path : Path
    bands : Bands
        From the top, (rows, W, C) each.
    plan : Plan
    icc : bytes
        An ICC profile.
    photo : Path
    """
    codes = gathered(bands, plan)
    flat = codes if codes.shape[2] == 3 else np.repeat(codes, 3, axis=2)
    if codes.shape[2] == 1:
        icc = srgb().icc  # grey in three channels; its curve is sRGB's, or was converted to it
    exif, xmp = metadata.blocks_of(photo, plan)
    Image.fromarray(flat).save(
        path, "WEBP", quality=plan.file.quality, lossless=plan.file.lossless, method=4,
        icc_profile=icc, exact=True, exif=exif, xmp=xmp,
    )  # fmt: skip
