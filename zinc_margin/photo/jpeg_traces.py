"""JPEG artefacts: steps on an 8-pixel grid that exceed the other steps.

References
----------
Z. Wang, A. C. Bovik and B. L. Evans, "Blind measurement of blocking artifacts in images",
Proc. IEEE ICIP (2000): the energy of differences on the 8-pixel grid against those next to it.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from zinc_margin.photo.sample import Sample

_GRID = 8
_MOST_STEP = 3.0
"""Larger steps, in L*, are real edges and would hide the grid."""


def blocks_of(pieces: Sample) -> tuple[float, tuple[int, int] | None, tuple[int, int] | None]:
    """Return by how much steps on the 8-pixel grid exceed the others, and the grid's origin.

    Every phase of the grid is tried, because a cropped JPEG keeps its blocks. Only the excess of a
    single phase counts, so a picture enlarged ×2 or ×4 is not mistaken for blocks.

    Returns
    -------
    excess : float
        The excess, in L*.
    place : (int, int) or None
        Place of the largest excess, x and y.
    grid : (int, int) or None
        First column and row at which a square begins, each 0 to 7.
    """
    if not len(pieces.tiles):
        return 0.0, None, None
    excess = np.zeros(len(pieces.tiles))
    result, grid = [], []
    for axis in (1, 2):
        steps = np.minimum(np.abs(np.diff(pieces.tiles, axis=axis)), _MOST_STEP)
        lines = steps.mean(axis=3 - axis)
        over = lines[:, 1:-1] - (lines[:, :-2] + lines[:, 2:]) / 2
        # line k of `over` is between pixels k + 1 and k + 2
        phase = (np.arange(over.shape[1]) + 2) % _GRID
        sums = np.stack([over[:, phase == one].mean(axis=1) for one in range(_GRID)], axis=1)
        whole = sums.mean(axis=0)
        first, second = np.sort(whole)[[-1, -2]]
        result.append(float(first - max(0.0, second)))
        grid.append(int(whole.argmax()))
        excess += sums[:, grid[-1]]
    top, left = pieces.places[int(excess.argmax())]
    place = int(left) + pieces.side // 2, int(top) + pieces.side // 2
    # The first axis holds the vertical steps.
    return max(0.0, sum(result) / 2), place, (grid[1], grid[0])


_PRINTED = np.array([
    16, 11, 10, 16, 24, 40, 51, 61, 12, 12, 14, 19, 26, 58, 60, 55,
    14, 13, 16, 24, 40, 57, 69, 56, 14, 17, 22, 29, 51, 87, 80, 62,
    18, 22, 37, 56, 68, 109, 103, 77, 24, 35, 55, 64, 81, 104, 113, 92,
    49, 64, 78, 87, 103, 121, 120, 101, 72, 92, 95, 98, 112, 100, 103, 99,
], float)  # fmt: skip


def quality_of(table: Sequence[int]) -> int | None:
    """Return the quality, 1 to 100, whose luminance quantisation table is closest.

    Parameters
    ----------
    table : sequence of 64 int
        Row by row, as in Pillow.

    Returns
    -------
    int or None
        None for an invalid table.
    """
    steps = np.array(table, float)
    if steps.shape != _PRINTED.shape or steps.min() < 1:
        return None
    # Every coefficient counts equally, although makers' tables weight them differently. Python's
    # median is enough for 64 values: NumPy's would import its masked arrays.
    scale = 100 * float(np.sort(steps / _PRINTED, axis=None)[31:33].mean())
    quality = 100 - scale / 2 if scale <= 100 else 5000 / scale
    return max(1, round(quality))
