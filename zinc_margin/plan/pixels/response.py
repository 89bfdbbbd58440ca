"""Resampling kernels: their shapes and frequency responses.

References
----------
C. E. Duchon, "Lanczos filtering in one and two dimensions", J. Applied Meteorology 18 (1979).
D. P. Mitchell, A. N. Netravali, "Reconstruction filters in computer graphics", SIGGRAPH 1988:
the cubics with (B, C) = (1/3, 1/3) and (0, 1/2), the latter being Catmull and Rom's.
"""

from __future__ import annotations

from functools import cache

import numpy as np

from zinc_margin.measure.kernels import kernels

_SMOOTH = (1.0, 0.0)
"""(B, C) of the B-spline, which has no negative weights."""


def away_from_soft(hardness: float) -> float:
    """Return the interpolation weight away from the B-spline (below 0: towards it).

    Parameters
    ----------
    hardness : float
        −100 (soft: the B-spline, which has no negative weights and does not merge fine strands), 0
        (the kernel unchanged) to 100 (hard).
    """
    return hardness / 100 if hardness < 0 else hardness / 200


def learned_share(hardness: float) -> float:
    """Return the share of the AI correction: a fifth (−100) to a third over (100).

    Parameters
    ----------
    hardness : float
        −100 (soft) to 100 (hard).
    """
    return 1 + (0.8 if hardness < 0 else 0.35) * hardness / 100


def kernel(method: str, x: np.ndarray) -> np.ndarray:
    """Return the kernel's value at distances `x`, in samples, (N,).

    Parameters
    ----------
    method : str
        A key of the kernels.
    """
    one = kernels()[method]
    x = np.abs(np.asarray(x, np.float64))
    if one.shape == "lanczos":
        return np.where(x < 3, np.sinc(x) * np.sinc(x / 3), 0.0)
    if one.shape == "blocks":
        return np.where(x <= 0.5, 1.0, 0.0)
    return _cubic(x, one.b, one.c)


def _cubic(x: np.ndarray, b: float, c: float) -> np.ndarray:
    near = ((12 - 9 * b - 6 * c) * x**3 + (-18 + 12 * b + 6 * c) * x**2 + (6 - 2 * b)) / 6
    far = (
        (-b - 6 * c) * x**3 + (6 * b + 30 * c) * x**2 + (-12 * b - 48 * c) * x + (8 * b + 24 * c)
    ) / 6
    return np.where(x < 1, near, np.where(x < 2, far, 0.0))


LEARNED_RESPONSE = (1.0, 1.0, 1.0, 1.01, 1.03, 1.06, 1.11, 1.19, 1.31, 1.47, 1.64)
"""Response of the AI enlargers at 0, 0.05 … 0.5 cycles per sample of the photo.

Measured on slanted edges, L* 25 to 75, enlarged 2 and 4 times (`benchmarks/bench_learned.py
--response`). Above 1, they restore detail that the photo's own pixels had blurred.
"""


_GRID = np.linspace(0, 0.5, 257)
"""Cycles per sample at which responses are tabulated."""


def _transfer(values: np.ndarray, x: np.ndarray) -> np.ndarray:
    """Return the modulation transfer of weights `values` at places `x`, on `_GRID`.

    Weights are symmetric, so one side is enough.
    """
    waves = np.cos(2 * np.pi * _GRID[:, None] * x[None, :])
    # A kernel may raise mid frequencies slightly; sharpening must not rely on that.
    return np.clip(waves @ values / values.sum(), 0.0, 1.0)


@cache
def _response_table(method: str) -> np.ndarray:
    if kernels()[method].learned:
        return np.interp(_GRID, np.linspace(0, 0.5, len(LEARNED_RESPONSE)), LEARNED_RESPONSE)
    x = _places()
    return _transfer(kernel(method, x), x)


@cache
def _smooth_table() -> np.ndarray:
    x = _places()
    return _transfer(_cubic(np.abs(x), *_SMOOTH), x)


def _places() -> np.ndarray:
    return (np.arange(3000) + 0.5) / 1000


def response(method: str, frequency: np.ndarray, hardness: float = 0.0) -> np.ndarray:
    """Return the kernel's modulation transfer at `frequency`.

    It is 0 above the samples' Nyquist frequency, 0.5.

    Parameters
    ----------
    frequency : ndarray (N,)
        Cycles per sample.
    hardness : float
        Edges, −100 (soft) to 100 (hard).

    Returns
    -------
    ndarray (N,)

    Examples
    --------
    >>> response("lanczos", np.array([0.0, 0.5])).round(2)
    array([1. , 0.5])
    """
    away = away_from_soft(hardness)
    table = _response_table(method)
    if kernels()[method].learned:
        plain = _response_table("lanczos")
        table = plain + learned_share(hardness) * (table - plain)
    elif away:
        table = np.clip(table + away * (table - _smooth_table()), 0.0, 1.0)
    passed = np.interp(frequency, np.linspace(0, 0.5, len(table)), table)
    return np.where(frequency <= 0.5, passed, 0.0)
