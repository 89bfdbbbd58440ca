"""Write a file within a byte limit: reduce the quality first, then the pixels."""

from __future__ import annotations

import io
import math
from dataclasses import replace
from functools import cache

from PIL import Image

from zinc_margin.handoff import conversion, metadata
from zinc_margin.handoff.formats.bands import gather
from zinc_margin.handoff.formats.jpeg import jpeg_data, with_segments
from zinc_margin.handoff.formats.registry import Writer
from zinc_margin.handoff.outgoing import Outgoing, Received
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.errors import CannotDo
from zinc_margin.measure.words import size_in_bytes
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.pixels import Photo
from zinc_margin.plan.file.byte_limit import LEAST_QUALITY
from zinc_margin.plan.model import PrintPlan

ENOUGH = 0.985
"""Share of the limit at which the search stops."""

_STEPS = 64
"""Steps between two integer qualities: coefficients of the tables change one by one."""
_MOST_TRIES = 12


def write_within(part: Outgoing, photo: Photo, plan: PrintPlan, job: Job = IDLE) -> PrintPlan:
    """Write a file of at most the plan's `max_bytes`, and at least 97 % of it if it was binding.

    Returns
    -------
    PrintPlan
        The final plan.

    Raises
    ------
    CannotDo
        If not even the smallest picture fits.
    """
    search = _Search(part, photo, plan, job)
    return search.jpeg() if plan.file.format == "jpeg" else search.pixels_alone()


class _Search:
    def __init__(self, part: Outgoing, photo: Photo, plan: PrintPlan, job: Job) -> None:
        assert plan.file.max_bytes is not None
        self.part, self.photo, self.plan, self.limit = part, photo, plan, plan.file.max_bytes
        self.job = job
        self.tries = 0
        self.icc = b""
        fit = plan.file.fit
        self.start = 1.0 if fit is None else fit.times
        self.top = plan.file.quality if fit is None else fit.free_quality

    def jpeg(self) -> PrintPlan:
        """Reduce the quality; if the lowest quality is still too large, also the pixels."""
        codes = self._rendered(self.plan)
        size = self._write_jpeg(codes, self.plan, None)
        if size <= self.limit and self.plan.file.fit is None:
            return self.plan
        overhead = size - len(jpeg_data(codes, self.plan, self.icc))
        budget = self.limit - overhead
        plan, low = self.plan, min(LEAST_QUALITY, self.top)
        least = len(self._encoded(codes, plan, low * _STEPS))
        times = self.start
        best: tuple[float, float] | None = None
        too_large = 1.0
        while not (budget * 0.9 <= least <= budget) and (least > budget or times < 1):
            if least <= budget:
                best = (times, least)
            else:
                too_large = times
            guess = times * math.sqrt(0.985 * budget / least) if budget > 0 else 0.0
            if best is not None and not best[0] < guess < too_large:
                # All pixels fit if no smaller number has been too many.
                guess = 1.0 if too_large == 1 else (best[0] + too_large) / 2
            times = guess
            plan = self._smaller(times)
            codes = self._rendered(plan)
            least = len(self._encoded(codes, plan, low * _STEPS))
            if self._tired() and least <= budget:
                break
        step = self._finest(codes, plan, low * _STEPS, self.top * _STEPS, budget)
        plan = _as_made(plan, step // _STEPS, self.limit)
        self._write_jpeg(codes, plan, _tables(step))
        if self.part.size > self.limit:  # the metadata's length may have changed
            self._write_jpeg(codes, plan, _tables(max(low * _STEPS, step - _STEPS)))
        return plan

    def _finest(self, codes: Codes, plan: PrintPlan, low: int, high: int, budget: int) -> int:
        """Return the highest step from `low` (which fits) to `high` whose data fit."""
        if len(self._encoded(codes, plan, high)) <= budget:
            return high
        while high - low > 1:
            middle = (low + high) // 2
            size = len(self._encoded(codes, plan, middle))
            if size > budget:
                high = middle
            else:
                low = middle
                if size >= ENOUGH * budget:
                    break
        return low

    def pixels_alone(self) -> PrintPlan:
        """Write with successively better estimates of the pixel count that fits."""
        plan, times = self.plan, self.start
        fits, too_large = 0.0, math.inf
        certain = plan.file.fit is not None and plan.file.fit.exact
        while True:
            size = self._write_bands(plan)
            enough = certain or times == 1 or size >= ENOUGH * self.limit
            if size <= self.limit and (enough or self._tired()):
                return _as_made(plan, plan.file.quality, size)
            if size <= self.limit:
                fits = max(fits, times)
            else:
                too_large = min(too_large, times)
                certain = False
                self._tired()
            guess = times * math.sqrt(0.9925 * self.limit / size)
            if not fits < guess < min(too_large, 1.0):
                guess = 1.0 if too_large > 1 else (fits + too_large) / 2
            times = guess
            plan = self._smaller(times)

    def _smaller(self, times: float) -> PrintPlan:
        """Return the plan with its pixels scaled by a factor each way; the print size stays."""
        smaller = self.plan.fewer_pixels(times)
        if smaller is None:
            raise CannotDo(
                f"This picture does not fit into {size_in_bytes(self.limit)} with its profile "
                "and metadata; nothing was written. Choose a higher limit."
            )
        # Reports describe what the limit changed.
        return replace(smaller, file=replace(smaller.file, fit=self.plan.file.fit))

    def _rendered(self, plan: PrintPlan) -> Codes:
        bands, self.icc = conversion.file_bands(self.photo, plan, self._next_job())
        return gather(bands, plan)

    def _write_bands(self, plan: PrintPlan) -> int:
        self.part.clear()
        bands, icc = conversion.file_bands(self.photo, plan, self._next_job())
        Writer(plan).write(self.part, bands, icc, self.photo.facts.path)
        return self.part.size

    def _write_jpeg(self, codes: Codes, plan: PrintPlan, tables: list[list[int]] | None) -> int:
        data = jpeg_data(codes, plan, self.icc, tables)
        self.part.clear()
        self.part.write(with_segments(data, metadata.segments(self.photo.facts.path, plan)))
        self.part.received = Received(self.icc, None)
        return self.part.size

    def _encoded(self, codes: Codes, plan: PrintPlan, step: int) -> bytes:
        self.job.check()
        return jpeg_data(codes, plan, self.icc, _tables(step))

    def _tired(self) -> bool:
        self.tries += 1
        if self.tries > 3 * _MOST_TRIES:
            raise CannotDo(
                "The picture does not fit the limit at any size; nothing was written. Choose a "
                "higher limit."
            )
        return self.tries > _MOST_TRIES

    def _next_job(self) -> Job:
        """Return the job of one rendering: each takes half of the remaining progress."""
        rest = 0.99 * 0.5**self.tries
        return self.job.part(0.99 - rest, rest / 2)


def _as_made(plan: PrintPlan, quality: int, size: int) -> PrintPlan:
    """Return the plan of the actual file: with its quality and bytes, and nothing uncertain."""
    fit = plan.file.fit
    if fit is not None:
        ppi = float(plan.whole.ppi)
        times = min(1.0, ppi / fit.free_ppi)
        fit = replace(fit, times=times, ppi=(ppi, ppi), quality=(quality, quality))
    return replace(plan, file=replace(plan.file, quality=quality, unlimited_bytes=size, fit=fit))


@cache
def _whole_tables(quality: int) -> list[list[int]]:
    """Return the library's quantisation tables for an integer quality."""
    buffer = io.BytesIO()
    Image.new("RGB", (8, 8)).save(buffer, "JPEG", quality=quality)
    with Image.open(buffer) as image:
        return [list(table) for table in image.quantization.values()]  # type: ignore[attr-defined]


def _tables(step: int) -> list[list[int]]:
    """Return tables between two integer qualities: coefficient by coefficient, finest first."""
    quality, taken = divmod(step, _STEPS)
    low = _whole_tables(quality)
    if not taken:
        return low
    high = _whole_tables(min(100, quality + 1))
    order = sorted(range(64), key=lambda at: -(at // 8 + at % 8))
    chosen = set(order[:taken])
    return [
        [new if at in chosen else old for at, (old, new) in enumerate(zip(one, two, strict=True))]
        for one, two in zip(low, high, strict=True)
    ]
