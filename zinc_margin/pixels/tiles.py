"""Sources computed tile by tile.

Tiles have one fixed size and start at the picture's corner, and each is computed by one thread, so
a pixel's bits depend on its position alone. The size divides the picture evenly: otherwise the last
tiles would be mostly outside, and a small picture would take twice as long. Only the tiles for a
few bands are kept.
"""

from __future__ import annotations

import threading
from abc import ABC, abstractmethod
from collections import OrderedDict
from concurrent.futures import Future

import numpy as np
from numpy.typing import NDArray

from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.errors import Cancelled
from zinc_margin.photo.arrays import Codes, Plane
from zinc_margin.pixels.source import Source
from zinc_margin.pixels.weights import reflect
from zinc_margin.plan.crop.places import Box

LUMA = np.array([0.299, 0.587, 0.114], np.float32)  # weights of ITU-R BT.601, as JPEG uses
_DEEP = np.dtype(np.uint16)
_MOST = np.float32(65535)
_ROWS_KEPT = 5  # rows of tiles that a band and the next one need
_MOST_BYTES = 600_000_000  # a limit for rotated prints, whose bands cross many rows

SQUARE = 8
"""Side of a JPEG square in pixels; tiles consist of whole squares."""


class Tiled(ABC):
    """A source made of tiles, each computed on first use.

    Parameters
    ----------
    crispness : float
        The rotated print's slope; its bands cross more rows of tiles.
    nearby : bool
        Compute just the block that is asked for, by all threads, and keep nothing: soon there, but
        a pixel may differ by a small part of an 8-bit step.
    """

    zoom = 1
    largest = 256  # the most parent pixels covered by one tile, each way

    def __init__(self, parent: Source, crispness: float = 0.0, nearby: bool = False) -> None:
        self.parent = parent
        self.height, self.width = parent.height * self.zoom, parent.width * self.zoom
        self.channels = parent.channels
        self.dtype = _DEEP
        self.nearby = nearby
        # Parent pixels covered by one tile, down and across.
        self.tile = self._side(parent.height), self._side(parent.width)
        high, wide = self._sides()
        across = -(-self.width // wide)
        # A rotated print's band crosses many rows of tiles.
        rows = _ROWS_KEPT + int(crispness * self.width / high) + 1
        self._most = max(3, min(rows * across, _MOST_BYTES // (high * wide * self.channels * 2)))
        self._tiles: OrderedDict[tuple[int, int], Future[Codes]] = OrderedDict()
        self._lock = threading.Lock()

    def _side(self, length: int) -> int:
        """Return the tile side that covers a length of the parent with the fewest tiles."""
        return even_side(length, -(-length // self.largest), SQUARE)

    def _sides(self) -> tuple[int, int]:
        """Return a tile's height and width."""
        return self.tile[0] * self.zoom, self.tile[1] * self.zoom

    def block(
        self, top: int, left: int, height: int, width: int, job: Job = IDLE
    ) -> NDArray[np.uint16]:
        """Return samples (height, width, C), uint16, of a region inside the picture."""
        if self.nearby:
            return self._nearby_block(top, left, height, width, job)
        out = np.empty((height, width, self.channels), _DEEP)
        high, wide = self._sides()
        places = [
            (row, column)
            for row in range(top // high, (top + height - 1) // high + 1)
            for column in range(left // wide, (left + width - 1) // wide + 1)
        ]
        # Neighbours share tiles: if every thread waited for the other's tile, they would run one by
        # one.
        for waits in (False, True):
            others = []
            for row, column in places:
                tile = self._tile(row, column, waits, job)
                if tile is None:
                    others.append((row, column))
                    continue
                y, x = row * high, column * wide
                y0, y1 = max(top, y), min(top + height, y + high)
                x0, x1 = max(left, x), min(left + width, x + wide)
                out[y0 - top : y1 - top, x0 - left : x1 - left] = tile[
                    y0 - y : y1 - y, x0 - x : x1 - x
                ]
            places = others
        return out

    def _nearby_block(
        self, top: int, left: int, height: int, width: int, job: Job
    ) -> NDArray[np.uint16]:
        y, x = (at // self.zoom // SQUARE * SQUARE for at in (top, left))
        high, wide = (
            -(-end // (self.zoom * SQUARE)) * SQUARE - start
            for end, start in ((top + height, y), (left + width, x))
        )
        y0, x0 = top - y * self.zoom, left - x * self.zoom
        return self._made((x, y, wide, high), job)[y0 : y0 + height, x0 : x0 + width]

    def holds(self, y: int, x: int) -> bool:
        """Return whether a pixel is in a tile that is kept."""
        high, wide = self._sides()
        with self._lock:
            entry = self._tiles.get((y // high, x // wide))
        return entry is not None and entry.done()

    def _tile(self, row: int, column: int, waits: bool, job: Job) -> np.ndarray | None:
        """Return a tile; None if another thread is computing it and this one should not wait."""
        key = (row, column)
        while True:
            with self._lock:
                entry = self._tiles.get(key)
                mine = entry is None
                if entry is None:
                    entry = self._tiles[key] = Future()
                    while len(self._tiles) > self._most:
                        self._tiles.popitem(last=False)
                else:
                    self._tiles.move_to_end(key)
            if not mine:
                if not waits and not entry.done():
                    return None
                try:
                    return entry.result()
                except Cancelled:
                    # Another view was abandoned; continue unless this one was too.
                    job.check()
                    continue
            try:
                job.check()
                high, wide = self.tile
                result = self._made((column * wide, row * high, wide, high), job)
            except BaseException as why:
                with self._lock:
                    self._tiles.pop(key, None)
                entry.set_exception(why)
                raise
            entry.set_result(result)
            return result

    def padded(self, place: Box, pad: int, job: Job) -> np.ndarray:
        """Return a part of the parent with its surroundings, as planes (C, H, W) of 0 to 1.

        Parameters
        ----------
        place : (int, int, int, int)
            Left, top, width and height in the parent.
        pad : int
            Extra pixels on every side.
        """
        left, top, wide, high = place
        rows = reflect(top + np.arange(-pad, high + pad), self.parent.height)
        columns = reflect(left + np.arange(-pad, wide + pad), self.parent.width)
        y, x = int(rows.min()), int(columns.min())
        block = self.parent.block(y, x, int(rows.max()) + 1 - y, int(columns.max()) + 1 - x, job)
        codes = block[rows - y][:, columns - x]
        most = np.float32(np.iinfo(codes.dtype).max)
        return np.ascontiguousarray(codes.transpose(2, 0, 1)).astype(np.float32) / most

    @abstractmethod
    def _made(self, place: Box, job: Job) -> NDArray[np.uint16]:
        """Compute one tile from its place in the parent: (H · zoom, W · zoom, C), uint16."""


def even_side(length: int, count: int, step: int = 1) -> int:
    """Return the side, a whole number of steps, of tiles that cover a length evenly.

    Parameters
    ----------
    count : int
        Number, 1 or more.
    """
    return -(-length // (count * step)) * step


def luma_of(planes: Plane) -> Plane:
    """Return the lightness (H, W) of planes (C, H, W)."""
    if planes.shape[0] == 1:
        return planes[0]
    return np.asarray(planes[0] * LUMA[0] + planes[1] * LUMA[1] + planes[2] * LUMA[2])


def to_codes(planes: Plane) -> NDArray[np.uint16]:
    """Return planes (C, H, W) as samples (H, W, C), uint16."""
    codes = np.clip(planes, 0, 1) * _MOST + np.float32(0.5)
    return np.ascontiguousarray(codes.astype(_DEEP).transpose(1, 2, 0))
