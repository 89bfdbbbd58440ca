"""Convert a photo's colours to sRGB for the screen."""

from __future__ import annotations

import sys

import numpy as np
from numpy.typing import NDArray

from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.colour import Colour, srgb
from zinc_margin.pixels import loop_cache
from zinc_margin.pixels.tone_tables import STEPS, make_tables

_SMALL, _ROWS = 12_000_000, 64
"""Up to this many samples, show a picture without compiled loops; rows per step that fit in the
cache.
"""


class Screen:
    """Converts samples of one colour space for an sRGB screen.

    Parameters
    ----------
    dtype : numpy dtype
        Type of the samples to show.
    """

    def __init__(self, colour: Colour, dtype: np.dtype) -> None:
        self._decode = make_tables(colour, dtype).linear
        self._encode = make_tables(srgb(), np.dtype(np.uint8)).encode[0]
        from_xyz = np.linalg.inv(srgb().matrix)
        matrix = from_xyz @ colour.matrix
        if colour.grey:
            matrix = np.repeat(matrix / 3, 3, axis=1)
        self._matrix = matrix.astype(np.float32)

    def show(self, codes: Codes) -> NDArray[np.uint8]:
        """Return samples (H, W, C) as (H, W, 4) uint8: blue, green, red, 255.

        Parameters
        ----------
        codes : ndarray
            (H, W, C), uint8 or uint16.
        """
        out = np.empty((*codes.shape[:2], 4), np.uint8)
        loaded = "zinc_margin.pixels.coding" in sys.modules
        if not loaded and (codes.size < _SMALL or not loop_cache.is_ready()):
            self._show_plainly(codes, out)
            return out
        from zinc_margin.pixels.coding import to_screen

        to_screen(np.ascontiguousarray(codes), self._decode, self._matrix, self._encode, out)
        return out

    def _show_plainly(self, codes: Codes, out: Codes) -> None:
        """Do the same without a compiled loop, which would have to be loaded or even compiled."""
        for top in range(0, len(codes), _ROWS):
            part = codes[top : top + _ROWS]
            places = [min(channel, codes.shape[2] - 1) for channel in range(3)]
            red, green, blue = (self._decode[at][part[..., at]] for at in places)
            for channel, own in enumerate(self._matrix):
                value = own[0] * red + own[1] * green + own[2] * blue
                place = np.sqrt(np.sqrt(np.clip(value, 0, 1))) * np.float32(STEPS)
                line = self._encode[place.astype(np.intp)]
                shown = line[..., 0] + place * line[..., 1]
                out[top : top + _ROWS, :, 2 - channel] = shown * np.float32(255) + np.float32(0.5)
        out[..., 3] = 255


def thumbnail(codes: Codes, longest: int) -> np.ndarray:
    """Reduce samples (H, W, C) by block means until no side exceeds `longest`.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    """
    factor = max(1, -(-max(codes.shape[:2]) // longest))
    if factor == 1:
        return codes
    height, width = codes.shape[0] // factor, codes.shape[1] // factor
    if height == 0 or width == 0:
        step_y, step_x = max(1, codes.shape[0] // longest), max(1, codes.shape[1] // longest)
        return np.ascontiguousarray(codes[::step_y, ::step_x])
    out = np.empty((height, width, codes.shape[2]), codes.dtype)
    for row in range(height):
        strip = codes[row * factor : (row + 1) * factor, : width * factor]
        sums = strip.sum(axis=0, dtype=np.uint32).reshape(width, factor, -1).sum(axis=1)
        out[row] = (sums + factor * factor // 2) // (factor * factor)
    return out
