"""Write and verify WebP, for screens."""

from __future__ import annotations

import io
import os
import struct
from pathlib import Path
from typing import BinaryIO

import numpy as np
from PIL import Image

from zinc_margin.handoff import metadata
from zinc_margin.handoff.formats.bands import Bands, gather
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.photo.colour import srgb
from zinc_margin.plan.model import PrintPlan


def write(out: Outgoing, bands: Bands, plan: PrintPlan, icc: bytes, photo: Path) -> None:
    """Write a WebP.

    Parameters
    ----------
    bands : Bands
        (rows, W, C) each, from the top.
    """
    codes = gather(bands, plan)
    flat = codes if codes.shape[2] == 3 else np.repeat(codes, 3, axis=2)
    if codes.shape[2] == 1:
        icc = srgb().icc  # grey in three channels; its curve is sRGB's, or was converted to it
    exif, xmp = metadata.blocks_of(photo, plan)

    def encode() -> memoryview:
        held = io.BytesIO()
        Image.fromarray(flat).save(
            held,
            "WEBP",
            quality=plan.file.quality,
            lossless=plan.file.lossless,
            method=4,
            icc_profile=icc,
            exact=True,
            exif=exif,
            xmp=xmp,
        )
        return held.getbuffer()

    out.write(out.job.run_apart(encode))


def is_whole(file: BinaryIO, plan: PrintPlan) -> bool:
    """Return whether the chunks end at the length in the file's header."""
    end = file.seek(0, os.SEEK_END)
    file.seek(4)
    at = 12
    if struct.unpack("<I", file.read(4)) != (end - 8,):
        return False
    while at < end:
        file.seek(at + 4)
        (length,) = struct.unpack("<I", file.read(4))
        at += 8 + length + length % 2
    return at == end
