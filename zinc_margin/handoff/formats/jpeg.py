"""JPEG."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from zinc_margin.handoff import metadata
from zinc_margin.handoff.formats.bands import Bands, gathered
from zinc_margin.plan.model import Plan


def write(path: Path, bands: Bands, plan: Plan, icc: bytes, photo: Path) -> None:
    """Write a JPEG.

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
    data = jpeg_data(gathered(bands, plan), plan, icc)
    path.write_bytes(with_segments(data, metadata.segments(photo, plan)))


def with_segments(data: bytes, segments: bytes) -> bytes:
    """Return a JPEG with segments of metadata behind its first, which says that it is JFIF.

    Parameters
    ----------
    data : bytes
    segments : bytes
    """
    at = 4 + int.from_bytes(data[4:6], "big") if data[2:4] == b"\xff\xe0" else 2
    return data[:at] + segments + data[at:]


def jpeg_data(
    codes: np.ndarray, plan: Plan, icc: bytes, tables: list[list[int]] | None = None
) -> bytes:
    """Return a picture as JPEG, without the photo's metadata.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8
    plan : Plan
    icc : bytes
        An ICC profile.
    tables : list of two lists of 64, optional
        Quantisation tables in place of those of the plan's quality.
    """
    ink = codes.shape[2] == 4
    flat = codes if codes.shape[2] > 1 else codes[..., 0]
    picture = Image.fromarray(flat, "CMYK") if ink else Image.fromarray(flat)
    how: dict[str, Any] = {"quality": plan.file.quality} if tables is None else {"qtables": tables}
    if codes.shape[2] == 3:
        how["subsampling"] = {"full": 0, "half": 1, "quarter": 2}[plan.file.subsampling]
    if plan.file.progressive:
        how["progressive"] = True
    near = tuple(round(n / d) for n, d in (plan.page.tag_x, plan.page.tag_y))
    buffer = io.BytesIO()
    picture.save(
        buffer, "JPEG", optimize=False, icc_profile=icc,
        dpi=near if max(near) <= 65535 else None, **how,
    )  # fmt: skip
    return buffer.getvalue()
