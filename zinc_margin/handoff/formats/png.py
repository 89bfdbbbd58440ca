"""Write and verify PNG, row by row: no available library streams 16-bit colour."""

from __future__ import annotations

import os
import struct
import zlib
from pathlib import Path
from typing import BinaryIO

from zinc_margin.handoff import metadata
from zinc_margin.handoff.formats.bands import Bands, pack
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.plan.model import PrintPlan


def write(out: Outgoing, bands: Bands, plan: PrintPlan, icc: bytes, photo: Path) -> None:
    """Stream a PNG.

    Parameters
    ----------
    bands : Bands
        (rows, W, C) each, from the top.
    """
    width, height, channels = plan.page.width, plan.page.height, plan.file.channels

    def chunk(kind: bytes, data: bytes) -> None:
        out.write(struct.pack(">I", len(data)) + kind + data)
        out.write(struct.pack(">I", zlib.crc32(kind + data)))

    out.write(b"\x89PNG\r\n\x1a\n")
    colour_type = 2 if channels == 3 else 0
    chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, plan.file.bits, colour_type, 0, 0, 0))
    out.write(metadata.chunks(photo, plan))
    chunk(b"iCCP", b"photo\0\0" + zlib.compress(icc, 9))
    across = metadata.per_metre(plan.page.tag_x)
    down = metadata.per_metre(plan.page.tag_y)
    chunk(b"pHYs", struct.pack(">IIB", across, down, 1))
    for packed in pack(bands):
        chunk(b"IDAT", packed)
    chunk(b"IEND", b"")


def is_whole(file: BinaryIO, plan: PrintPlan) -> bool:
    """Return whether the chunks lead exactly to the last one."""
    end, at, kind = file.seek(0, os.SEEK_END), 8, b""
    while at < end and kind != b"IEND":
        file.seek(at)
        length, kind = struct.unpack(">I4s", file.read(8))
        at += length + 12
    return kind == b"IEND" and at == end
