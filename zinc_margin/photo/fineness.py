"""How fine a photo's detail is at its own pixels, against detail twice as coarse."""

from __future__ import annotations

import numpy as np

from zinc_margin.photo.sample import Sample

_BUSY = 0.15
"""The share of a photo that is looked at: where most is going on."""
_FEWEST = 2000
_AROUND = 16
"""Pixels each way over which a place's power is taken."""
_FINEST = 0.9


def fineness_of(pieces: Sample) -> float | None:
    """Return the power of curvature over one pixel ÷ that over two, where the photo is finest.

    Of the places where most is going on, the finest tenth counts: much of a photo is out of focus
    as a rule, which tells nothing of its pixels. About 0.3 for a picture that was reduced and is
    sharp at its pixels, 0.2 and less for one that was smeared over them.

    Returns
    -------
    float or None
        None where nothing is going on.
    """
    from scipy import ndimage

    if not len(pieces.tiles):
        return None
    rows = []
    for axis in (1, 2):
        z = np.moveaxis(pieces.tiles, axis, 0)
        one = z[1:-3] - 2 * z[2:-2] + z[3:-1]
        two = z[:-4] - 2 * z[2:-2] + z[4:]
        near, far = (
            ndimage.uniform_filter(np.moveaxis(each**2, 0, axis), (0, _AROUND, _AROUND))
            for each in (one, two)
        )
        busy = far > np.quantile(far, 1 - _BUSY)
        if busy.sum() < _FEWEST or far[busy].mean() < 0.5:
            return None
        rows.append(near[busy] / far[busy])
    return float(np.quantile(np.concatenate(rows), _FINEST))
