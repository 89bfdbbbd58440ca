"""How finely a JPEG was coded: its quantisation against the one that the standard prints.

References
----------
.. [1] ITU-T T.81 (1992), table K.1: quantisation of luminance.
.. [2] Independent JPEG Group, libjpeg ``jcparam.c``: what a quality from 1 to 100 makes of it.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

_PRINTED = np.array([
    16, 11, 10, 16, 24, 40, 51, 61, 12, 12, 14, 19, 26, 58, 60, 55,
    14, 13, 16, 24, 40, 57, 69, 56, 14, 17, 22, 29, 51, 87, 80, 62,
    18, 22, 37, 56, 68, 109, 103, 77, 24, 35, 55, 64, 81, 104, 113, 92,
    49, 64, 78, 87, 103, 121, 120, 101, 72, 92, 95, 98, 112, 100, 103, 99,
], float)  # fmt: skip


def quality_of(table: Sequence[int]) -> int | None:
    """Return the quality, 1 to 100, whose quantisation of luminance is nearest.

    Parameters
    ----------
    table : sequence of 64 int
        Row by row, as Pillow gives it.

    Returns
    -------
    int or None
        None for what is no such table.
    """
    steps = np.array(table, float)
    if steps.shape != _PRINTED.shape or steps.min() < 1:
        return None
    # every coefficient counts the same, though a maker's table weighs them otherwise
    # (64 of them: NumPy's median would bring its masked arrays along)
    scale = 100 * float(np.sort(steps / _PRINTED, axis=None)[31:33].mean())
    quality = 100 - scale / 2 if scale <= 100 else 5000 / scale
    return max(1, round(quality))
