"""Double a photo: Lanczos plus a network's correction of lightness."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zinc_margin.keeping.job import Job
from zinc_margin.photo.arrays import Plane
from zinc_margin.pixels import nets
from zinc_margin.pixels.source import Source
from zinc_margin.pixels.tiles import Tiled, luma_of, to_codes
from zinc_margin.plan.crop.places import Box

_STEEPER = np.float32(1.15)
"""Factor by which each doubling steepens the edges of lettering."""


class Doubled(Tiled):
    """A doubled photo: Lanczos plus a network's correction of lightness.

    Parameters
    ----------
    asked : tuple of str
        The networks.
    share : float
        Share of its correction to apply; 0 is plain Lanczos.
    """

    zoom = 2

    def __init__(
        self,
        parent: Source,
        asked: nets.Asked,
        share: float,
        crispness: float = 0.0,
        nearby: bool = False,
    ) -> None:
        super().__init__(parent, crispness, nearby)
        self._asked, self._share = asked, np.float32(share)
        reach = max(nets.REACH[name] for name in asked)
        self._pad = reach + reach % 2 + 2

    def _made(self, place: Box, job: Job) -> NDArray[np.uint16]:
        pad = self._pad
        planes = self.padded(place, pad, job)
        goal = double(planes, pad)
        luma = luma_of(planes)
        added = nets.mean_correction(self._asked, luma, together=self.nearby).change * self._share
        goal += added[2 * pad : -2 * pad, 2 * pad : -2 * pad]
        if self._asked == ("letters",):
            _hold(goal, planes, pad)
        return to_codes(goal)


def _hold(goal: Plane, planes: Plane, pad: int) -> None:
    """Limit each value to its surrounding tones, and move it towards the nearer of the two.

    Paper and ink keep their tones; areas of nearly one tone are not changed.
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
"""Lanczos-3 as in the networks' training.

The classical method's kernel also preserves slopes and limits ringing; the networks' correction
already includes that.
"""


def double(planes: Plane, pad: int) -> NDArray[np.float32]:
    """Enlarge the inside of planes (C, H, W) by two with Lanczos.

    Parameters
    ----------
    pad : int
        Extra pixels on each side, at least 3.

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
        loops.double(np.ascontiguousarray(plane), _TAPS, pad, between, out)
    return goal
