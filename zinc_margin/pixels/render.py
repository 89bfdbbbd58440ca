"""``Renderer``: turns a photo and a plan into finished pixels: whole, in bands, or one region.

It works tile by tile; a tile's pixels depend only on their positions (see `lookup`).
"""

from __future__ import annotations

import os
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor, as_completed
from typing import Any

import numpy as np

from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.kernels import kernels
from zinc_margin.photo.arrays import Codes, Plane
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels import loop_cache
from zinc_margin.pixels.page import BAND_ROWS, Rendered
from zinc_margin.pixels.repair import Repaired, RepairedTwice
from zinc_margin.pixels.source import Source, Stored
from zinc_margin.pixels.tiles import even_side
from zinc_margin.pixels.tone_tables import Tables, make_tables
from zinc_margin.pixels.upscale import Doubled
from zinc_margin.pixels.weights import (
    HOLD,
    Axis,
    axis,
    gaussian,
    numbers_of,
    reflect,
    series,
    steepness,
    taps_for,
    widening,
)
from zinc_margin.plan.model import PrintPlan
from zinc_margin.plan.pixels.response import away_from_soft
from zinc_margin.plan.sharpen.eye import BROAD

_BROAD_PX = 2.0
"""Sigma, in px, from which the broad blur works at half size."""
_OWN_BLUR = 1.5
"""The blur of halving and enlarging; see `half_size`."""
TILE_COLUMNS = 1024  # px; tiles small enough to give every thread work
_REGION_TILE = 480
"""Tile size for regions, which are for viewing: small, so all threads start quickly."""


class Renderer(Rendered):
    """Renders one plan of one photo.

    Parameters
    ----------
    plan : PrintPlan
        A plan made with the photo's facts.
    threads : int, optional
        Number of threads; all processors by default.
    bits : int, optional
        8 or 16; the plan's by default.
    nearby : bool
        Repair and enlarge only what a region needs: see `Tiled`. For a small region at once.
    """

    def __init__(
        self,
        photo: Photo,
        plan: PrintPlan,
        threads: int | None = None,
        bits: int | None = None,
        nearby: bool = False,
    ) -> None:
        self.photo = photo
        self.plan = plan
        self.threads = threads or max(1, min(16, os.cpu_count() or 1))
        eight = (bits or plan.file.bits) == 8
        self.dtype: np.dtype[Any] = np.dtype(np.uint8 if eight else np.uint16)
        self.shape = (plan.pixels.height, plan.pixels.width, photo.codes.shape[2])
        self._source = _source_of(photo, plan, nearby)
        self._tables: Tables = make_tables(photo.colour, self._source.dtype)
        self._axes: dict[tuple[bool, int, int], Axis] = {}
        learned = plan.pixels.doublings > 0
        # an AI enlargement is adjusted by the share of its correction instead
        self._hardness = 0.0 if learned else away_from_soft(plan.pixels.hardness)
        self._zoom = 2**plan.pixels.doublings
        self._scale = plan.pixels.scale / self._zoom
        self._steep = np.float32(steepness(plan.pixels.method, float(plan.pixels.scale)))
        sharpen = plan.sharpen
        self._sharpens = sharpen is not None and sharpen.amount > 0
        self._toned = self._sharpens or plan.grain is not None
        self._fine = self._broad = np.empty(0, np.float32)
        self._apron, self._near, self._halves = 0, 0, False
        self._held: tuple[np.float32, ...] = (np.float32(0),) * 6
        if sharpen is not None and self._sharpens:
            broad = BROAD * sharpen.sigma_px
            self._halves = broad >= _BROAD_PX
            self._fine = gaussian(sharpen.sigma_px)
            self._broad = gaussian(((broad**2 - _OWN_BLUR) / 4) ** 0.5 if self._halves else broad)
            self._near = min(12, max(1, round(1.5 * sharpen.sigma_px)))
            reach = len(self._broad) - 1
            self._apron = max(2 * reach + 3 if self._halves else reach, self._near)
            numbers = (
                sharpen.amount,
                sharpen.breadth,
                sharpen.halo,
                sharpen.noise,
                sharpen.shadows,
                sharpen.highlights,
            )
            self._held = tuple(np.float32(number) for number in numbers)

    @property
    def loops(self) -> frozenset[str]:
        """The kinds of compiled loops that it needs; see `loop_cache.wait`."""
        pixels, channels = self.plan.pixels, self._source.channels
        found = {"grey" if channels == 1 else "colour"}
        found.add(f"from {self._source.dtype.itemsize * 8} bits")
        found.add(f"to {self.dtype.itemsize * 8} bits")
        if pixels.method is not None:
            turned = "" if self.plan.turned.square else "rotated, "
            found.add(turned + ("reduced" if self._scale < 1 else "enlarged"))
        if pixels.doublings:
            found.add("doubled")
        if self._toned:
            found.add("sharpened, broadly" if self._halves else "sharpened")
        if self.plan.grain is not None:
            found.add("grained")
        return frozenset(found)

    def bands(self, job: Job = IDLE) -> Iterator[Codes]:
        """Yield the whole file, `BAND_ROWS` rows at a time, from the top.

        Three bands are in flight; memory does not depend on the print's height.

        Raises
        ------
        Cancelled
            Soon after the job is cancelled.
        """
        loop_cache.wait(self.loops, job)
        height, width, channels = self.shape
        tops = deque(range(0, height, BAND_ROWS))
        lefts = _apart(range(0, width, TILE_COLUMNS), self.threads)
        flying: deque[tuple[np.ndarray, list[Future[None]]]] = deque()
        total, done = len(tops) * len(lefts), 0
        pool = ThreadPoolExecutor(self.threads, "render")

        def tile(band: Codes, left: int, top: int) -> None:
            if not job.cancelled:
                part = band[:, left : left + TILE_COLUMNS]
                self._fill(part, left, top, job)

        try:
            while tops or flying:
                while tops and len(flying) < 3:
                    top = tops.popleft()
                    band = np.empty((min(BAND_ROWS, height - top), width, channels), self.dtype)
                    flying.append((band, [pool.submit(tile, band, left, top) for left in lefts]))
                band, tiles = flying.popleft()
                for work in tiles:
                    work.result()
                    done += 1
                    job.check()
                    job.report(done / total)
                yield band
        finally:
            stop_pending = [work for _, tiles in flying for work in tiles]
            for work in stop_pending:
                work.cancel()
            pool.shutdown(wait=True)

    def region(
        self,
        left: int,
        top: int,
        width: int,
        height: int,
        job: Job = IDLE,
        out: Codes | None = None,
        arrived: Callable[[], object] = lambda: None,
    ) -> Codes:
        """Return part of the file, the same to the bit as in its bands.

        Parameters
        ----------
        left, top, width, height : int
            Inside the file.
        out : ndarray (height, width, C), optional
            Where to write it, the middle first.
        arrived : callable
            Called whenever a part has been written.

        Returns
        -------
        ndarray (height, width, C)

        Raises
        ------
        Cancelled
            Soon after the job is cancelled.
        """
        full_height, full_width, channels = self.shape
        if left < 0 or top < 0 or left + width > full_width or top + height > full_height:
            raise ValueError("the region reaches outside the file")
        loop_cache.wait(self.loops, job)
        if out is None:
            out = np.empty((height, width, channels), self.dtype)

        def tile(place: tuple[int, int]) -> None:
            x, y = place
            job.check()
            part = out[y : y + step_y, x : x + step_x]
            self._fill(part, left + x, top + y, job)

        step_x, step_y = (
            even_side(side, max(1, round(side / _REGION_TILE))) for side in (width, height)
        )
        places = [(x, y) for y in range(0, height, step_y) for x in range(0, width, step_x)]
        places.sort(
            key=lambda at: abs(2 * at[0] + step_x - width) + abs(2 * at[1] + step_y - height)
        )
        with ThreadPoolExecutor(self.threads, "region") as pool:
            for done in as_completed([pool.submit(tile, place) for place in places]):
                done.result()
                arrived()
        return out

    def holds(self, x: int, y: int) -> bool:
        """Return whether a pixel of the picture needs no network any more."""
        x0, xx, xy, y0, yx, yy = self.plan.turned.set_map(self.plan.crop)
        across, down = x / self._scale, y / self._scale
        places = (
            (self._zoom * start + of_x * across + of_y * down, side)
            for start, of_x, of_y, side in (
                (y0, yx, yy, self._source.height),
                (x0, xx, xy, self._source.width),
            )
        )
        return self._source.holds(*(min(max(int(at), 0), side - 1) for at, side in places))

    # One tile, in file pixels: white bands and the picture.

    def _fill(self, out: Codes, left: int, top: int, job: Job) -> None:
        height, width = out.shape[:2]
        px, py, pw, ph = self.plan.picture
        x0, x1 = max(left, px), min(left + width, px + pw)
        y0, y1 = max(top, py), min(top + height, py + ph)
        there = x0 < x1 and y0 < y1
        if there:
            part = self._picture(x0 - px, y0 - py, x1 - x0, y1 - y0, (x0, y0), job)
        if (x0, y0, x1, y1) != (left, top, left + width, top + height):
            out[:] = np.iinfo(self.dtype).max
        if there:
            out[y0 - top : y1 - top, x0 - left : x1 - left] = part

    def _picture(
        self, left: int, top: int, width: int, height: int, at: tuple[int, int], job: Job
    ) -> np.ndarray:
        """Render part of the picture; `at` is its place in the file."""
        from zinc_margin.pixels import coding

        out = np.empty((height, width, self._source.channels), self.dtype)
        if self.plan.pixels.method is None and not self._toned:
            stored = self._stored(left, top, width, height, job)
            if stored.dtype == self.dtype:
                return stored
        planes = self._resampled(left, top, width, height, job)
        if self._toned:
            self._sharpen(planes, *at)
        most = int(np.iinfo(self.dtype).max)
        coding.pack(planes, self._apron, self._tables.final, *at, most, out)
        return out

    def _stored(self, left: int, top: int, width: int, height: int, job: Job) -> Codes:
        x, y = int(self.plan.crop.left) + left, int(self.plan.crop.top) + top
        return self._source.block(y, x, height, width, job)

    # resampling

    def _resampled(self, left: int, top: int, width: int, height: int, job: Job) -> Plane:
        """Return working values (C, H + 2·apron, W + 2·apron), reflected at the picture's edge."""
        apron = self._apron
        _, _, picture_width, picture_height = self.plan.picture
        columns = _span(left - apron, width + 2 * apron, picture_width)
        rows = _span(top - apron, height + 2 * apron, picture_height)
        box = (columns.inner, rows.inner, columns.count, rows.count)
        planes = self._rendered(*box, job)
        if columns.whole and rows.whole:
            return planes
        return planes.take(rows.take, axis=1).take(columns.take, axis=2)

    def _rendered(self, left: int, top: int, width: int, height: int, job: Job) -> np.ndarray:
        from zinc_margin.pixels import loops

        method = self.plan.pixels.method
        if method is None:
            crop = self.plan.crop
            return self._slab(
                int(crop.left) + left, int(crop.top) + top, width, height, self._tables.work, job
            )
        linear = self._scale < 1
        table = self._tables.linear if linear else self._tables.work
        if self.plan.turned.square:
            planes = self._straight(method, left, top, width, height, table, job)
        else:
            planes = self._turned(method, left, top, width, height, table, job)
        if linear:
            loops.encode(planes, self._tables.encode)
        return planes

    def _slab(
        self, left: int, top: int, width: int, height: int, table: np.ndarray, job: Job
    ) -> np.ndarray:
        """Read part of the rotated picture, reflected beyond its edges, as planes of floats."""
        from zinc_margin.pixels import loops

        rows = reflect(np.arange(top, top + height), self._source.height)
        columns = reflect(np.arange(left, left + width), self._source.width)
        y, x = int(rows.min()), int(columns.min())
        block = self._source.block(y, x, int(rows.max()) + 1 - y, int(columns.max()) + 1 - x, job)
        planes = np.empty((block.shape[2], height, width), np.float32)
        loops.unpack(block, table, rows - y, columns - x, planes)
        return planes

    def _axis(self, horizontal: bool, first: int, count: int) -> Axis:
        key = (horizontal, first, count)
        entry = self._axes.get(key)
        if entry is None:
            crop, pixels = self.plan.crop, self.plan.pixels
            assert pixels.method is not None
            offset = (crop.left if horizontal else crop.top) * self._zoom
            entry = axis(pixels.method, offset, self._scale, first, count, self._hardness)
            if len(self._axes) > 200:
                self._axes.clear()
            self._axes[key] = entry
        return entry

    def _straight(
        self, method: str, left: int, top: int, width: int, height: int, table: np.ndarray, job: Job
    ) -> np.ndarray:
        from zinc_margin.pixels import loops
        from zinc_margin.pixels.enlarge import enlarge

        horizontal, vertical = self._axis(True, left, width), self._axis(False, top, height)
        x0, y0 = int(horizontal.starts[0]), int(vertical.starts[0])
        slab_width = int(horizontal.starts[-1]) + horizontal.weights.shape[1] - x0
        slab_height = int(vertical.starts[-1]) + vertical.weights.shape[1] - y0
        slab = self._slab(x0, y0, slab_width, slab_height, table, job)
        out = np.empty((slab.shape[0], height, width), np.float32)
        if self._scale < 1:
            loops.reduce(
                slab,
                horizontal.starts - x0,
                horizontal.weights,
                horizontal.near,
                vertical.starts - y0,
                vertical.weights,
                vertical.near,
                self._steep,
                out,
                np.empty((5, slab_width), np.float32),
            )
            return out
        for channel in range(slab.shape[0]):
            enlarge(
                slab[channel],
                horizontal.starts - x0,
                horizontal.weights,
                horizontal.near,
                vertical.starts - y0,
                vertical.weights,
                vertical.near,
                self._steep,
                out[channel],
            )
        return out

    def _turned(
        self, method: str, left: int, top: int, width: int, height: int, table: np.ndarray, job: Job
    ) -> np.ndarray:
        from zinc_margin.pixels import rotate

        plan = self.plan
        scale = float(self._scale)
        widen, taps = widening(scale), taps_for(method, scale)
        # The map is for the upright picture; quarter turns are already applied to the samples.
        x0, xx, xy, y0, yx, yy = plan.turned.set_map(plan.crop)
        x0, y0 = x0 * self._zoom, y0 * self._zoom
        steps = np.array([xx, xy, yx, yy]) / scale
        # Count positions from the print's corner, so tiles agree exactly.
        corners = [
            (
                x0 + steps[0] * (c + 0.5) + steps[1] * (r + 0.5),
                y0 + steps[2] * (c + 0.5) + steps[3] * (r + 0.5),
            )
            for c in (left, left + width)
            for r in (top, top + height)
        ]
        margin = taps // 2 + 3
        place = (int(min(x for x, _ in corners)) - margin, int(min(y for _, y in corners)) - margin)
        size = (
            int(max(x for x, _ in corners)) + margin + 2 - place[0],
            int(max(y for _, y in corners)) + margin + 2 - place[1],
        )
        slab = self._slab(*place, *size, table, job)
        out = np.empty((slab.shape[0], height, width), np.float32)
        mixes = kernels()[method].mixes
        hold = HOLD if mixes else 0.0
        if scale >= 1 and mixes:
            least, most = (
                np.empty((slab.shape[0], slab.shape[1] - 3, slab.shape[2] - 3), np.float32)
                for _ in range(2)
            )
            rotate.range_of(slab, 4, least, most)
            rotate.rotate_close(
                slab,
                least,
                most,
                (x0 - 0.5, y0 - 0.5),
                steps,
                (left, top),
                place,
                series(method, self._hardness),
                hold,
                self._steep,
                out,
            )
            return out
        rotate.rotate(
            slab,
            (x0 - 0.5, y0 - 0.5),
            steps,
            (left, top),
            place,
            *numbers_of(method),
            widen,
            kernels()[method].support,
            self._hardness,
            taps,
            hold,
            self._steep,
            out,
        )
        return out

    # sharpening

    def _sharpen(self, planes: Plane, x: int, y: int) -> None:
        """Sharpen working values inside their apron, and add grain, in place.

        (x, y) is the position in the file of the area inside the apron.
        """
        from zinc_margin.pixels.sharpening import sharpen

        tables = self._tables
        tones = tables.decoding, tables.encoding, tables.to_xyz, tables.from_xyz
        grain = self.plan.grain
        size, deviation = (0.0, 0.0) if grain is None else (grain.size_px, grain.deviation)
        kernels = self._fine, self._broad, self._halves, self._near
        grained = x, y, size, np.float32(deviation)
        sharpen(planes, self._apron, tones, kernels, self._held, grained)


def _apart(lefts: range, threads: int) -> list[int]:
    """Return tiles in an order that keeps threads apart, because neighbours share source tiles."""
    share = -(-len(lefts) // threads)
    return [left for first in range(share) for left in lefts[first::share]]


class _span:
    """The part of a run of outputs inside the picture, and the indices that reflect the rest."""

    def __init__(self, first: int, count: int, size: int) -> None:
        wanted = reflect(np.arange(first, first + count), size)
        self.inner = int(wanted.min())
        self.count = int(wanted.max()) - self.inner + 1
        self.whole = first >= 0 and first + count <= size
        self.take = wanted - self.inner


def _source_of(photo: Photo, plan: PrintPlan, nearby: bool) -> Source:
    """Return the source for resampling: rotated by quarters, repaired and doubled."""
    source: Source = Stored(photo, plan.turned, plan.matte)
    pixels, slope = plan.pixels, plan.turned.slope
    cleaners, with_seen, doublings = plan.networks
    if with_seen:
        source = RepairedTwice(
            source, pixels.repair, cleaners, with_seen, pixels.share, slope, nearby
        )
    elif pixels.repair.any:
        source = Repaired(source, pixels.repair, cleaners, slope, nearby)
    for enlargers in doublings:
        source = Doubled(source, enlargers, pixels.share, slope, nearby)
    return source
