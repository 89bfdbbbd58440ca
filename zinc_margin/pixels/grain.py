"""Compiled grain, and the uniform position hash for grain and dither."""

from __future__ import annotations

import numpy as np
from numba import njit

from zinc_margin.pixels.lookup import ONE, ZERO, F

_HALF = F(0.5)
LOW32 = np.uint64(0xFFFFFFFF)
MIX = np.array([0x9E3779B1, 0x85EBCA77, 0xC2B2AE3D, 0x2C1B3C6D, 0x297A2D39], np.uint64)
"""Odd factors that mix the bits of a position; `coding` uses them for whole rows."""


@njit(inline="always", error_model="numpy")
def _noise(x, y, channel):  # type: ignore[no-untyped-def]
    """Return a uniform hash of a position, −0.5 … 0.5."""
    # Numba makes products of 32-bit numbers 64 bits wide, so truncate each.
    mixed = (
        np.uint64(x) * MIX[0] ^ np.uint64(y) * MIX[1] ^ np.uint64(channel + 1) * MIX[2]
    ) & LOW32
    mixed = ((mixed ^ (mixed >> np.uint64(15))) * MIX[3]) & LOW32
    mixed = ((mixed ^ (mixed >> np.uint64(12))) * MIX[4]) & LOW32
    mixed ^= mixed >> np.uint64(15)
    return F(mixed >> np.uint64(8)) / F(16777216) - _HALF


@njit(inline="always", error_model="numpy")
def _knot(i, j, layer):  # type: ignore[no-untyped-def]
    """Return a nearly normal deviate for a knot of the lattice: a sum of three uniform ones."""
    total = _noise(i, j, layer) + _noise(i, j, layer + 1) + _noise(i, j, layer + 2)
    return total * F(2)


@njit(inline="always", error_model="numpy")
def _lattice(x, y, spacing, layer):  # type: ignore[no-untyped-def]
    """Return smooth noise at a position: a quadratic B-spline through the nine knots around it."""
    u, v = x / spacing, y / spacing
    i, j = np.floor(u + 0.5), np.floor(v + 0.5)
    s, t = F(u - i), F(v - j)
    left, right = _HALF * (_HALF - s) * (_HALF - s), _HALF * (_HALF + s) * (_HALF + s)
    above, below = _HALF * (_HALF - t) * (_HALF - t), _HALF * (_HALF + t) * (_HALF + t)
    across = (left, ONE - left - right, right)
    down = (above, ONE - above - below, below)
    total = ZERO
    for b in range(3):
        for a in range(3):
            knot = _knot(np.int64(i) + a + 4096, np.int64(j) + b + 4096, layer)
            total += down[b] * across[a] * knot
    return total


@njit(cache=True, nogil=True, error_model="numpy")
def grain(light, apron, left, top, size, deviation, out):  # type: ignore[no-untyped-def]
    """Add grain to the change of L*, out (H, W), strongest in mid-tones.

    It depends on position alone: (left, top) is the place of `out` in the file. `size` is the
    diameter of a grain in pixels; grains smaller than a pixel are averaged and therefore fainter.

    Parameters
    ----------
    light : ndarray (H, W), float32
        Lightness, L*, with its apron.
    apron : int
        Extra pixels of the working values on each side.
    left, top : int
        In file pixels.
    deviation : float32
        Standard deviation of lightness in mid-tones, L*.
    out : ndarray, float32
        The result.
    """
    spacing = max(size / 2.0, 0.5)
    faint = min(1.0, size / 1.0)
    # The spline smooths its knots to a deviation of about 0.55; the two layers are offset.
    scale = deviation * F(faint / (0.553 * 1.4142))
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            tone = min(max(light[y + apron, x + apron] * F(0.01), ZERO), ONE)
            weight = F(4) * tone * (ONE - tone)
            u, v = left + x + 0.5, top + y + 0.5
            noise = _lattice(u, v, spacing, 11) + _lattice(
                u + spacing * 0.5, v + spacing * 0.5, spacing, 17
            )
            out[y, x] += weight * scale * noise
