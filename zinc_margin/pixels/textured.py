"""Texture that a faithful enlargement lacks: like that of photographs, and made up.

A network is given the enlargement and a plane of noise, which hangs on the place alone; what it
gives has the energy of photographs in every octave, but nobody knows which leaf was where.
"""

from __future__ import annotations

from weakref import WeakKeyDictionary

import numpy as np

from zinc_margin.photo.pixels import Photo
from zinc_margin.photo.subject_found import faces_in
from zinc_margin.pixels import nets
from zinc_margin.pixels.source import Source
from zinc_margin.pixels.tiled import Tiled, coded, luma_of

_PAD = 24
_WINDOW = 9
_HARD, _HARDER = np.float32(0.35), np.float32(0.60)
"""Contrast about a place, 0 to 1: over the first less is made up, over the second nothing. Eyes,
mouths, lettering and hard edges have it, and show at once what is wrong with them."""
_ABOUT = 15
_CALM, _ROUGH = np.float32(1.5 / 255), np.float32(5 / 255)
"""Deviation about a place: under the first nothing is made up, over the second all. Skies stay."""
_IN_FACES = 0.15
"""What is made up of faces: everybody knows how they look."""
_FACES_SIDE = 256


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
    bare : ndarray (h, w), float32
        How much of that at every place of the set photo, however small it is drawn, 0 to 1.
    crispness : float
        As `Tiled` has it.
    """

    def __init__(
        self, parent: Source, share: float, level: int, bare: np.ndarray, crispness: float = 0.0
    ) -> None:
        super().__init__(parent, crispness)
        self._share, self._level, self._bare = np.float32(share), level, bare

    def _made(self, row: int, column: int) -> np.ndarray:
        planes = self.padded(row, column, _PAD)
        luma = luma_of(planes)
        high, wide = self.tile
        top, left = row * high, column * wide
        noise = noise_at(top - _PAD, left - _PAD, luma.shape, self._level)
        added = nets.texture(luma, noise) * taken(luma) * self._share
        inner = slice(_PAD, _PAD + high), slice(_PAD, _PAD + wide)
        return coded(planes[:, inner[0], inner[1]] + added[inner] * self._outside(top, left))

    def _outside(self, top: int, left: int) -> np.ndarray:
        """Return how much is made up in a tile for what lies there, (H, W)."""
        if self._bare.min() == 1:
            return np.ones((1, 1), np.float32)
        shares = []
        for first, count, length, size in (
            (top, self.tile[0], self.height, self._bare.shape[0]),
            (left, self.tile[1], self.width, self._bare.shape[1]),
        ):
            place = (np.arange(first, first + count) + 0.5) * size / length - 0.5
            place = np.clip(place, 0, size - 1)
            low = np.minimum(place.astype(np.intp), size - 2)
            shares.append((low, (place - low).astype(np.float32)))
        (y, down), (x, across) = shares
        rows = self._bare[y] + down[:, None] * (self._bare[y + 1] - self._bare[y])
        return np.asarray(rows[:, x] + across * (rows[:, x + 1] - rows[:, x]))


def taken(luma: np.ndarray) -> np.ndarray:
    """Return how much is made up at each place of a picture, (H, W), 0 to 1.

    Parameters
    ----------
    luma : ndarray (H, W), float32
        0 to 1.
    """
    from scipy import ndimage

    span = ndimage.maximum_filter(luma, _WINDOW) - ndimage.minimum_filter(luma, _WINDOW)
    hard = np.clip((_HARDER - span) / (_HARDER - _HARD), 0, 1)
    mean = ndimage.uniform_filter(luma.astype(np.float64), _ABOUT)
    square = ndimage.uniform_filter(luma.astype(np.float64) ** 2, _ABOUT)
    deviation = np.sqrt(np.maximum(square - mean**2, 0))
    rough = np.clip((deviation - _CALM) / (_ROUGH - _CALM), 0, 1)
    return np.asarray(ndimage.uniform_filter(hard, _WINDOW) * rough, np.float32)


_seen: WeakKeyDictionary[Photo, np.ndarray] = WeakKeyDictionary()


def without_faces(photo: Photo) -> np.ndarray:
    """Return how much may be made up at every place of an upright photo, drawn small, 0 to 1.

    Parameters
    ----------
    photo : Photo

    Returns
    -------
    ndarray (h, w), float32
    """
    known = _seen.get(photo)
    if known is None:
        known = _seen[photo] = _without(faces_in(photo.codes), photo.codes.shape[:2])
    return known


def _without(faces: list[tuple[float, float, float]], shape: tuple[int, ...]) -> np.ndarray:
    longer = max(shape)
    size = [max(2, round(_FACES_SIDE * side / longer)) for side in shape]
    bare = np.ones(size, np.float32)
    y, x = np.mgrid[: size[0], : size[1]] + 0.5
    for left, top, side in faces:
        middle, down = ((at + side / 2) * _FACES_SIDE for at in (left, top))
        # a face's box ends at chin and brow; hair around it may have its texture
        far = np.hypot((x - middle) / 0.9, (y - down) / 1.1) / (side * _FACES_SIDE)
        part = np.clip((far - 0.5) / 0.2, 0, 1)
        bare = np.minimum(bare, _IN_FACES + (1 - _IN_FACES) * part).astype(np.float32)
    return bare


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
