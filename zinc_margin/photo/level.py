"""A picture's lean: the rotation that aligns its nearly horizontal and vertical edges.

References
----------
R. O. Duda and P. E. Hart, "Use of the Hough transformation to detect lines and curves in
pictures", Comm. ACM 15 (1972): edges are gathered along lines of every direction; where long
straight edges agree, the sums stand out.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zinc_margin.photo.arrays import Codes

MOST_LEAN = 12.0
"""Degrees. A larger lean is assumed to be intended."""

_COARSE, _FINE = 0.2, 0.02  # degrees between the angles of the first and of the second search
_SIDE = 1600  # px; enough to measure long edges, and fast
_MOST_POINTS = 60_000  # limits the time of the search
_FEWEST_POINTS = 400  # with fewer edge points a lean is not reliable
_LEAST_SLOPE = 0.6  # weaker slopes are noise and texture
_MOST_ASIDE = 0.23
"""How far an edge may deviate: a little over 12 degrees."""
_NEAR = 4.0  # degrees; edges whose own lean differs by less agree with the result
_BEFORE = 0.35
"""Share of the energy that a picture without long edges reaches by chance."""


Points = tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]
"""Positions along and across, signed strengths, and each edge's lean in degrees."""


def lean_of(light: np.ndarray) -> tuple[float, float] | None:
    """Return a picture's lean in degrees, and its confidence.

    Parameters
    ----------
    light : ndarray (H, W)
        Lightness, 0–100.

    Returns
    -------
    (float, float) or None
        Degrees, clockwise positive, between −12 and 12, and a confidence of 0–1: the prominence of
        the sums along edges at that angle. None with too few edges.
    """
    from scipy import ndimage

    smooth = ndimage.gaussian_filter(np.asarray(light, np.float32), 1.0)
    across = ndimage.sobel(smooth, axis=1)[4:-4, 4:-4] / 8
    down = ndimage.sobel(smooth, axis=0)[4:-4, 4:-4] / 8
    groups = [
        points
        for points in (_points(down, across), _points(across.T, down.T, turned=True))
        if points is not None
    ]
    if not groups:
        return None
    coarse = np.arange(-MOST_LEAN, MOST_LEAN + _COARSE / 2, _COARSE)
    sums = _sums(groups, coarse)
    best = coarse[int(sums.argmax())]
    fine = np.arange(best - 2 * _COARSE, best + 2 * _COARSE + _FINE / 2, _FINE)
    close = ndimage.gaussian_filter1d(_sums(groups, fine), 2.0)
    result = float(fine[int(close.argmax())])
    preset = 1 - float(np.median(sums)) / float(sums.max())
    confidence = max(0.0, (preset - _BEFORE) / (1 - _BEFORE))
    # The edges themselves must point that way: rows of short edges can add up by chance.
    own = np.concatenate([group[3] for group in groups])
    confidence *= min(1.0, 2 * float((np.abs(own - result) < _NEAR).mean()))
    if abs(result) > MOST_LEAN - 2 * _COARSE:
        confidence = 0.0  # the true lean may be outside the search range
    return round(result, 2), round(confidence, 3)


def _points(slope: np.ndarray, other: np.ndarray, turned: bool = False) -> Points | None:
    """Return the nearly horizontal edges; of a transposed picture, the nearly vertical ones."""
    strong = (np.abs(slope) > _LEAST_SLOPE) & (np.abs(other) < _MOST_ASIDE * np.abs(slope))
    y, x = np.nonzero(strong)
    if len(y) < _FEWEST_POINTS:
        return None
    if len(y) > _MOST_POINTS:
        stored = np.linspace(0, len(y) - 1, _MOST_POINTS).astype(int)
        y, x = y[stored], x[stored]
    # Weight a long edge by its length, not by its contrast.
    strength = np.clip(slope[y, x], -4, 4)
    middle = slope.shape[1] / 2
    along = (x - middle).astype(np.float32)
    own = np.degrees(np.arctan(other[y, x] / slope[y, x]))
    sign = -1 if turned else 1
    return sign * along, y.astype(np.float32), strength, -sign * own


def _sums(groups: list[Points], angles: np.ndarray) -> np.ndarray:
    """Return, for every angle, the energy of the edges summed along lines at that angle."""
    result = np.zeros(len(angles))
    for along, y, strength, _ in groups:
        for index, angle in enumerate(np.radians(angles)):
            places = np.rint(y * np.cos(angle) - along * np.sin(angle)).astype(np.int64)
            profile = np.bincount(places - places.min(), strength)
            result[index] += float((profile * profile).sum())
    return result


def small_tones(codes: Codes) -> NDArray[np.float32]:
    """Return the middle channel of a picture (H, W, C), reduced to at most 1600 px.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.

    Returns
    -------
    ndarray (h, w), float32
        0–100 of the stored values, which locate edges as well as lightness does.
    """
    step = max(1, -(-max(codes.shape[:2]) // _SIDE))
    height, width = codes.shape[0] // step * step, codes.shape[1] // step * step
    plane = codes[:height, :width, codes.shape[2] // 2]
    rows = np.zeros((height // step, width), np.uint32)
    for first in range(step):
        rows += plane[first::step]
    sums = np.zeros((height // step, width // step), np.uint32)
    for first in range(step):
        sums += rows[:, first::step]
    return sums * np.float32(100 / (step * step * np.iinfo(codes.dtype).max))
