"""Tone curves as two joined polynomials, which vectorise; table lookups do not.

Each half is fitted at Chebyshev nodes, within a few per cent of the best polynomial of its degree;
the joint is found by search. Curves of photographs' profiles (powers, with and without a linear
start, and L*) are matched to 0.02 L*; other curves, such as a screen's measured one, stay tables.

References
----------
L. N. Trefethen, "Approximation Theory and Approximation Practice" (2013), chapters 3 and 4.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

DEGREE = 7  # keeps lightness within 0.02 L* for photographs' tone curves
NUMBERS = 1 + 2 * (DEGREE + 2)
"""Numbers of a bend: the joint, then for each half its centre and its coefficients."""
_NODES = 48  # enough for least squares at this degree
_NEAR = 2e-5
"""Tolerance in linear light; in the shadows, where the eye is most sensitive, it is 0.018 L*."""
_NEAR_CODES = 3e-5
"""Tolerance of encoded values, unless the tolerance in linear light is larger."""
_ANGLES = (np.arange(_NODES) + 0.5) * np.pi / _NODES
_ORDERS = np.arange(DEGREE + 1)
_TO_CHEBYSHEV = np.cos(_ORDERS[:, None] * _ANGLES) * 2 / _NODES
_TO_CHEBYSHEV[0] /= 2
_TO_POWERS = np.eye(DEGREE + 1)
for _order in range(2, DEGREE + 1):  # each polynomial follows from the previous two
    _TO_POWERS[:, _order] = 2 * np.roll(_TO_POWERS[:, _order - 1], 1) - _TO_POWERS[:, _order - 2]
_FIT = _TO_POWERS @ _TO_CHEBYSHEV
_GRID = np.linspace(0, 1, 1025)


def decoding(curve: np.ndarray) -> NDArray[np.float32]:
    """Return the bend of a tone curve.

    Parameters
    ----------
    curve : ndarray (N,)
        Linear values on an even grid of encoded ones.

    Returns
    -------
    ndarray (NUMBERS,) or (0,), float32
        Empty if two polynomials cannot match the curve.
    """
    return _bend(np.linspace(0, 1, len(curve)), curve, np.full_like(_GRID, _NEAR))


def encoding(curve: np.ndarray) -> NDArray[np.float32]:
    """Return the bend of a tone curve's inverse, over fourth roots of linear light.

    Parameters
    ----------
    curve : ndarray (N,)
        Linear values on an even grid of encoded ones, non-decreasing.

    Returns
    -------
    ndarray (NUMBERS,) or (0,), float32
    """
    linear, codes = rising(curve), np.linspace(0, 1, len(curve))
    light = _GRID**4
    rise = np.interp(light + 1e-4, linear, codes) - np.interp(light - 1e-4, linear, codes)
    return _bend(linear**0.25, codes, np.maximum(_NEAR_CODES, _NEAR * rise / 2e-4))


def rising(curve: np.ndarray) -> np.ndarray:
    """Return a non-decreasing curve as a strictly increasing one, which can be inverted.

    Parameters
    ----------
    curve : ndarray (N,)

    Returns
    -------
    ndarray (N,)
    """
    return np.asarray(curve + np.arange(len(curve)) * 1e-15)


def _bend(places: np.ndarray, values: np.ndarray, near: np.ndarray) -> np.ndarray:
    """Fit a curve given by samples, to the tolerance `near` on the grid."""
    goal = np.interp(_GRID, places, values)
    splits, step = np.geomspace(0.02, 0.5, 33), 0.1
    best, off = np.empty(0, np.float32), np.inf
    for _ in range(5):
        for split in splits:
            halves = [_half(places, values, *ends) for ends in ((0.0, split), (split, 1.0))]
            numbers = np.concatenate([[split], *halves]).astype(np.float32)
            worst = float((np.abs(evaluate(numbers, _GRID) - goal) / near).max())
            if worst < off:
                best, off = numbers, worst
        splits, step = best[0] * (1 + step * np.linspace(-0.8, 0.8, 9)), step / 4
    return best if off < 1 else np.empty(0, np.float32)


def _half(places: np.ndarray, values: np.ndarray, low: float, high: float) -> np.ndarray:
    """Return the centre of a part of a curve, and polynomial coefficients around it."""
    middle, reach = (low + high) / 2, (high - low) / 2
    factors = _FIT @ np.interp(middle + reach * np.cos(_ANGLES), places, values)
    return np.concatenate([[middle], factors / reach**_ORDERS])


def evaluate(numbers: NDArray[np.float32], places: np.ndarray) -> np.ndarray:
    """Return the values of a bend, as the compiled loops compute them.

    Parameters
    ----------
    numbers : ndarray (NUMBERS,), float32
    places : ndarray
        0 to 1.
    """
    at = places.astype(np.float32)
    halves = numbers[1:].reshape(2, DEGREE + 2)[(at > numbers[0]).astype(int)]
    middle, a, b, c, d, e, f, g, h = np.moveaxis(halves, -1, 0)
    s = at - middle
    two = s * s
    low, high = (a + b * s) + (c + d * s) * two, (e + f * s) + (g + h * s) * two
    return np.asarray(low + high * (two * two))
