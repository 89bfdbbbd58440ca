"""Texture that a faithful enlargement lacks: like that of photographs, and made up.

Structure comes from the same picture at half its size (`own_texture`); a network says how much of
it belongs where, so that every octave has the energy of photographs. Nobody knows which leaf was
where.

References
----------
D. Chai, K. N. Ngan, "Face segmentation using skin-color map in videophone applications" (1999).
"""

from __future__ import annotations

from weakref import WeakKeyDictionary

import numpy as np

from zinc_margin.photo.pixels import Photo
from zinc_margin.photo.subject_found import faces_in
from zinc_margin.pixels import nets
from zinc_margin.pixels.own_texture import PAD, own_structure
from zinc_margin.pixels.source import Source
from zinc_margin.pixels.tiled import Tiled, coded, luma_of

_REACH = 24
"""Pixels that the network looks past its own place."""
_WINDOW = 9
_HARD, _HARDER = np.float32(0.35), np.float32(0.60)
"""Contrast about a place, 0 to 1: over the first less is made up, over the second nothing. Eyes,
mouths, lettering and hard edges have it, and show at once what is wrong with them."""
_ABOUT, _LEAST = 9, 7
_CALM, _ROUGH = np.float32(0.8 / 255), np.float32(3 / 255)
"""Deviation about a place, the least near by: under the first nothing is made up, over the second
all. Skies stay, up to the edge of a roof."""
WHOLE = 1.2
"""Of what the network says, at most: it would rather say too little. Twice as much has the energy
of photographs, but looks brushed."""
_IN_FACES = 0.15
"""What is made up of faces: everybody knows how they look."""
_FACES_SIDE = 256
_SKIN = 0.4
"""Of a face, at least."""


class Textured(Tiled):
    """A source with texture added.

    Parameters
    ----------
    parent : Source
        As it was enlarged.
    share : float
        Of what the network says.
    poor : bool
        Whether the octave under the finest is poor as well, as JPEG leaves it.
    bare : ndarray (h, w), float32
        How much of that at every place of the set photo, however small it is drawn, 0 to 1.
    crispness : float
        As `Tiled` has it.
    """

    largest = 512  # what lies around a tile is worked out as well

    def __init__(
        self, parent: Source, share: float, poor: bool, bare: np.ndarray, crispness: float = 0.0
    ) -> None:
        super().__init__(parent, crispness)
        self._share, self._poor, self._bare = np.float32(share), poor, bare

    def _made(self, row: int, column: int) -> np.ndarray:
        # twice as far for the next octave, which is looked for at half the size
        far = _REACH + (2 if self._poor else 1) * PAD
        planes = self.padded(row, column, far)
        luma = luma_of(planes)
        high, wide = self.tile
        top, left = row * high - _REACH, column * wide - _REACH
        edge = far - _REACH - PAD
        own = own_structure(luma[edge : len(luma) - edge, edge : luma.shape[1] - edge], top, left)
        coarse = np.zeros((own.shape[0] // 2, own.shape[1] // 2), np.float32)
        if self._poor:
            half = luma.reshape(luma.shape[0] // 2, 2, luma.shape[1] // 2, 2).mean((1, 3))
            coarse = own_structure(half, top // 2, left // 2)
        near = luma[far - _REACH : _REACH - far, far - _REACH : _REACH - far]
        added = nets.texture(near, own, coarse) * taken(near) * self._share
        added = added[_REACH:-_REACH, _REACH:-_REACH] * self._outside(row * high, column * wide)
        return coded(planes[:, far:-far, far:-far] + added)

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
    least = ndimage.minimum_filter(deviation, _LEAST)
    rough = ndimage.uniform_filter(np.clip((least - _CALM) / (_ROUGH - _CALM), 0, 1), _LEAST)
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
        codes = photo.codes
        faces = [face for face in faces_in(codes) if _is_skin(codes, *face)]
        known = _seen[photo] = _without(faces, codes.shape[:2])
    return known


def _is_skin(codes: np.ndarray, left: float, top: float, side: float) -> bool:
    """Tell whether what looks like a face has skin's colour: stone and leaves make faces, too."""
    if codes.shape[2] == 1:
        return True
    longer = max(codes.shape[:2])
    x, y, width = (round(part * longer) for part in (left, top, side))
    step = max(1, width // 64)
    part = codes[max(0, y) : y + width : step, max(0, x) : x + width : step].astype(np.float32)
    red, green, blue = np.moveaxis(part * np.float32(255 / np.iinfo(codes.dtype).max), 2, 0)
    reddish = 0.5 * red - 0.4187 * green - 0.0813 * blue
    bluish = 0.5 * blue - 0.1687 * red - 0.3313 * green
    skin = (reddish > 5) & (reddish < 45) & (bluish > -51) & (bluish < -1)
    return bool(skin.mean() > _SKIN)


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
