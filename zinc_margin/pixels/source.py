"""The source for resampling: the photo's pixels after quarter turns."""

from __future__ import annotations

from typing import Protocol

import numpy as np

from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.tones import WHITE
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.colour import codes_of
from zinc_margin.photo.pixels import Photo
from zinc_margin.plan.crop.rotation import Turned


class Source(Protocol):
    """Pixels that can be read region by region, with the same bits for any region."""

    height: int
    width: int
    channels: int
    dtype: np.dtype

    def block(self, top: int, left: int, height: int, width: int, job: Job = IDLE) -> Codes:
        """Return samples (height, width, C) of a region inside the picture."""
        ...

    def holds(self, y: int, x: int) -> bool:
        """Return whether a pixel is there without further work."""
        ...


class Stored:
    """A photo's stored samples, mirrored, rotated by quarters, and blended onto a background.

    Parameters
    ----------
    turned : Turned
        Provides mirroring and quarter turns.
    ground : str
        Background of a transparent photo, ``#rrggbb``.
    """

    def __init__(self, photo: Photo, turned: Turned, ground: str = WHITE) -> None:
        self._codes = quarter_turned_view(photo.codes, turned)
        self.height, self.width, self.channels = self._codes.shape
        self.dtype = photo.codes.dtype
        # the samples are already blended onto white
        self._alpha = None
        if photo.alpha is not None and ground != WHITE:
            self._alpha = quarter_turned_view(photo.alpha, turned)
            top = np.iinfo(self.dtype).max
            self._added = codes_of(ground, photo.colour).astype(np.float32) * top - top

    def block(self, top: int, left: int, height: int, width: int, job: Job = IDLE) -> Codes:
        """Return samples (height, width, C) of a region inside the picture."""
        place = slice(top, top + height), slice(left, left + width)
        codes = self._codes[place]
        if self._alpha is None:
            return np.ascontiguousarray(codes)
        most = np.iinfo(self.dtype).max
        bare = (1 - self._alpha[place].astype(np.float32) / most)[..., None]
        laid = np.rint(codes + bare * self._added)
        return np.clip(laid, 0, most).astype(self._codes.dtype)

    def holds(self, y: int, x: int) -> bool:
        """Return True: a stored pixel is always there."""
        return True


def quarter_turned_view(pixels: np.ndarray, turned: Turned) -> np.ndarray:
    """Return pixels mirrored and rotated by quarters.

    Parameters
    ----------
    pixels : ndarray (H, W) or (H, W, C)
        The upright photo.
    """
    return np.rot90(pixels[:, ::-1] if turned.mirror else pixels, -turned.quarters)
