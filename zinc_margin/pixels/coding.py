"""Compiled loops from working values to file samples and to the screen."""

from __future__ import annotations

import numpy as np
from numba import njit

from zinc_margin.pixels.grain import LOW32, MIX
from zinc_margin.pixels.lookup import ONE, ZERO, F, look, root

_HALF = F(0.5)


@njit(inline="always", error_model="numpy")
def _dither(values, left, y, channel):  # type: ignore[no-untyped-def]
    """Add the dither of `_noise` to a row that starts at (left, y), vectorised."""
    fixed = (np.uint64(y) * MIX[1] ^ np.uint64(channel + 1) * MIX[2]) & LOW32
    for x in range(values.shape[0]):
        mixed = (np.uint64(left + x) * MIX[0] & LOW32) ^ fixed
        mixed = ((mixed ^ (mixed >> np.uint64(15))) * MIX[3]) & LOW32
        mixed = ((mixed ^ (mixed >> np.uint64(12))) * MIX[4]) & LOW32
        mixed ^= mixed >> np.uint64(15)
        even = F(np.int32(mixed >> np.uint64(8))) / F(16777216)
        values[x] += F(0.98) * (even - _HALF)


@njit(cache=True, nogil=True, error_model="numpy")
def pack(planes, apron, final, left, top, most, out):  # type: ignore[no-untyped-def]
    """Round encoded planes (C, H + 2·apron, …) to samples (H, W, C); dither 8-bit ones.

    `final` is an empty (C, 0) array, or tables from working to stored values.

    Parameters
    ----------
    planes : ndarray (C, H, W), float32
        Working values, 0 to 1.
    apron : int
        Extra pixels on each side.
    final : ndarray (C, N, 2), float32
    left, top : int
        In file pixels.
    most : ndarray, float32
        Maximum of the neighbours.
    out : ndarray, float32
        The result.
    """
    tabled, dithered = final.shape[1] > 0, most == 255
    channels, width, high = planes.shape[0], out.shape[1], F(most)
    values = np.empty(width, np.float32)
    rows = np.empty((channels, width), np.int32)
    for y in range(out.shape[0]):
        for channel in range(channels):
            row = planes[channel, y + apron, apron : apron + width]
            line = rows[channel]
            if tabled:
                for x in range(width):
                    values[x] = look(final[channel], row[x]) * high + _HALF
            else:
                for x in range(width):
                    values[x] = row[x] * high + _HALF
            if dithered:
                _dither(values, left, top + y, channel)
            for x in range(width):
                line[x] = np.int32(min(max(values[x], ZERO), high))
        for channel in range(channels):
            line = rows[channel]
            for x in range(width):
                out[y, x, channel] = line[x]


@njit(cache=True, nogil=True, error_model="numpy")
def to_screen(codes, decode, matrix, encode, out):  # type: ignore[no-untyped-def]
    """Convert samples (H, W, C) to sRGB for the screen: out (H, W, 4) uint8, blue first.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8 or uint16
    decode : ndarray (C, N), float32
        Encoded to linear values, on an even grid.
    matrix : ndarray (3, C), float32
        Linear channels to XYZ.
    encode : ndarray (C, N, 2), float32
        Linear to encoded values.
    out : ndarray, float32
        The result.
    """
    grey = codes.shape[2] == 1
    for y in range(codes.shape[0]):
        for x in range(codes.shape[1]):
            r = decode[0, codes[y, x, 0]]
            g = r
            b = r
            if not grey:
                g = decode[1, codes[y, x, 1]]
                b = decode[2, codes[y, x, 2]]
            for channel in range(3):
                value = matrix[channel, 0] * r + matrix[channel, 1] * g + matrix[channel, 2] * b
                shown = look(encode, root(min(value, ONE))) * F(255) + _HALF
                out[y, x, 2 - channel] = np.uint8(shown)
            out[y, x, 3] = 255
