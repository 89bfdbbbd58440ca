"""The print's extension beyond its edge: bleed and canvas sides.

A point at distance t outside the edge reads the print at t·e/w inside it (w: width of the side; e:
width of the edge strip), each axis separately, so corners have no seams. Softening starts at zero
at the edge, so the extension joins the print exactly.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.tones import EDGE
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.colour import Colour, codes_of
from zinc_margin.pixels.page import Rendered
from zinc_margin.plan.finish.page import Around

_TILE = 1024  # px; limits the memory for wide canvas sides
_LEAST_SIGMA = 0.5  # px; a narrower blur is invisible
_FINE = 4.0
"""Wider Gaussians work on block means."""


class Sides(Rendered):
    """A print with its sides, in the print's pixel grid, starting at −across.

    Parameters
    ----------
    colour : Colour
        The samples' colour space.
    """

    def __init__(self, around: Around, inner: Rendered, colour: Colour) -> None:
        self._around, self._inner, self._colour = around, inner, colour
        self.dtype = inner.dtype
        self._most = int(np.iinfo(inner.dtype).max)
        self._height, self._width, self._channels = inner.shape
        self.shape = (
            self._height + 2 * around.down,
            self._width + 2 * around.across,
            self._channels,
        )
        self._tone: np.ndarray | None = None
        soften = around.soften * min(around.across, around.down)
        self._sigma = soften / 2  # pixels at the outer edge, on both sides of a point
        self._plain = self._sigma < _LEAST_SIGMA

    def region(self, left: int, top: int, width: int, height: int, job: Job = IDLE) -> Codes:
        """Return a region; (0, 0) is the print's corner, so left and top may be negative."""
        out = np.empty((height, width, self._channels), self.dtype)
        x0, x1 = max(left, 0), min(left + width, self._width)
        y0, y1 = max(top, 0), min(top + height, self._height)
        if x0 < x1 and y0 < y1:
            face = self._inner.region(x0, y0, x1 - x0, y1 - y0, job)
            out[y0 - top : y1 - top, x0 - left : x1 - left] = face
        else:
            x0 = x1 = left
            y0 = y1 = top
        bands = [(left, top, width, y0 - top), (left, y1, width, top + height - y1)]
        bands += [(left, y0, x0 - left, y1 - y0), (x1, y0, left + width - x1, y1 - y0)]
        for x, y, wide, high in bands:
            for start in range(x, x + wide, _TILE):
                if high > 0:
                    box = (start, y, min(_TILE, x + wide - start), high)
                    result = self._side(*box, job)
                    out[y - top : y - top + high, start - left : start - left + box[2]] = result
        return out

    def _side(self, left: int, top: int, width: int, height: int, job: Job) -> np.ndarray:
        """Return a region outside the print."""
        if self._around.tone is not None:
            result = np.broadcast_to(self._over(job), (height, width, self._channels))
        elif self._plain:
            result = self._drawn_out(left, top, width, height, job)
        else:
            result = self._softened(left, top, width, height, job)
        return np.rint(np.clip(result, 0, self._most)).astype(self.dtype)

    def _drawn_out(
        self, left: int, top: int, width: int, height: int, job: Job
    ) -> NDArray[np.float32]:
        """Return the print, mirrored and stretched into a box, (height, width, C) float32."""
        around = self._around
        first_x, second_x, share_x = _read_at(left, width, self._width, float(around.strip))
        first_y, second_y, share_y = _read_at(top, height, self._height, float(around.strip))
        x0, x1 = int(first_x.min()), int(second_x.max()) + 1
        y0, y1 = int(first_y.min()), int(second_y.max()) + 1
        from_print = self._inner.region(x0, y0, x1 - x0, y1 - y0, job)
        rows = _mix(from_print, first_y - y0, second_y - y0, share_y, 0)
        return _mix(rows, first_x - x0, second_x - x0, share_x, 1)

    def _softened(self, left: int, top: int, width: int, height: int, job: Job) -> np.ndarray:
        """Return a stretched region, softened increasingly towards the outer edge."""
        sigmas = [self._sigma]
        while sigmas[-1] / 2 >= _LEAST_SIGMA:
            sigmas.append(sigmas[-1] / 2)
        levels = [0.0, *reversed(sigmas)]
        # Count blocks from the print's corner, so results do not depend on the region.
        block = _block(self._sigma)
        apron = -(-int(4 * self._sigma + 2 * block + 2) // block) * block
        x0, y0 = (left - apron) // block * block, (top - apron) // block * block
        x1 = -(-(left + width + apron) // block) * block
        y1 = -(-(top + height + apron) // block) * block
        wide = self._drawn_out(x0, y0, x1 - x0, y1 - y0, job)
        here = (slice(top - y0, top - y0 + height), slice(left - x0, left - x0 + width))
        spread = self._spread(left, top, width, height)
        out = np.zeros((height, width, self._channels), np.float32)
        below = wide[here]
        for near, far in pairwise(levels):
            above = _blur(wide, far, here)
            inside = (spread >= near) & (spread <= far)
            part = (spread**2 - near**2) / (far**2 - near**2)
            mixed = below + part[..., None].astype(np.float32) * (above - below)
            out[inside] = mixed[inside]
            below = above
        return out

    def _spread(self, left: int, top: int, width: int, height: int) -> np.ndarray:
        """Return the blur sigma at every point of a box, 0 at the print's edge."""
        outs = []
        for start, count, size, reach in (
            (top, height, self._height, self._around.down),
            (left, width, self._width, self._around.across),
        ):
            at = np.arange(start, start + count)
            out = np.maximum(np.maximum(-1 - at, at - size), 0)
            outs.append(out / max(1, reach - 1))
        return np.minimum(np.maximum(outs[0][:, None], outs[1][None, :]), 1.0) * self._sigma

    def _over(self, job: Job) -> np.ndarray:
        """Return the sides' plain colour, as sample values."""
        if self._tone is None:
            tone = self._around.tone
            if tone == EDGE:
                self._tone = self._edge_mean(job)
            else:
                assert tone is not None
                self._tone = (codes_of(tone, self._colour) * self._most).astype(np.float32)
        return self._tone

    def _edge_mean(self, job: Job) -> np.ndarray:
        """Return the mean of patches along the print's edge."""
        side = min(16, self._width, self._height)
        right, bottom = self._width - side, self._height - side
        places = {(round(right * k / 11), y) for k in range(12) for y in (0, bottom)}
        places |= {(x, round(bottom * k / 11)) for k in range(12) for x in (0, right)}
        means = [
            self._inner.region(x, y, side, side, job).mean(axis=(0, 1), dtype=np.float64)
            for x, y in sorted(places)
        ]
        return np.mean(means, axis=0).astype(np.float32)


def _read_at(
    start: int, count: int, size: int, strip: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return the two neighbouring print pixels of each position, and the weight of the second."""
    centre = np.arange(start, start + count) + 0.5
    place = np.where(
        centre < 0, -centre * strip, np.where(centre > size, size - (centre - size) * strip, centre)
    )
    place = np.clip(place - 0.5, 0, size - 1)
    first = np.floor(place).astype(np.int64)
    share = (place - first).astype(np.float32)
    return first, np.minimum(first + 1, size - 1), share


def _mix(
    values: np.ndarray, first: np.ndarray, second: np.ndarray, share: np.ndarray, axis: int
) -> np.ndarray:
    one = np.take(values, first, axis).astype(np.float32)
    if not share.any():
        return one
    other = np.take(values, second, axis)
    return one + share.reshape((-1, 1, 1) if axis == 0 else (1, -1, 1)) * (other - one)


def _block(sigma: float) -> int:
    return 2 ** max(0, int(np.floor(np.log2(sigma / _FINE)))) if sigma > _FINE else 1


def _blur(wide: np.ndarray, sigma: float, here: tuple[slice, slice]) -> np.ndarray:
    """Return the part `here`, blurred by a Gaussian; a wide one works on block means."""
    from scipy.ndimage import gaussian_filter

    block = _block(sigma)
    # Limit the work to the Gaussian's reach, starting on the block grid.
    apron = -(-int(3 * sigma + 2 * block + 2) // block) * block
    near = [max(0, side.start // block * block - apron) for side in here]
    far = [-(-(side.stop + apron) // block) * block for side in here]
    wide = wide[near[0] : far[0], near[1] : far[1]]
    here = tuple(  # type: ignore[assignment]
        slice(side.start - start, side.stop - start) for side, start in zip(here, near, strict=True)
    )
    if block == 1:
        return gaussian_filter(wide, (sigma, sigma, 0), truncate=3)[here]
    height, width, channels = wide.shape
    small = wide.reshape(height // block, block, width // block, block, channels).mean((1, 3))
    # Block means and their interpolation already blur; subtract that.
    own = (block**2 - 1) / 12 + block**2 / 6
    left = max(0.1, sigma**2 - own) ** 0.5 / block
    soft = gaussian_filter(small, (left, left, 0), truncate=3)
    return _grow(_grow(soft, here[0], block, 0), here[1], block, 1)


def _grow(small: np.ndarray, here: slice, block: int, axis: int) -> np.ndarray:
    place = np.clip(
        (np.arange(here.start, here.stop) + 0.5) / block - 0.5, 0, small.shape[axis] - 1
    )
    first = np.floor(place).astype(np.int64)
    second = np.minimum(first + 1, small.shape[axis] - 1)
    return _mix(small, first, second, (place - first).astype(np.float32), axis)
