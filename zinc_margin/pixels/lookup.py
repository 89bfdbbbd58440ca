"""Looking values up in tables, inside the compiled loops.

Every output value is worked out by the same operations in the same order wherever its tile
begins or ends, so that bands, regions and threads cannot change a bit. (No fast-math, and no
library calls whose vector and scalar forms differ in the last place.)
"""

from __future__ import annotations

import numpy as np
from numba import njit

F = np.float32
STEPS = 1024
"""Even steps of every lookup table; values between two are interpolated.

What is compiled of the loops is kept beside them and knows this number: after a
change here their kept files (``*.nbi``) have to go.
"""

ZERO = F(0)
ONE = F(1)
_STEPS = F(STEPS)
_NEXT = np.uintp(1)


@njit(inline="always")
def look_inside(table, value):  # type: ignore[no-untyped-def]
    """Interpolate a table at a value that is known to lie from 0 to 1."""
    place = value * _STEPS
    whole = np.int32(place)
    index = np.uintp(whole)  # unsigned: no look for an index counted from the end
    # the tables carry one entry beyond 1, so that 1 itself needs no case of its own
    low = table[index]
    return low + (place - F(whole)) * (table[index + _NEXT] - low)


@njit(inline="always")
def look(table, value):  # type: ignore[no-untyped-def]
    """Interpolate a table over 0–1."""
    return look_inside(table, min(max(value, ZERO), ONE))


@njit(inline="always")
def root(value):  # type: ignore[no-untyped-def]
    """Return the fourth root: the place in a table of encoded values."""
    return np.sqrt(np.sqrt(max(value, ZERO)))
