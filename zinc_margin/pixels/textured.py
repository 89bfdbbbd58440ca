"""Texture that a faithful enlargement lacks: like that of photographs, and made up.

A network is given the enlargement and a plane of noise, which hangs on the place alone; what it
gives has the energy of photographs in every octave, but nobody knows which leaf was where.
"""

from __future__ import annotations

import numpy as np

from zinc_margin.pixels import nets
from zinc_margin.pixels.source import Source
from zinc_margin.pixels.tiled import Tiled, coded, luma_of

_PAD = 24
_WINDOW = 9
_HARD, _HARDER = np.float32(0.35), np.float32(0.60)
"""Contrast about a place, 0 to 1: over the first less is made up, over the second nothing. Eyes,
mouths, lettering and hard edges have it, and show at once what is wrong with them."""


class Textured(Tiled):
    """A source with texture added.

    Parameters
    ----------
    parent : Source
        As it was enlarged.
    share : float
        How much is added, 0 to 1.
    level : int
        How often it was made twice as large: each has noise of its own.
    crispness : float
        As `Tiled` has it.
    """

    def __init__(self, parent: Source, share: float, level: int, crispness: float = 0.0) -> None:
        super().__init__(parent, crispness)
        self._share, self._level = np.float32(share), level

    def _made(self, row: int, column: int) -> np.ndarray:
        planes = self.padded(row, column, _PAD)
        luma = luma_of(planes)
        high, wide = self.tile
        noise = noise_at(row * high - _PAD, column * wide - _PAD, luma.shape, self._level)
        added = nets.texture(luma, noise) * _held_back(luma) * self._share
        inner = slice(_PAD, _PAD + high), slice(_PAD, _PAD + wide)
        return coded(planes[:, inner[0], inner[1]] + added[inner])


def _held_back(luma: np.ndarray) -> np.ndarray:
    """Return how much may be made up at each place, 0 to 1."""
    from scipy import ndimage

    span = ndimage.maximum_filter(luma, _WINDOW) - ndimage.minimum_filter(luma, _WINDOW)
    part = np.clip((_HARDER - span) / (_HARDER - _HARD), 0, 1)
    return np.asarray(ndimage.uniform_filter(part, _WINDOW), np.float32)


def noise_at(top: int, left: int, shape: tuple[int, ...], level: int) -> np.ndarray:
    """Return noise of deviation 1 that hangs on the place alone, (H, W), float32.

    Parameters
    ----------
    top, left : int
        Of the first place; it may lie outside the picture.
    shape : (int, int)
    level : int
        Another one has other noise.

    References
    ----------
    Sums of uniform numbers; the mixing of integers is that of MurmurHash3's end (A. Appleby).
    """
    rows = (np.arange(top, top + shape[0]) & 0xFFFFFFFF).astype(np.uint32)[:, None]
    columns = (np.arange(left, left + shape[1]) & 0xFFFFFFFF).astype(np.uint32)[None, :]
    total = np.zeros(shape, np.float32)
    with np.errstate(over="ignore"):
        for part in range(4):
            key = np.uint32((0x9E3779B9 * (4 * level + part + 1)) & 0xFFFFFFFF)
            mixed = rows * np.uint32(0x85EBCA6B) ^ (columns + key) * np.uint32(0xC2B2AE35)
            for shift, factor in ((16, 0x85EBCA6B), (13, 0xC2B2AE35)):
                mixed = (mixed ^ (mixed >> np.uint32(shift))) * np.uint32(factor)
            mixed ^= mixed >> np.uint32(16)
            total += (mixed >> np.uint32(8)).astype(np.float32) * np.float32(2.0**-24)
    # four uniform numbers have a variance of a third
    return (total - np.float32(2)) * np.float32(3**0.5)
