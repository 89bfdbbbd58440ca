"""AVIF (AV1 Image File Format) of more than 8 bits, which Pillow would reduce to 8."""

from __future__ import annotations

from pathlib import Path

import imagecodecs
import numpy as np
from numpy.typing import NDArray

_HEAD = 1 << 18
"""Bytes at the start of a file that are searched for boxes."""
_HIGH, _TWELVE = 0x40, 0x20


def depth(path: Path) -> int:
    """Return the bits per sample, 8, 10 or 12, from the ``av1C`` box."""
    with path.open("rb") as file:
        head = file.read(_HEAD)
    at = head.find(b"av1C")
    flags = head[at + 6] if 0 <= at < len(head) - 6 else 0
    if not flags & _HIGH:
        return 8
    return 12 if flags & _TWELVE else 10


def decode(path: Path, channels: int) -> NDArray[np.uint16]:
    """Return the samples of a deep file, (H, W, C), uint16, in the file's bit depth.

    Parameters
    ----------
    channels : int
        Channels of the picture including alpha.
    """
    codes = np.asarray(imagecodecs.avif_decode(path.read_bytes()))
    if codes.ndim == 4:  # of several pictures, use the first
        codes = codes[0]
    if codes.ndim == 2:
        codes = codes[..., None]
    if codes.shape[2] < channels:  # grey, possibly with alpha
        codes = codes[..., [0, 0, 0, codes.shape[2] - 1][:channels]]
    return codes
