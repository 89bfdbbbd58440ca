"""Write and verify JPEG."""

from __future__ import annotations

import io
import re
from functools import partial
from pathlib import Path
from typing import Any, BinaryIO

from PIL import Image

from zinc_margin.handoff import metadata
from zinc_margin.handoff.formats.bands import Bands, gather
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.photo.arrays import Codes
from zinc_margin.plan.model import PrintPlan

_AFTER_SCAN = re.compile(rb"\xff[^\x00\xd0-\xd7\xff]", re.DOTALL)
"""The next marker: not a byte of the scan or a restart (ISO/IEC 10918-1, B.1.1)."""


def write(out: Outgoing, bands: Bands, plan: PrintPlan, icc: bytes, photo: Path) -> None:
    """Write a JPEG.

    Parameters
    ----------
    bands : Bands
        (rows, W, C) each, from the top.
    """
    data = out.job.run_apart(partial(jpeg_data, gather(bands, plan), plan, icc))
    out.write(with_segments(data, metadata.segments(photo, plan)))


def is_whole(file: BinaryIO, plan: PrintPlan) -> bool:
    """Return whether segments and scans lead exactly to the end of the picture."""
    data, at = file.read(), 2
    while data[at : at + 2] != b"\xff\xd9":
        if data[at] != 0xFF:
            return False
        is_scan = data[at + 1] == 0xDA
        at += 2 + int.from_bytes(data[at + 2 : at + 4], "big")
        if is_scan:
            found = _AFTER_SCAN.search(data, at)
            if found is None:
                return False
            at = found.start()
    return at + 2 == len(data)


def with_segments(data: bytes, segments: bytes) -> bytes:
    """Return a JPEG with metadata segments inserted after its first, the JFIF header."""
    at = 4 + int.from_bytes(data[4:6], "big") if data[2:4] == b"\xff\xe0" else 2
    return data[:at] + segments + data[at:]


def jpeg_data(
    codes: Codes, plan: PrintPlan, icc: bytes, tables: list[list[int]] | None = None
) -> bytes:
    """Return a picture as JPEG, without the photo's metadata.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8
    tables : list of two lists of 64, optional
        Quantisation tables to use instead of those for the plan's quality.
    """
    ink = codes.shape[2] == 4
    flat = codes if codes.shape[2] > 1 else codes[..., 0]
    picture = Image.fromarray(flat, "CMYK") if ink else Image.fromarray(flat)
    how: dict[str, Any] = {"quality": plan.file.quality} if tables is None else {"qtables": tables}
    if codes.shape[2] == 3:
        how["subsampling"] = {"4:4:4": 0, "4:2:2": 1, "4:2:0": 2}[plan.file.subsampling]
    if plan.file.progressive:
        how["progressive"] = True
    near = tuple(round(n / d) for n, d in (plan.page.tag_x, plan.page.tag_y))
    buffer = io.BytesIO()
    picture.save(
        buffer,
        "JPEG",
        optimize=False,
        icc_profile=icc,
        dpi=near if max(near) <= 65535 else None,
        **how,
    )
    return buffer.getvalue()
