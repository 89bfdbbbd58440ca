"""A photo made twice as large: Lanczos, and what a network adds to its lightness."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zinc_margin.keeping.job import Job
from zinc_margin.photo.arrays import Codes, Plane
from zinc_margin.pixels import nets
from zinc_margin.pixels.source import Source
from zinc_margin.pixels.tiles import Tiled, coded, luma_of

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
        self, parent: Source, asked: nets.Asked, share: float, crispness: float = 0.0
    ) -> None:
        super().__init__(parent, crispness)
        self._asked, self._share = asked, np.float32(share)
        reach = max(nets.REACH[name] for name in asked)
        self._pad = reach + reach % 2 + 2

    def _made(self, row: int, column: int, job: Job) -> Codes:
        pad = self._pad
        planes = self.padded(row, column, pad, job)
        goal = doubled(planes, pad)
        added = nets.agreed(self._asked, luma_of(planes)).change * self._share
        goal += added[2 * pad : -2 * pad, 2 * pad : -2 * pad]
        if self._asked == ("letters",):
            _hold(goal, planes, pad)
        return coded(goal)


def _hold(goal: Plane, planes: Plane, pad: int) -> None:
    """Keep each place within the tones around it, nearer to one or the other than it came out.

    Paper stays paper and ink stays ink; where tones hardly differ nothing is done.
    """
    from scipy import ndimage

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


_AT = np.arange(6) - 2.75
_TAPS = np.sinc(_AT) * np.sinc(_AT / 3)
_TAPS = (_TAPS / _TAPS.sum()).astype(np.float32)
"""Lanczos-3 as the networks were trained on it.

The classical method's own (`plan.kernels`) also keeps slopes and holds its ringing back; what a
network adds already makes up for that.
"""


def doubled(planes: Plane, pad: int) -> NDArray[np.float32]:
    """Enlarge the inside of planes (C, H, W) by two with Lanczos.

    Parameters
    ----------
    pad : int
        Pixels on each side that are only looked at; 3 at least.

    Returns
    -------
    ndarray (C, 2 · (H − 2 · pad), 2 · (W − 2 · pad)), float32
    """
    from zinc_margin.pixels import loops

    channels, rows, columns = planes.shape
    high, wide = 2 * (rows - 2 * pad), 2 * (columns - 2 * pad)
    goal = np.empty((channels, high, wide), np.float32)
    between = np.empty((rows, wide), np.float32)
    for plane, out in zip(planes, goal, strict=True):
        loops.doubled(np.ascontiguousarray(plane), _TAPS, pad, between, out)
    return goal
