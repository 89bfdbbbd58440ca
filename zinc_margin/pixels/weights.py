"""The source samples of an output pixel, and their weights."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from functools import cache

import numpy as np
from numpy.typing import NDArray

from zinc_margin.measure.kernels import kernels

LANCZOS, CUBIC, BLOCKS = range(3)
"""Kernel shapes, as numbered in the compiled loops."""
_SHAPES = {"lanczos": LANCZOS, "cubic": CUBIC, "blocks": BLOCKS}


def numbers_of(method: str) -> tuple[int, float, float]:
    """Return a kernel's numbers for the compiled loops: shape, B and C.

    Parameters
    ----------
    method : str
        A key of the kernels.
    """
    one = kernels()[method]
    return _SHAPES[one.shape], one.b, one.c


_TERMS = 10  # degree 9: weights to about 1e-7


def steepness(method: str | None, scale: float) -> float:
    """Return the steepening of edges, which grows with the enlargement, for lettering and drawings.

    Parameters
    ----------
    method : str or None
        A key of the kernels; None if pixels are kept.
    scale : float
        Output ÷ source pixels.
    """
    steepens = method is not None and kernels()[method].steepens
    return min(3.0, max(0.0, 1.1 * (scale - 1))) + 0.001 if steepens else 0.0


HOLD = 2.0
"""Neighbours within this distance, in kernel units, limit ringing."""


@dataclass(frozen=True, eq=False)
class Axis:
    """Weights of consecutive outputs along one axis.

    Attributes
    ----------
    starts : ndarray (N,), int64
        First sample of each output, before reflection; may be outside the picture.
    weights : ndarray (N, taps), float32
    near : (int, int)
        First tap and number of taps that limit ringing.
    """

    starts: np.ndarray
    weights: np.ndarray
    near: tuple[int, int]


def widening(scale: float) -> float:
    """Return the kernel's widening for reduction, which prevents aliasing; 1 for enlarging.

    Parameters
    ----------
    scale : float
        Output ÷ source pixels.
    """
    return max(1.0, 1 / scale)


def taps_for(method: str, scale: float) -> int:
    """Return the number of samples under the kernel.

    Parameters
    ----------
    method : str
        A key of the kernels.
    scale : float
        Output ÷ source pixels.
    """
    return max(1, math.ceil(2 * kernels()[method].support * widening(scale) - 1e-9))


def axis(
    method: str, offset: Fraction, scale: Fraction, first: int, count: int, crispness: float = 0.0
) -> Axis:
    """Return the weights of outputs `first` … `first + count − 1`.

    Parameters
    ----------
    method : str
        A key of the kernels.
    offset : Fraction
        Start of the box, in source pixels.
    scale : Fraction
        Output ÷ source pixels.
    count : int
        Number, 1 or more.
    crispness : float
        Extrapolation from the B-spline; see `plan.pixels.response.crispness`.
    """
    from zinc_margin.pixels import loops

    widen = widening(float(scale))
    taps = taps_for(method, float(scale))
    starts = np.empty(count, np.int64)
    weights = np.empty((count, taps))
    # Exact in every bit and dependent only on the absolute position: integers over one denominator,
    # rounded once.
    step, half = 1 / scale, Fraction(1, 2)
    start = offset + (first + half) * step - half
    over = start.denominator * step.denominator
    begin, along = start.numerator * step.denominator, step.numerator * start.denominator
    centres = np.array([(begin + index * along) / over for index in range(count)])
    loops.fill_axis(
        *numbers_of(method), centres, widen, kernels()[method].support, crispness, starts, weights
    )
    if not kernels()[method].mixes:
        near = (0, 0)
    else:
        inner = max(1, math.floor(2 * HOLD * widen))
        near = ((taps - inner) // 2, min(taps, inner))
    return Axis(starts, weights.astype(np.float32), near)


@cache
def series(method: str, crispness: float = 0.0) -> NDArray[np.float32]:
    """Return every tap's weight at scale 1 as a polynomial in the position between two samples.

    The weights (`fill_weights`) are smooth between samples; fitted at Chebyshev nodes, the error is
    about 1e-7, the precision of 32-bit floats.

    Parameters
    ----------
    method : str
        A key of the kernels.
    crispness : float
        Extrapolation of the weights from the B-spline's; see `plan.pixels.response.crispness`.

    Returns
    -------
    ndarray (taps, terms), float32
        Coefficients, highest power first, for positions −½ … ½.
    """
    from numpy.polynomial import Chebyshev, Polynomial

    from zinc_margin.pixels import loops

    taps = taps_for(method, 1.0)
    nodes = np.cos((np.arange(64) + 0.5) * np.pi / 64) / 2
    weights = np.empty((len(nodes), taps))
    for row, node in zip(weights, nodes, strict=True):
        loops.fill_weights(
            *numbers_of(method), node + 0.5, 1.0, kernels()[method].support, crispness, row
        )
    fitted = [
        Chebyshev.fit(nodes, weights[:, k], _TERMS - 1, domain=[-0.5, 0.5])
        .convert(kind=Polynomial, domain=[-1, 1])
        .coef
        for k in range(taps)
    ]
    return np.array([np.pad(terms, (0, _TERMS - len(terms)))[::-1] for terms in fitted], np.float32)


def reflect(indices: np.ndarray, size: int) -> np.ndarray:
    """Reflect sample indices at the picture's edges (the edge sample itself is repeated).

    Parameters
    ----------
    indices : ndarray
        (N,), int.
    size : int
        Samples along the axis.
    """
    if size == 1:
        return np.zeros_like(indices)
    folded = np.mod(indices, 2 * size)
    return np.where(folded < size, folded, 2 * size - 1 - folded)


def gaussian(sigma: float) -> np.ndarray:
    """Return a Gaussian's weights from its centre outwards; both sides together sum to 1."""
    reach = max(1, int(np.ceil(3 * sigma)))
    weights = np.exp(-0.5 * (np.arange(reach + 1) / sigma) ** 2)
    return (weights / (weights[0] + 2 * weights[1:].sum())).astype(np.float32)
