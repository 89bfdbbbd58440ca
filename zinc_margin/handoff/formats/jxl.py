"""Write and verify JPEG XL (ISO/IEC 18181), for screens."""

from __future__ import annotations

import os
import struct
from functools import partial
from pathlib import Path
from typing import Any, BinaryIO

import imagecodecs

from zinc_margin.handoff import metadata
from zinc_margin.handoff.formats.bands import Bands, gather
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.plan.model import PrintPlan


def write(out: Outgoing, bands: Bands, plan: PrintPlan, icc: bytes, photo: Path) -> None:
    """Write a JPEG XL.

    Parameters
    ----------
    bands : Bands
        (rows, W, C) each, from the top.
    """
    codes = gather(bands, plan)
    flat = codes if codes.shape[2] == 3 else codes[..., 0]
    how: dict[str, Any] = {"lossless": True} if plan.file.lossless else {"level": plan.file.quality}
    encode = partial(imagecodecs.jpegxl_encode, flat, usecontainer=True, numthreads=2, **how)
    stream = bytes(out.job.run_apart(encode))
    out.write(with_boxes(stream, *metadata.blocks_of(photo, plan)))


def is_whole(file: BinaryIO, plan: PrintPlan) -> bool:
    """Return whether the boxes lead to the end and include a codestream."""
    end, at, kinds = file.seek(0, os.SEEK_END), 0, set()
    while at < end:
        file.seek(at)
        length, kind = struct.unpack(">I4s", file.read(8))
        if length == 1:
            (length,) = struct.unpack(">Q", file.read(8))
        kinds.add(kind)
        at = end if length == 0 else at + max(8, length)
    return at == end and not kinds.isdisjoint((b"jxlc", b"jxlp"))


def with_boxes(stream: bytes, exif: bytes, xmp: bytes) -> bytes:
    """Return a JPEG XL file with EXIF and XMP boxes before its codestream (ISO/IEC 18181-2).

    Parameters
    ----------
    stream : bytes
        A JPEG XL file.
    exif, xmp : bytes
        May be empty.
    """
    at = 0
    while stream[at + 4 : at + 8] not in (b"jxlc", b"jxlp", b""):
        at += struct.unpack(">I", stream[at : at + 4])[0]
    result = b""
    for kind, data in ((b"Exif", b"\0\0\0\0" + exif if exif else b""), (b"xml ", xmp)):
        if data:
            result += struct.pack(">I", 8 + len(data)) + kind + data
    return stream[:at] + result + stream[at:]
