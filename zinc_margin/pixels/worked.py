"""Sources that are worked out tile by tile: a photo mended, and a photo made twice as large.

Tiles are of one fixed size, anchored at the picture's corner, and each is worked on by one thread
alone; so a pixel's bits depend on its place and on nothing else. Only as many are kept as a few
bands need.
"""

from __future__ import annotations

import threading
from abc import ABC, abstractmethod
from collections import OrderedDict
from concurrent.futures import Future
from fractions import Fraction
from functools import cache
from threading import Event

import numpy as np
from scipy import ndimage

from ..measure.errors import Cancelled
from ..photo.pixels import Photo
from ..plan.mending import NOISE_FULL
from ..plan.model import Mending, Plan
from . import loops, nets
from .source import Source, Stored
from .weights import Axis, axis, reflected

TILE = 256
"""Pixels of the source that one tile covers each way."""

LUMA = np.array([0.299, 0.587, 0.114], np.float32)
_DEEP = np.dtype(np.uint16)
_MOST = np.float32(65535)
_ROWS_KEPT = 5
_SQUARE = 8  # pixels of a side of what JPEG codes at once
_STEEPER = np.float32(1.15)
"""By how much edges of lettering are made steeper each time they are made twice as large."""
_MOST_BYTES = 600_000_000

STOP = threading.local()
"""``STOP.event``, where a thread has one, tells it between two tiles to stop."""


class _Tiled(ABC):
    """A source made of tiles, each worked out when it is first asked for."""

    zoom = 1
    tile = TILE

    def __init__(self, parent: Source, leaning: float = 0.0) -> None:
        self.parent = parent
        self.height, self.width = parent.height * self.zoom, parent.width * self.zoom
        self.channels = parent.channels
        self.dtype = _DEEP
        side = self.tile * self.zoom
        row = -(-self.width // side) * side * side * self.channels * 2
        # a turned print's band runs aslant over many rows of tiles
        rows = _ROWS_KEPT + int(leaning * self.width / side) + 1
        self._most = max(3, min(rows * row, _MOST_BYTES) // (side * side * self.channels * 2))
        self._tiles: OrderedDict[tuple[int, int], Future[np.ndarray]] = OrderedDict()
        self._lock = threading.Lock()

    def block(self, top: int, left: int, height: int, width: int) -> np.ndarray:
        """Return codes (height, width, C), uint16, of a part that lies inside."""
        out = np.empty((height, width, self.channels), _DEEP)
        side = self.tile * self.zoom
        for row in range(top // side, (top + height - 1) // side + 1):
            for column in range(left // side, (left + width - 1) // side + 1):
                tile = self._tile(row, column)
                y, x = row * side, column * side
                y0, y1 = max(top, y), min(top + height, y + side)
                x0, x1 = max(left, x), min(left + width, x + side)
                out[y0 - top : y1 - top, x0 - left : x1 - left] = tile[
                    y0 - y : y1 - y, x0 - x : x1 - x
                ]
        return out

    def _tile(self, row: int, column: int) -> np.ndarray:
        key = (row, column)
        while True:
            with self._lock:
                found = self._tiles.get(key)
                mine = found is None
                if found is None:
                    found = self._tiles[key] = Future()
                    while len(self._tiles) > self._most:
                        self._tiles.popitem(last=False)
                else:
                    self._tiles.move_to_end(key)
            if not mine:
                try:
                    return found.result()
                except Cancelled:
                    # another view was given up, this one was not
                    if _stopped():
                        raise
                    continue
            try:
                if _stopped():
                    raise Cancelled
                made = self._made(row, column)
            except BaseException as why:
                with self._lock:
                    self._tiles.pop(key, None)
                found.set_exception(why)
                raise
            found.set_result(made)
            return made

    def _padded(self, row: int, column: int, pad: int) -> np.ndarray:
        """Return a tile of the parent with its surroundings, as planes (C, S, S) of 0 to 1."""
        span = np.arange(-pad, self.tile + pad)
        rows = reflected(row * self.tile + span, self.parent.height)
        columns = reflected(column * self.tile + span, self.parent.width)
        y, x = int(rows.min()), int(columns.min())
        block = self.parent.block(y, x, int(rows.max()) + 1 - y, int(columns.max()) + 1 - x)
        codes = block[rows - y][:, columns - x]
        most = np.float32(np.iinfo(codes.dtype).max)
        return np.ascontiguousarray(codes.transpose(2, 0, 1)).astype(np.float32) / most

    @abstractmethod
    def _made(self, row: int, column: int) -> np.ndarray:
        """Work one tile out: codes (tile · zoom, tile · zoom, C), uint16."""


def _stopped() -> bool:
    event: Event | None = getattr(STOP, "event", None)
    return event is not None and event.is_set()


def _luma(planes: np.ndarray) -> np.ndarray:
    if planes.shape[0] == 1:
        return planes[0]
    return np.asarray(planes[0] * LUMA[0] + planes[1] * LUMA[1] + planes[2] * LUMA[2])


def _coded(planes: np.ndarray) -> np.ndarray:
    """Return planes (C, H, W) as codes (H, W, C), uint16."""
    codes = np.clip(planes, 0, 1) * _MOST + np.float32(0.5)
    return np.ascontiguousarray(codes.astype(_DEEP).transpose(1, 2, 0))


class Mended(_Tiled):
    """A photo without its JPEG blocks, its noise and its old halos.

    Lightness is mended as it is, colour at half its size, where JPEG keeps it and where the eye
    would not see more.
    """

    # cleaning looks far, so that its tiles are larger; all are whole squares of JPEG's
    tile = 384
    # what lies further off than this moves a pixel by a ninth of an 8-bit step at most
    _PAD = 40

    def __init__(
        self, parent: Source, mending: Mending, asked: nets.Asked, leaning: float = 0.0
    ) -> None:
        super().__init__(parent, leaning)
        self._asked = asked
        self._jpeg, self._noise = mending.clean / 100, mending.denoise / 100
        self._halo, self._reach = mending.dehalo / 100, mending.halo_share
        self._grid = mending.grid

    def _made(self, row: int, column: int) -> np.ndarray:
        # tiles and what surrounds them are whole squares of JPEG's: cut off so far, they begin
        # where a square does
        left, top = self._grid
        side = self.tile + 2 * self._PAD - _SQUARE
        padded = self._padded(row, column, self._PAD)
        planes = padded[:, top : top + side, left : left + side]
        y, x = self._PAD - top, self._PAD - left
        inner = slice(y, y + self.tile), slice(x, x + self.tile)
        luma = _luma(planes)
        mends = bool(self._jpeg or self._noise)
        mended = luma + self._change(luma) if mends else luma
        if self._halo:
            mended = _without_halos(mended, self._halo, self._reach)
        light = mended[inner]
        if planes.shape[0] == 1:
            return _coded(light[None])
        out = np.empty((3, self.tile, self.tile), np.float32)
        for channel in (0, 2):
            difference = planes[channel] - luma
            out[channel] = light + (self._colour(difference) if mends else difference)[inner]
        # green is what the luma leaves
        out[1] = (light - LUMA[0] * out[0] - LUMA[2] * out[2]) / LUMA[1]
        return _coded(out)

    def _change(self, luma: np.ndarray) -> np.ndarray:
        """Return the correction that mends lightness."""
        strengths = (self._jpeg, self._noise) if self._noise else (self._jpeg,)
        return nets.agreed(self._asked, luma, strengths)

    def _colour(self, difference: np.ndarray) -> np.ndarray:
        """Return a colour difference (S, S) mended.

        What lies between its half size and itself is kept where it stands clear of the noise.
        """
        half = difference.reshape(len(difference) // 2, 2, -1, 2).mean((1, 3), dtype=np.float32)
        change = nets.corrected("clean", half * 0.5 + 0.5, (self._jpeg, self._noise * 0.5)) * 2
        rest = difference - _between(half)
        if self._noise:
            loud = np.float32((2 * NOISE_FULL * self._noise) ** 2)
            rest *= rest**2 / (rest**2 + loud)
        return np.asarray(_between(half + change) + rest)


def _between(half: np.ndarray) -> np.ndarray:
    """Return half a plane (S, S) at full size (2S, 2S), between the four nearest."""
    near, far = np.float32(0.75), np.float32(0.25)
    part = np.pad(half, 1, "edge")
    tall = np.empty((2 * len(half), part.shape[1]), np.float32)
    tall[0::2] = near * part[1:-1] + far * part[:-2]
    tall[1::2] = near * part[1:-1] + far * part[2:]
    wide = np.empty((len(tall), 2 * len(half)), np.float32)
    wide[:, 0::2] = near * tall[:, 1:-1] + far * tall[:, :-2]
    wide[:, 1::2] = near * tall[:, 1:-1] + far * tall[:, 2:]
    return wide


def _without_halos(luma: np.ndarray, strength: float, share: float) -> np.ndarray:
    """Take thin bright and dark lines beside strong edges back to their surroundings.

    What an opening or a closing takes away is thinner than they are wide; no more of it goes than
    a halo of the photo's usual overshoot would have put there.
    """
    low = ndimage.minimum_filter(luma, 13, mode="nearest")
    high = ndimage.maximum_filter(luma, 13, mode="nearest")
    room = (high - low) * np.float32(share)
    room *= np.clip((high - low - np.float32(0.08)) * np.float32(10), 0, 1)
    opened = ndimage.grey_opening(luma, 9, mode="nearest")
    closed = ndimage.grey_closing(luma, 9, mode="nearest")
    over = np.minimum(luma - opened, room)
    under = np.minimum(closed - luma, room)
    return np.asarray(luma - np.float32(strength) * (over - under), np.float32)


class Doubled(_Tiled):
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
        planes = self._padded(row, column, pad)
        goal = np.empty((planes.shape[0], 2 * TILE, 2 * TILE), np.float32)
        twice(planes, pad, goal)
        added = nets.agreed(self._asked, _luma(planes)) * self._share
        goal += added[2 * pad : -2 * pad, 2 * pad : -2 * pad]
        if self._asked == ("letters",):
            _hold(goal, planes, pad)
        return _coded(goal)


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
def _doubling(pad: int) -> Axis:
    found = axis("lanczos", Fraction(pad), Fraction(2), 0, 2 * TILE)
    return Axis(found.starts, found.weights, (0, 0))


def twice(planes: np.ndarray, pad: int, goal: np.ndarray) -> None:
    """Enlarge the inside of planes (C, S, S) by two with Lanczos, into (C, 2·TILE, 2·TILE)."""
    both = _doubling(pad)
    between = np.empty((3, 1, planes.shape[1], 2 * TILE), np.float32)
    line = np.empty((2, 2 * TILE), np.float32)
    for channel in range(planes.shape[0]):
        loops.across(
            planes[channel : channel + 1], both.starts, both.weights, both.near,
            between[0], between[1], between[2],
        )  # fmt: skip
        loops.down(
            between[0], between[1], between[2], both.starts, both.weights, both.near,
            np.float32(0), goal[channel : channel + 1], line[0], line[1],
        )  # fmt: skip


def source_of(photo: Photo, plan: Plan) -> Source:
    """Return what a plan resamples: the photo as it is set, mended and made larger as it asks."""
    source: Source = Stored(photo, plan.turned, plan.docket.photo.ground)
    pixels, slope = plan.pixels, plan.turned.slope
    if pixels.mending.any:
        asked = nets.cleaners(pixels.method, bool(pixels.mending.denoise))
        source = Mended(source, pixels.mending, asked, slope)
    if pixels.doublings:
        assert pixels.method is not None and pixels.network is not None
        cleaned = max(pixels.mending.clean, pixels.mending.denoise) >= nets.MUCH_CLEANED
        for _ in range(pixels.doublings):
            asked = nets.enlargers(pixels.method, pixels.network, cleaned)
            source = Doubled(source, asked, pixels.share, slope)
            cleaned = False
    return source
