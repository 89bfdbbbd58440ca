"""How noisy a photo is, told by its quietest places.

References
----------
J. Immerkær, "Fast noise variance estimation", Computer Vision and Image Understanding 64 (1996):
the mask that leaves out flat tones, ramps and straight edges.
"""

from __future__ import annotations

import numpy as np

from .colour import Colour
from .facts import Measured

_TILE = 32
_MOST_TILES = 2000


def lightness(codes: np.ndarray, colour: Colour) -> np.ndarray:
    """Return L* (0–100) of a small block of pixels.

    Parameters
    ----------
    codes : ndarray (..., C), uint8 or uint16
    """
    top = np.iinfo(codes.dtype).max
    places = codes.astype(np.int64) * (colour.decode.shape[1] - 1) // top
    light = np.zeros(codes.shape[:-1], np.float64)
    for channel in range(codes.shape[-1]):
        light += colour.matrix[1, channel] * colour.decode[channel][places[..., channel]]
    cube = np.where(light > (6 / 29) ** 3, np.cbrt(light), light / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.asarray(116 * cube - 16)


def measure(codes: np.ndarray, colour: Colour) -> Measured:
    """Measure a photo's noise on tiles spread evenly over it.

    Parameters
    ----------
    codes : ndarray (H, W, C)

    Returns
    -------
    Measured
        The standard deviation is that of the quietest fifth of the tiles that are neither nearly
        black nor nearly white (there, tones are cut off and noise hides).
    """
    height, width = codes.shape[:2]
    if height < _TILE or width < _TILE:
        return Measured(0.0)
    across = np.arange(0, width - _TILE + 1, _TILE)
    down = np.arange(0, height - _TILE + 1, _TILE)
    thin = max(1, int(np.ceil(np.sqrt(len(across) * len(down) / _MOST_TILES))))
    deviations = []
    for top in down[::thin]:
        row = lightness(codes[top : top + _TILE], colour)
        tiles = np.stack([row[:, left : left + _TILE] for left in across[::thin]])
        seen = tiles.mean(axis=(1, 2))
        down2 = np.diff(tiles, 2, axis=1)
        masked = np.abs(np.diff(down2, 2, axis=2))
        sigma = np.sqrt(np.pi / 2) / 6 * masked.mean(axis=(1, 2))
        deviations.append(sigma[(seen > 4) & (seen < 97)])
    found = np.concatenate(deviations)
    if not len(found):
        return Measured(0.0)
    return Measured(float(np.quantile(found, 0.2)))
