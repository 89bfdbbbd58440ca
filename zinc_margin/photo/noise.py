"""How noisy a photo is, told by its quietest places.

References
----------
J. Immerkær, "Fast noise variance estimation", Computer Vision and Image Understanding 64 (1996):
the mask that leaves out flat tones, ramps and straight edges.
"""

from __future__ import annotations

import numpy as np

from zinc_margin.photo.sample import Sample

SIDE, MOST = 32, 2000
"""The pieces that it wants: small, so some are quiet; many."""


def noise_of(pieces: Sample) -> tuple[float, tuple[int, int] | None]:
    """Return the standard deviation of the finest-grained noise in L*, and where it shows.

    It is that of the quietest fifth of the pieces that are neither nearly black nor nearly white
    (there, tones are cut off and noise hides). The place is (x, y) of a piece of that loudness.
    """
    tiles = pieces.tiles
    seen = tiles.mean(axis=(1, 2))
    masked = np.abs(np.diff(np.diff(tiles, 2, axis=1), 2, axis=2))
    sigma = np.sqrt(np.pi / 2) / 6 * masked.mean(axis=(1, 2), dtype=np.float64)
    usable = np.flatnonzero((seen > 4) & (seen < 97))
    if not len(usable):
        return 0.0, None
    result = float(np.quantile(sigma[usable], 0.2))
    top, left = pieces.places[usable[np.argmin(np.abs(sigma[usable] - result))]]
    return result, (int(left) + SIDE // 2, int(top) + SIDE // 2)
