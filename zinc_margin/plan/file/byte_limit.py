"""The effect of a byte limit on a print: quality gives way first, then pixels."""

from __future__ import annotations

from dataclasses import replace
from typing import TypeVar

from zinc_margin.measure.formats import formats
from zinc_margin.plan.file.prediction import bytes_at_quality, quality_for
from zinc_margin.plan.model import Plan, PrintPlan
from zinc_margin.plan.parts import ByteFit, FileParts

LEAST_QUALITY = 80
"""A byte limit lowers the quality down to this value; then it lowers the pixel count."""

_SPREAD, _SPREAD_PPI = 1.19, 1.12
"""Factors by which the bytes of a compressed file, and the ppi that fits a limit, may differ from
the prediction: 19 of 20 files are within them.
"""
_SPREAD_ON_SCREEN, _SPREAD_PPI_ON_SCREEN = 1.5, 1.3
"""The same for WebP and JPEG XL, whose encoders cannot be predicted as closely."""
_SPREAD_PPI_UNKNOWN = 2.0
"""The same where profile and metadata leave hardly any bytes to the picture."""
_BYTES_POWER = 0.6
"""Pixels each way grow with about this power of the bytes: fewer pixels have more detail each."""
_FINER = 3
"""Pixels are lowered in coarse steps; the quality then ends up to this much above the lowest."""
_ROUNDS = 8
_CLOSE = 0.003
"""The search ends within this share below the limit."""

AnyPlan = TypeVar("AnyPlan", bound=PrintPlan)


def fit_to_limit(free: Plan) -> Plan:
    """Return a plan whose file is predicted to stay within its byte limit.

    Parameters
    ----------
    free : Plan
        The complete plan, as if there were no limit.
    """
    file, exact = free.file, _is_exact(free.file)
    spread, spread_ppi = _SPREAD, _SPREAD_PPI
    if formats()[file.format].screen:
        spread, spread_ppi = _SPREAD_ON_SCREEN, _SPREAD_PPI_ON_SCREEN
    if exact:
        spread = spread_ppi = 1.0
    if file.max_bytes is None or file.unlimited_bytes * spread <= file.max_bytes:
        return free
    qualities = [quality_within(file, file.max_bytes * by) for by in (1 / spread, 1, spread)]
    smallest = at_quality(free, qualities[1])
    fitted, times = smallest, 1.0
    if smallest.file.unlimited_bytes > file.max_bytes:
        fitted, times = _with_fewer_pixels(free, qualities[1], file.max_bytes)
    if fitted.file.unlimited_bytes > file.max_bytes:
        exact, spread_ppi = False, _SPREAD_PPI_UNKNOWN
    least = bytes_at_quality(file.unlimited_bytes, file.quality, qualities[0])
    room = 1.0 if exact else min(1.0, file.max_bytes / spread / least) ** _BYTES_POWER
    low = room if times == 1 else times / spread_ppi
    high = min(1.0, times * spread_ppi)
    ppi, own = float(free.whole.ppi), float(fitted.whole.ppi)
    finest = min(file.quality, qualities[1] + _FINER) if times < 1 else qualities[1]
    fit = ByteFit(
        times=times,
        ppi=(own, own) if exact else (ppi * low, ppi * high),
        quality=(qualities[0], max(qualities[2], finest)),
        free_ppi=ppi,
        free_quality=file.quality,
        free_bytes=file.unlimited_bytes,
    )
    return replace(fitted, file=replace(fitted.file, fit=fit))


def quality_within(file: FileParts, limit: float) -> int:
    """Return the quality to which a limit lowers a file's, before pixels give way."""
    if file.format != "jpeg":
        return file.quality
    least = min(LEAST_QUALITY, file.quality)
    return max(least, quality_for(file.quality, limit / file.unlimited_bytes))


def at_quality(plan: AnyPlan, quality: int) -> AnyPlan:
    """Return the plan of a lossy file with another quality."""
    file = plan.file
    size = bytes_at_quality(file.unlimited_bytes, file.quality, quality)
    return replace(plan, file=replace(file, quality=quality, unlimited_bytes=size))


def _is_exact(file: FileParts) -> bool:
    # The profile that the user chose may be large, and is not read before the file is made.
    is_known = formats()[file.format].raw and file.compression == "none"
    return is_known and file.colour != "icc"


def _with_fewer_pixels(free: Plan, quality: int, limit: int) -> tuple[Plan, float]:
    """Return the largest plan whose predicted bytes are within a limit, and its factor.

    If profile and metadata alone exceed the limit, return the smallest plan that was tried.
    """
    least = bytes_at_quality(free.file.unlimited_bytes, free.file.quality, quality)
    best: tuple[Plan, float] = free, 1.0
    fits, too_large = 0.0, 1.0
    times, area, size = (limit / least) ** 0.5, 1.0, least
    for _ in range(_ROUNDS):
        fewer = free.fewer_pixels(times)
        if not isinstance(fewer, Plan):  # no picture remains; if none fits, the writer reports it
            break
        trial = at_quality(fewer, quality)
        before, size = (area, size), trial.file.unlimited_bytes
        area = times * times
        if size <= limit:
            best, fits = (trial, times), times
            if size >= limit * (1 - _CLOSE):
                break
        else:
            too_large = times
            best = best if fits else (trial, times)
        # Bytes are nearly linear in the area, but not proportional: profile and metadata stay.
        slope = (before[1] - size) / (before[0] - area)
        times = (
            max(0.0, area + ((1 - _CLOSE / 3) * limit - size) / slope) ** 0.5 if slope > 0 else 0
        )
        if not fits < times < too_large:  # whole pixels are steps, on which a search can stand
            times = ((fits or 0.9 * too_large) + too_large) / 2
    return best
