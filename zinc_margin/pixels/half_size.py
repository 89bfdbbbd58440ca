"""The broad blur at half size: a quarter of the samples, and smooth when enlarged again.

Pairs of rows and columns are counted from the file's corner, so tiles agree exactly. Halving and
enlarging blur too (the knots of a cubic B-spline, and linear interpolation: three quarters of a
pixel squared each), so the Gaussian between them is narrower.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from zinc_margin.pixels.edges import blur_across, down_rows
from zinc_margin.pixels.lookup import F

_NEAR, _FAR = F(0.75), F(0.25)


def halves_of(count: int, first: int) -> int:
    """Return the number of rows, or columns, after halving: four go into each, in steps of two.

    Parameters
    ----------
    count : int
        Number of rows or columns.
    first : int
        The first one used: 0 or 1.
    """
    return max((count - first) // 2 - 1, 0)


@njit(cache=True, nogil=True, error_model="numpy")
def _halve_row(line, rows, at, first):  # type: ignore[no-untyped-def]
    """Write every second sample of a row, from four rows starting at `at` and four columns each."""
    a, b, c, d = rows[at], rows[at + 1], rows[at + 2], rows[at + 3]
    mixed = np.empty(a.shape[0], np.float32)
    for x in range(mixed.shape[0]):
        mixed[x] = (a[x] + d[x] + F(3) * (b[x] + c[x])) * F(1 / 64)
    for j in range(line.shape[0]):
        at = np.uintp(first + 2 * j)
        middle = mixed[at + np.uintp(1)] + mixed[at + np.uintp(2)]
        line[j] = mixed[at] + mixed[at + np.uintp(3)] + F(3) * middle


@njit(cache=True, nogil=True, error_model="numpy")
def halve_across(plane, rows, corner, weights, half, out):  # type: ignore[no-untyped-def]
    """Halve rows of a plane, and blur them horizontally.

    Parameters
    ----------
    plane : ndarray (H, W), float32
    rows : (int, int)
        First row of the half to compute, and one past the last.
    corner : (int, int)
        Row and column of the plane at which the half's first sample starts: 0 or 1.
    weights : ndarray (N,), float32
        From the centre outwards.
    half : ndarray (K, J), float32
    out : ndarray (K, J - 2 (N - 1)), float32
        The result.
    """
    for k in range(rows[0], rows[1]):
        _halve_row(half[k], plane, corner[0] + 2 * k, corner[1])
    blur_across(half, rows, weights.shape[0] - 1, weights, out)


@njit(cache=True, nogil=True, error_model="numpy")
def _widen_row(line, row, first):  # type: ignore[no-untyped-def]
    """Write a row at twice its size by linear interpolation, starting at `first`."""
    for m in range(line.shape[0] // 2):
        at = np.uintp(first + m)
        here = row[at] * _NEAR
        line[2 * m] = here + row[at - np.uintp(1)] * _FAR
        line[2 * m + 1] = here + row[at + np.uintp(1)] * _FAR


@njit(cache=True, nogil=True, error_model="numpy")
def double_down(half, top, apron, corner, weights, out):  # type: ignore[no-untyped-def]
    """Blur the result of `halve_across` vertically, and enlarge it to full size.

    Parameters
    ----------
    half : ndarray (K, J), float32
    top, apron : int
        First row and column of the result in the full plane.
    corner : (int, int)
        As in `halve_across`.
    weights : ndarray (N,), float32
        From the centre outwards.
    out : ndarray (M, W), float32
        The result.
    """
    height, width = out.shape
    # A pair is centred on the four samples that it came from.
    row, column = top - corner[0] - 1, apron - corner[1] - 1
    first = row // 2 - 1
    count = (row + height - 1) // 2 + 2 - first
    side = column % 2
    wide = np.empty((count, (width + side + 1) // 2 * 2), np.float32)
    line = np.empty(half.shape[1], np.float32)
    for k in range(count):
        down_rows(line, half, first + k, weights)
        _widen_row(wide[k], line, column // 2 - (weights.shape[0] - 1))
    for y in range(height):
        at = (row + y) // 2 - first
        other = at - 1 if (row + y) % 2 == 0 else at + 1
        near, far = wide[at, side : side + width], wide[other, side : side + width]
        goal = out[y]
        for x in range(width):
            goal[x] = near[x] * _NEAR + far[x] * _FAR
