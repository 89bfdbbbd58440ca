"""Deflate strips of a TIFF that contain surplus rows: some writers pad the last strip."""

from __future__ import annotations

import zlib
from typing import TYPE_CHECKING

import imagecodecs
import numpy as np

from zinc_margin.photo.arrays import Codes

if TYPE_CHECKING:
    import tifffile

_DEFLATE = (8, 32946)
_DIFFERENCES = 2


def is_deflated(page: tifffile.TiffPage) -> bool:
    """Return whether a page has Deflate strips that `inflate` can read."""
    return int(page.compression) in _DEFLATE and not page.is_tiled and page.predictor in (1, 2)


def inflate(page: tifffile.TiffPage) -> Codes:
    """Return a page's samples, without surplus rows of a strip.

    Returns
    -------
    ndarray
        (H, W), (H, W, C), or (C, H, W) for separate channels.

    Raises
    ------
    ValueError
        If a strip is too short, or not Deflate.
    """
    dtype = page.dtype
    assert dtype is not None
    width, height = page.imagewidth, page.imagelength
    apart = int(page.planarconfig) == 2
    planes, samples = (page.samplesperpixel, 1) if apart else (1, page.samplesperpixel)
    rows = min(page.rowsperstrip or height, height)
    stored = dtype.newbyteorder(page.parent.byteorder)
    out = np.empty((planes, height, width, samples), dtype)
    strips = iter(zip(page.dataoffsets, page.databytecounts, strict=True))
    handle = page.parent.filehandle
    for plane in out:
        for top in range(0, height, rows):
            part = plane[top : top + rows]
            start, count = next(strips)
            handle.seek(start)
            try:
                raw = zlib.decompressobj().decompress(handle.read(count), part.nbytes)
            except zlib.error as why:
                raise ValueError(str(why)) from None
            if len(raw) < part.nbytes:
                raise ValueError("a strip ends early")
            values = np.frombuffer(raw, stored).astype(dtype).reshape(part.shape)
            if page.predictor == _DIFFERENCES:
                values = imagecodecs.delta_decode(values, axis=1)
            part[...] = values
    if apart:
        return out[..., 0]
    return out[0] if samples > 1 else out[0, ..., 0]
