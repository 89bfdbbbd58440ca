"""A photo made twice as large: Lanczos, and what a network adds to its lightness."""

from __future__ import annotations

from fractions import Fraction
from functools import cache

import numpy as np
from scipy import ndimage

from . import loops, nets
from .source import Source
from .tiled import Tiled, coded, luma_of
from .weights import Axis, axis

_STEEPER = np.float32(1.15)
"""By how much edges of lettering are made steeper each time they are made twice as large."""


class Doubled(Tiled):
    """A photo made twice as large: Lanczos, and what a network adds to its lightness.

    Parameters
    ----------
    asked : tuple of str
        The networks.
    share : float
        Of its correction that is taken; 0 is Lanczos alone.
    """

    zoom = 2

    def __init__(
        self, parent: Source, asked: nets.Asked, share: float, leaning: float = 0.0
    ) -> None:
        super().__init__(parent, leaning)
        self._asked, self._share = asked, np.float32(share)
        reach = max(nets.REACH[name] for name in asked)
        self._pad = reach + reach % 2 + 2

    def _made(self, row: int, column: int) -> np.ndarray:
        pad = self._pad
        planes = self.padded(row, column, pad)
        goal = doubled(planes, pad)
        added = nets.agreed(self._asked, luma_of(planes)).change * self._share
        goal += added[2 * pad : -2 * pad, 2 * pad : -2 * pad]
        if self._asked == ("letters",):
            _hold(goal, planes, pad)
        return coded(goal)


def _hold(goal: np.ndarray, planes: np.ndarray, pad: int) -> None:
    """Keep each place within the tones around it, nearer to one or the other than it came out.

    Paper stays paper and ink stays ink; where tones hardly differ nothing is done.
    """
    inner = slice(pad, -pad)
    for channel, plane in enumerate(planes):
        low, high = (
            pick(plane, 5, mode="nearest")[inner, inner].repeat(2, 0).repeat(2, 1)
            for pick in (ndimage.minimum_filter, ndimage.maximum_filter)
        )
        value = np.clip(goal[channel], low, high)
        span = high - low
        part = (value - low) / (span + np.float32(1e-6))
        steep = np.clip(np.float32(0.5) + (part - np.float32(0.5)) * _STEEPER, 0, 1)
        clear = np.clip((span - np.float32(0.06)) * 8, 0, 1)
        goal[channel] = value + clear * span * (steep - part)


@cache
def _doubling(pad: int, side: int) -> Axis:
    found = axis("lanczos", Fraction(pad), Fraction(2), 0, side)
    return Axis(found.starts, found.weights, (0, 0))


def doubled(planes: np.ndarray, pad: int) -> np.ndarray:
    """Enlarge the inside of planes (C, S, S) by two with Lanczos.

    Parameters
    ----------
    pad : int
        Pixels on each side that are only looked at; 3 at least.

    Returns
    -------
    ndarray (C, 2 · (S − 2 · pad), 2 · (S − 2 · pad)), float32
    """
    channels, rows, _ = planes.shape
    side = 2 * (rows - 2 * pad)
    both = _doubling(pad, side)
    goal = np.empty((channels, side, side), np.float32)
    between = np.empty((3, 1, rows, side), np.float32)
    line = np.empty((2, side), np.float32)
    for channel in range(channels):
        plane = np.ascontiguousarray(planes[channel : channel + 1])
        loops.across(
            plane, both.starts, both.weights, both.near, between[0], between[1], between[2]
        )
        loops.down(
            between[0], between[1], between[2], both.starts, both.weights, both.near,
            np.float32(0), goal[channel : channel + 1], line[0], line[1],
        )  # fmt: skip
    return goal
