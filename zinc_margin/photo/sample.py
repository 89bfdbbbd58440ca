"""Square samples of a photo's lightness, spread evenly over it, for the detectors."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.colour import Colour

_STEPS = 65535


@dataclass(frozen=True, eq=False)
class Sample:
    """Square pieces of a photo.

    Attributes
    ----------
    tiles : ndarray (N, T, T), float32
        L*, 0–100.
    places : ndarray (N, 2), int
        Row and column of each piece's first pixel; multiples of T.
    """

    tiles: np.ndarray
    places: np.ndarray

    @property
    def side(self) -> int:
        """T, in pixels."""
        return int(self.tiles.shape[1])


def lightness(codes: Codes, colour: Colour) -> NDArray[np.float32]:
    """Return L* (0–100) of a block of pixels.

    Parameters
    ----------
    codes : ndarray (..., C), uint8 or uint16
    colour : Colour
        The samples' colour space.

    Returns
    -------
    ndarray (...), float32
    """
    top = int(np.iinfo(codes.dtype).max)
    grid = colour.decode.shape[1] - 1
    places = np.arange(top + 1) * grid // top
    light = np.zeros(codes.shape[:-1], np.float32)
    for channel in range(codes.shape[-1]):
        table = (colour.matrix[1, channel] * colour.decode[channel][places]).astype(np.float32)
        light += table[codes[..., channel]]
    np.clip(light, 0, 1, out=light)
    return _cube_table()[np.rint(light * _STEPS).astype(np.uint16)]


@cache
def _cube_table() -> np.ndarray:
    light = np.arange(_STEPS + 1) / _STEPS
    cube = np.where(light > (6 / 29) ** 3, np.cbrt(light), light / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.asarray(116 * cube - 16, np.float32)


def sample(codes: Codes, colour: Colour, side: int, most: int) -> Sample:
    """Return at most `most` pieces of side × side pixels, evenly spread.

    Parameters
    ----------
    codes : ndarray (H, W, C)
    colour : Colour
        The samples' colour space.
    side : int
        Side of a piece, in pixels.

    Returns
    -------
    Sample
        Empty if the photo is smaller than a piece.
    """
    height, width = codes.shape[:2]
    down, across = height // side, width // side
    count = down * across
    chosen = np.unique(np.linspace(0, max(0, count - 1), min(count, most)).astype(int))
    places = np.array([divmod(int(index), across) for index in chosen], int).reshape(-1, 2) * side
    return _take(codes, colour, side, places)


def overlapping(codes: Codes, colour: Colour, side: int, most: int) -> Sample:
    """Return pieces of side × side pixels that overlap by half and reach the photo's edges.

    Parameters
    ----------
    codes : ndarray (H, W, C)
    colour : Colour
        The samples' colour space.
    side : int
        Side of a piece, in pixels; smaller for a small photo.
    most : int
        The most pieces, evenly spread.

    Returns
    -------
    Sample
        Its places are at arbitrary pixels.
    """
    side = min(side, *codes.shape[:2])
    starts = [
        np.linspace(0, length - side, max(1, -(-2 * (length - side) // side) + 1)).astype(int)
        for length in codes.shape[:2]
    ]
    every = np.stack(np.meshgrid(*starts, indexing="ij"), axis=-1).reshape(-1, 2)
    chosen = np.unique(np.linspace(0, len(every) - 1, min(len(every), most)).astype(int))
    return _take(codes, colour, side, every[chosen])


def _take(codes: Codes, colour: Colour, side: int, places: np.ndarray) -> Sample:
    pieces = np.empty((len(places), side, side, codes.shape[2]), codes.dtype)
    for index, (top, left) in enumerate(places):
        pieces[index] = codes[top : top + side, left : left + side]
    return Sample(lightness(pieces, colour), places)
