"""The loop that lays patches of a picture where it is most like them, compiled."""

from __future__ import annotations

import numpy as np
from numba import njit

from zinc_margin.pixels.lookup import F
from zinc_margin.pixels.own_texture import FAR, SIDE, STEP


@njit(cache=True, nogil=True, error_model="numpy")
def laid(here, there, strength, fine, window, first, out, sums):  # type: ignore[no-untyped-def]
    """Lay patches of `fine` (half the size) on `out`, where `there` is most like `here`.

    Every second place of a patch is compared: what is compared is smooth. `here` is as it lies at
    half the size; `there` is split into its even and its odd columns.

    Parameters
    ----------
    here, strength, fine : ndarray (H / 2, W / 2), float32
        The picture's middle octaves; what a patch of the half picture holds that begins at a place;
        its finest octave.
    there : ndarray (2, H / 2, W / 4), float32
        The half picture's middle octaves.
    window : ndarray (SIDE, SIDE), float32
    first : (int, int)
        Row and column of the first patch, even.
    out, sums : ndarray (H, W), float32
        Where patches are laid, and the squares of their weights.
    """
    height, width = out.shape
    rows, columns = fine.shape
    for y in range(first[0], height - SIDE + 1, STEP):
        for x in range(first[1], width - SIDE + 1, STEP):
            # the same place at half the size, and the patch about it
            v, u = (y + SIDE // 2) // 2 - SIDE // 2, (x + SIDE // 2) // 2 - SIDE // 2
            best, best_v, best_u = F(-1e30), -1, -1
            j, i = y // 2, x // 2
            for q in range(max(0, v - FAR), min(rows - SIDE, v + FAR) + 1):
                for p in range(max(0, u - FAR), min(columns - SIDE, u + FAR) + 1):
                    theirs = there[p % 2]
                    like = F(0)
                    for b in range(0, SIDE, 2):
                        ours, other = here[j + b // 2], theirs[q + b]
                        for a in range(SIDE // 2):
                            like += ours[np.uintp(i + a)] * other[np.uintp(p // 2 + a)]
                    like /= strength[q, p]
                    if like > best:
                        best, best_v, best_u = like, q, p
            if best_v < 0:
                continue
            for b in range(SIDE):
                for a in range(SIDE):
                    weight = window[b, a]
                    out[y + b, x + a] += weight * fine[best_v + b, best_u + a]
                    sums[y + b, x + a] += weight * weight
