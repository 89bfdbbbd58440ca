"""The bits needed to code a photo's pixels, measured on pieces of it.

Photographs differ tenfold in this, so the quality alone cannot predict a file's size.
"""

from __future__ import annotations

import io

import numpy as np
from PIL import Image

from zinc_margin.facts.measurements import Coded
from zinc_margin.photo.arrays import Codes

_SIDE, _MOST = 128, 48
"""Side of a piece, in pixels, and number of pieces."""
_LEVELS = 4
"""Full size and three halvings."""
QUALITY = 90
"""JPEG quality for coding the pieces."""
_HEAD = 620
"""Bytes of a small JPEG's header, to subtract from the file size."""


def coded_size(codes: Codes) -> Coded | None:
    """Return the bits needed at full size and smaller; None for very small photos.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8 or uint16
    """
    pieces = _pieces(codes)
    if pieces is None:
        return None
    lossy, packed = [], []
    for _ in range(_LEVELS):
        laid = _tile(np.rint(pieces).astype(np.uint8))
        count = pieces.shape[0] * pieces.shape[1] * pieces.shape[2]
        picture = Image.fromarray(laid if laid.shape[2] == 3 else laid[..., 0])
        lossy.append(round((_bytes(picture, "JPEG") - _HEAD) * 8 / count, 3))
        packed.append(round(_bytes(picture, "PNG") * 8 / (count * laid.shape[2]), 3))
        n, high, wide, planes = pieces.shape
        pieces = pieces.reshape(n, high // 2, 2, wide // 2, 2, planes).mean((2, 4))
    return Coded(tuple(lossy), tuple(packed))


def _pieces(codes: Codes) -> np.ndarray | None:
    """Return pieces (N, T, T, 1 or 3), float32 of 0 to 255, spread evenly over a photo."""
    height, width = codes.shape[:2]
    down, across = height // _SIDE, width // _SIDE
    count = down * across
    if not count:
        return None
    planes = 1 if codes.shape[2] < 3 else 3
    most = np.float32(255 / np.iinfo(codes.dtype).max)
    rows = []
    for index in np.unique(np.linspace(0, count - 1, min(count, _MOST)).astype(int)):
        top, left = (at * _SIDE for at in divmod(int(index), across))
        rows.append(codes[top : top + _SIDE, left : left + _SIDE, :planes])
    return np.stack(rows).astype(np.float32) * most


def _tile(pieces: np.ndarray) -> np.ndarray:
    """Tile pieces (N, T, T, C) into one picture; fill the rest with a plain tone."""
    across = int(np.ceil(np.sqrt(len(pieces))))
    down = -(-len(pieces) // across)
    side = pieces.shape[1]
    out = np.full((down * side, across * side, pieces.shape[3]), 128, np.uint8)
    for at, piece in enumerate(pieces):
        top, left = (place * side for place in divmod(at, across))
        out[top : top + side, left : left + side] = piece
    return out


def _bytes(picture: Image.Image, form: str) -> int:
    held = io.BytesIO()
    how = {"quality": QUALITY, "subsampling": 0} if form == "JPEG" else {}
    picture.save(held, form, **how)
    return held.tell()
