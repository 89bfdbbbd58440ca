"""Write and verify TIFF, in strips, with tags and EXIF."""

from __future__ import annotations

import os
import struct
from collections.abc import Iterator
from pathlib import Path
from typing import Any, BinaryIO, cast

import imagecodecs
import numpy as np

from zinc_margin.handoff import metadata
from zinc_margin.handoff.formats.bands import Bands, in_order, strips
from zinc_margin.handoff.metadata import EXIF_IFD, GPS_IFD
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.photo.arrays import Codes
from zinc_margin.plan.model import PrintPlan

_BIG_TIFF_FROM = 4_000_000_000


_STRIP_BYTES = 1 << 20


def write(out: Outgoing, bands: Bands, plan: PrintPlan, icc: bytes, photo: Path) -> None:
    """Write a TIFF, strip by strip, with tags and directories.

    Parameters
    ----------
    bands : Bands
        (rows, W, C) each, from the top.
    """
    import tifffile

    width, height, channels = plan.page.width, plan.page.height, plan.file.channels
    dtype = np.uint8 if plan.file.bits == 8 else np.uint16
    total = width * height * channels * plan.file.bits // 8
    big = total > _BIG_TIFF_FROM
    own, directories = metadata.tiff_tags(photo, plan)
    extra: list[tuple[int, int, int, object, bool]] = [
        (tag.code, tag.kind, tag.count, tag.data, True) for tag in own if tag.code != 305
    ]
    # The library keeps pointers to itself, so write each under the code before its own.
    extra += [(code - 1, 16 if big else 4, 1, 0, True) for code in directories]
    row_bytes = width * channels * plan.file.bits // 8
    rows = max(1, min(height, _STRIP_BYTES // row_bytes))
    flat = bands if channels > 1 else (band[..., 0] for band in bands)
    with tifffile.TiffWriter(cast(BinaryIO, out), bigtiff=big, byteorder="<") as tiff:
        tiff.write(
            _segments(strips(flat, rows), plan),
            shape=(height, width, channels) if channels > 1 else (height, width),
            dtype=dtype,
            photometric={1: "minisblack", 3: "rgb", 4: "separated"}[channels],
            **_packing(plan),
            rowsperstrip=rows,
            resolution=(plan.page.tag_x, plan.page.tag_y),
            resolutionunit=2,
            iccprofile=icc,
            metadata=None,
            software=f"Zinc Margin {metadata.__version__}",
            extratags=extra,
        )
    if directories:
        _append_directories(out, directories, big)


_TIFF_PACKING = {"deflate": "adobe_deflate", "lzw": "lzw", "zstd": "zstd"}


def _packing(plan: PrintPlan) -> dict[str, Any]:
    compression = plan.file.compression
    if compression == "none":
        return {}
    # Store rows as differences of neighbours: photographs compress a third better.
    return {"compression": _TIFF_PACKING[compression], "predictor": True}


def _segments(strips: Bands, plan: PrintPlan) -> Iterator[Codes] | Iterator[bytes]:
    """Compress strips as the plan says, by two threads; pass uncompressed ones through."""
    compression = plan.file.compression
    if compression == "none":
        return strips
    pack = {
        "deflate": lambda data: imagecodecs.zlib_encode(data, level=6),
        "lzw": imagecodecs.lzw_encode,
        "zstd": lambda data: imagecodecs.zstd_encode(data, level=9),
    }[compression]
    return in_order(
        lambda strip: bytes(pack(imagecodecs.delta_encode(strip, axis=1).tobytes())), strips
    )


def _append_directories(
    out: Outgoing, directories: dict[int, list[metadata.Tag]], big: bool
) -> None:
    import tifffile

    out.seek(0)
    with tifffile.TiffFile(cast(BinaryIO, out)) as tiff:
        tags = tiff.pages[0].tags  # type: ignore[union-attr]
        places = {code: (tags[code - 1].offset, tags[code - 1].valueoffset) for code in directories}
    for code in (EXIF_IFD, GPS_IFD):
        if code in directories:
            start = out.seek(0, os.SEEK_END)
            if start % 2:
                start += out.write(b"\0")
            out.write(metadata.pack_directory(directories[code], start, big))
            entry, value = places[code]
            out.seek(entry)
            out.write(struct.pack("<H", code))
            out.seek(value)
            out.write(struct.pack("<Q" if big else "<I", start))


def is_whole(file: BinaryIO, plan: PrintPlan) -> bool:
    """Return whether the directory and all strips are inside the file."""
    import tifffile

    end = file.seek(0, os.SEEK_END)
    file.seek(0)
    with tifffile.TiffFile(file) as tiff:
        if len(tiff.pages) != 1:
            return False
        page = tiff.pages.first
        strips = list(zip(page.dataoffsets, page.databytecounts, strict=True))
        return (
            (page.imagewidth, page.imagelength) == (plan.page.width, plan.page.height)
            and len(strips) == -(-page.imagelength // page.rowsperstrip)
            and all(at > 0 and length and at + length <= end for at, length in strips)
        )
