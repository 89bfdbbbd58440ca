"""Table lookups for the compiled loops.

Every output value is computed by the same operations in the same order wherever its tile begins or
ends, so bands, regions and threads cannot change a bit. (No fast-math, and no library calls whose
vector and scalar versions differ in the last place.)
"""

from __future__ import annotations

import numpy as np
from numba import njit

from zinc_margin.pixels.cache_guard import guard
from zinc_margin.pixels.tone_tables import STEPS

guard()

F = np.float32
ZERO = F(0)
ONE = F(1)
_STEPS = F(STEPS)


@njit(inline="always")
def look_inside(table, value):  # type: ignore[no-untyped-def]
    """Interpolate a table at a value known to be 0 to 1.

    Each entry stores a line's start and slope, which takes one memory access and one product;
    `tone_tables` builds them.

    Parameters
    ----------
    table : ndarray, float32
        Values on an even grid.
    """
    place = value * _STEPS
    index = np.uintp(np.int32(place))  # unsigned: skips the check for negative indices
    return table[index, 0] + place * table[index, 1]


@njit(inline="always")
def look(table, value):  # type: ignore[no-untyped-def]
    """Interpolate a table over 0–1.

    Parameters
    ----------
    table : ndarray, float32
        Values on an even grid.
    """
    return look_inside(table, min(max(value, ZERO), ONE))


@njit(inline="always")
def root(value):  # type: ignore[no-untyped-def]
    """Return the fourth root: the position in a table of encoded values."""
    return np.sqrt(np.sqrt(max(value, ZERO)))


@njit(inline="always")
def copy(goal, source):  # type: ignore[no-untyped-def]
    """Copy a row to another of the same length; a slice assignment takes seconds longer to compile.

    Parameters
    ----------
    goal, source : ndarray (N,)
    """
    for x in range(goal.shape[0]):
        goal[x] = source[x]


@njit(cache=True, nogil=True, error_model="numpy")
def apply_curve(values, numbers, table, out):  # type: ignore[no-untyped-def]
    """Apply a tone curve to a row of values, 0 to 1: its bend, or its table.

    Parameters
    ----------
    values : ndarray (N,), float32
    numbers : ndarray (19,) or (0,), float32
        See `bends`; if empty, the table is used.
    table : ndarray (STEPS + 1, 2), float32
    out : ndarray (N,), float32
        The result; it must not be `values`, because that would prevent vectorisation.
    """
    if numbers.shape[0] == 0:
        for n in range(values.shape[0]):
            out[n] = look(table, values[n])
        return
    split, below, above = numbers[0], numbers[1], numbers[10]
    a, b, c, d = numbers[2], numbers[3], numbers[4], numbers[5]
    e, f, g, h = numbers[6], numbers[7], numbers[8], numbers[9]
    i, j, k, l = numbers[11], numbers[12], numbers[13], numbers[14]  # noqa: E741
    o, p, q, r = numbers[15], numbers[16], numbers[17], numbers[18]
    for n in range(values.shape[0]):
        upper = values[n] > split
        s = values[n] - (above if upper else below)
        two = s * s
        low = (i if upper else a) + (j if upper else b) * s
        low += ((k if upper else c) + (l if upper else d) * s) * two
        high = (o if upper else e) + (p if upper else f) * s
        high += ((q if upper else g) + (r if upper else h) * s) * two
        out[n] = low + high * (two * two)
