"""Pixels for a screen: the photo's own colours as sRGB."""

from __future__ import annotations

import numpy as np

from zinc_margin.photo.colour import Colour, srgb
from zinc_margin.pixels.tone_tables import make_tables


class Screen:
    """Shows codes of one colour space on an sRGB screen.

    Parameters
    ----------
    colour : Colour
    dtype : numpy dtype
        Of the codes that will be shown.
    """

    def __init__(self, colour: Colour, dtype: np.dtype) -> None:
        self._decode = make_tables(colour, dtype).linear
        self._encode = make_tables(srgb(), np.dtype(np.uint8)).encode[0]
        from_xyz = np.linalg.inv(srgb().matrix)
        matrix = from_xyz @ colour.matrix
        if colour.grey:
            matrix = np.repeat(matrix / 3, 3, axis=1)
        self._matrix = matrix.astype(np.float32)

    def show(self, codes: np.ndarray) -> np.ndarray:
        """Return codes (H, W, C) as (H, W, 4) uint8: blue, green, red, 255.

        Parameters
        ----------
        codes : ndarray
            (H, W, C), uint8 or uint16.
        """
        from zinc_margin.pixels.lightness import to_screen

        out = np.empty((*codes.shape[:2], 4), np.uint8)
        to_screen(np.ascontiguousarray(codes), self._decode, self._matrix, self._encode, out)
        return out


def thumbnail(codes: np.ndarray, longest: int) -> np.ndarray:
    """Reduce codes (H, W, C) by whole factors until no side passes `longest`: block means.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    longest : int
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
