"""Compiled ranges of rows, and limits of resampled values."""

from __future__ import annotations

from numba import njit

from zinc_margin.pixels.lookup import ONE, ZERO, F


@njit(cache=True, nogil=True, error_model="numpy")
def range_of_four(low, high, a, b, c, d, e, f, g, h):  # type: ignore[no-untyped-def]
    """Write the minimum of four rows, and the maximum of four others.

    Parameters
    ----------
    low, high : ndarray (N,), float32
        The results.
    a, b, c, d : ndarray (N,), float32
        Rows for the minimum.
    e, f, g, h : ndarray (N,), float32
        Rows for the maximum.
    """
    for x in range(low.shape[0]):
        one = a[x] if a[x] < b[x] else b[x]
        two = c[x] if c[x] < d[x] else d[x]
        low[x] = one if one < two else two
        one = e[x] if e[x] > f[x] else f[x]
        two = g[x] if g[x] > h[x] else h[x]
        high[x] = one if one > two else two


@njit(cache=True, nogil=True, error_model="numpy")
def range_of_two(low, high, a, b, c, d):  # type: ignore[no-untyped-def]
    """Write the minimum of two rows, and the maximum of two others.

    Parameters
    ----------
    low, high : ndarray (N,), float32
        The results.
    a, b : ndarray (N,), float32
        Rows for the minimum.
    c, d : ndarray (N,), float32
        Rows for the maximum.
    """
    for x in range(low.shape[0]):
        low[x] = a[x] if a[x] < b[x] else b[x]
        high[x] = c[x] if c[x] > d[x] else d[x]


@njit(cache=True, nogil=True, error_model="numpy")
def wider(low, high, a, b):  # type: ignore[no-untyped-def]
    """Extend a range by another.

    Parameters
    ----------
    low, high : ndarray (N,), float32
        The range, changed in place.
    a, b : ndarray (N,), float32
        Minimum and maximum of the other range.
    """
    for x in range(low.shape[0]):
        low[x] = a[x] if a[x] < low[x] else low[x]
        high[x] = b[x] if b[x] > high[x] else high[x]


@njit(inline="always")
def hold_range(value, least, most):  # type: ignore[no-untyped-def]
    """Limit a resampled value softly to its neighbours' range.

    The excess is halved, and never exceeds a tenth of the range.

    Parameters
    ----------
    least : ndarray, float32
        Minimum of the neighbours.
    most : ndarray, float32
        Maximum of the neighbours.
    """
    room = (most - least) * F(0.1)
    inside = min(max(value, least), most)
    return inside + min(max((value - inside) * F(0.5), -room), room)


@njit(inline="always")
def steeper(value, least, most, steep):  # type: ignore[no-untyped-def]
    """Limit a value to its neighbours' range, and make the transition between two tones steeper.

    For lettering and drawings, whose edges stay sharp; nearly equal tones are not changed.

    Parameters
    ----------
    least : ndarray, float32
        Minimum of the neighbours.
    most : ndarray, float32
        Maximum of the neighbours.
    steep : float32
        Steepening of edges; 0 for none.
    """
    span = most - least
    inside = min(max(value, least), most)
    part = (inside - least) / (span + F(1e-6))
    sharper = min(max(F(0.5) + (part - F(0.5)) * (ONE + steep), ZERO), ONE)
    clear = min(max((span - F(0.06)) * F(8), ZERO), ONE)
    return inside + clear * span * (sharper - part)
