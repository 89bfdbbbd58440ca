"""Texture for what enlarging leaves calm, out of the picture itself.

Photographs look alike at every scale: leaves of twice the distance are half as large. So the
structure that an enlargement lacks in its finest octave is looked for in the same picture at half
its size, whose finest octave is there: near the same place, where the next coarser octaves agree
most. Patches lie over each other softly, and what they make has the same strength everywhere.

References
----------
W. T. Freeman, T. R. Jones, E. C. Pasztor, "Example-based super-resolution" (2002); D. Glasner,
S. Bagon, M. Irani, "Super-resolution from a single image", ICCV (2009): patches of the picture
itself at another scale.
"""

from __future__ import annotations

import numpy as np

SIDE, STEP, FAR = 16, 8, 4
"""Of a patch, from one to the next, and how far is looked each way at half the size; in pixels."""
PAD = 48
"""Beyond what is asked: a patch, where it may come from, and the blurs."""
_FINE = 1.0
_MIDDLE = (1.2, 3.0)
"""Between these, in pixels of their own, picture and half picture are compared."""
_HARDLY = (0.5 / 255) ** 2
"""Energy of a band that nobody sees."""


def own_structure(plane: np.ndarray, top: int, left: int) -> np.ndarray:
    """Return structure for the finest octave of a plane, of deviation about 1.

    Parameters
    ----------
    plane : ndarray (H + 2 · PAD, W + 2 · PAD), float32
        Lightness, 0 to 1; H and W are even.
    top, left : int
        Of the first place without the pad, in the picture: even. Patches lie on one grid, so that
        the bits hang on the place alone.

    Returns
    -------
    ndarray (H, W), float32
    """
    from scipy.ndimage import gaussian_filter, uniform_filter

    from zinc_margin.pixels.patches import laid

    def band(of: np.ndarray, low: float, high: float) -> np.ndarray:
        near = gaussian_filter(of, low, truncate=3) if low else of
        return np.asarray(near - gaussian_filter(of, high, truncate=3))

    def levelled(of: np.ndarray, about: int) -> np.ndarray:
        energy = uniform_filter((of * of).astype(np.float64), about)
        return np.asarray(of / np.sqrt(energy + _HARDLY), np.float32)

    half = 0.25 * (plane[::2, ::2] + plane[1::2, ::2] + plane[::2, 1::2] + plane[1::2, 1::2])
    fine = levelled(band(half, 0, _FINE), 11)
    # the picture is compared at every second place: at half its size that is every one
    here = levelled(band(half, *(sigma / 2 for sigma in _MIDDLE)), 7)
    there = levelled(band(half, *_MIDDLE), 15)
    # how much a patch that begins at a place holds
    strength = uniform_filter(there * there, SIDE, origin=-SIDE // 2, mode="constant")
    strength = np.sqrt(np.maximum(strength, 0) + np.float32(1e-5))
    # every second column by itself, so that what is compared lies side by side
    there = np.stack([there[:, ::2], there[:, 1::2]])
    out = np.zeros(plane.shape, np.float32)
    sums = np.zeros(plane.shape, np.float32)
    ramp = np.sin(np.pi * (np.arange(SIDE, dtype=np.float32) + np.float32(0.5)) / SIDE)
    window = np.outer(ramp, ramp).astype(np.float32)
    first = tuple(int(-(at - PAD) % STEP) for at in (top, left))
    laid(here, there, strength, fine, window, first, out, sums)
    out /= np.sqrt(sums + np.float32(1e-6))
    out = band(out, 0, 1.6 * _FINE)
    energy = uniform_filter((out * out).astype(np.float64), 21)
    return np.asarray((out / np.sqrt(energy + 0.05))[PAD:-PAD, PAD:-PAD], np.float32)
