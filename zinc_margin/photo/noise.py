"""A photo's noise, measured in its smoothest places.

References
----------
J. Immerkær, "Fast noise variance estimation", Computer Vision and Image Understanding 64 (1996):
the mask that leaves out flat tones, ramps and straight edges.
"""

from __future__ import annotations

import numpy as np

from zinc_margin.photo.sample import Sample

SIDE, MOST = 32, 2000
"""Side of a piece, and number of pieces: small and many, so some are smooth."""


def noise_of(pieces: Sample) -> tuple[float, tuple[int, int] | None]:
    """Return the standard deviation of the finest-grained noise, in L*, and a place that shows it.

    Only the smoothest fifth of the pieces counts, without nearly black or white ones, where
    clipping hides noise. The place is (x, y) of a piece with this noise.
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
