"""The detail that a file holds and that enlarging preserves, measured on photographs.

`benchmarks/measure_response.py` makes the tables: it reduces known photographs, codes them as JPEG,
enlarges them again, and compares them frequency by frequency.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache

import numpy as np

from zinc_margin.measure.kernels import kernels
from zinc_margin.measure.tables import table
from zinc_margin.plan.parts import Coding
from zinc_margin.plan.pixels.response import response

STEP = 0.05
"""Step between the tables' frequencies, in cycles per pixel of the photo; values are for the middle
of each step.
"""
_STANDS_FOR = {"ai-fine": "ai"}
_PLAIN = "lanczos"
"""The kernel that was measured with every quality; others differ from it by their response."""
_MOST_TAKEN = 4.0
"""A coarse JPEG's artefacts can exceed the photo's own faint detail."""


CLEAN = Coding()
"""A file that was never coded as JPEG."""


@dataclass(frozen=True, eq=False)
class Kept:
    """The photo's detail after enlarging, by frequency.

    Attributes
    ----------
    own : ndarray (N,)
        Share of the photo's own detail that survives, 0 to 1.
    energy : ndarray (N,)
        Power of the result, including false detail, relative to the photo's.
    taken : ndarray (N,)
        Power remaining in the file, relative to the photo before it was reduced and coded.
    """

    own: np.ndarray
    energy: np.ndarray
    taken: np.ndarray


def _coarseness(quality: float | None) -> float:
    """Return the coarseness of a JPEG's steps: 0 for none, 1 for quality 50.

    The tables are interpolated along the square root of the standard's factor for its tables,
    along which the loss of detail is nearly even.
    """
    if quality is None:
        return 0.0
    quality = min(100.0, max(1.0, quality))
    return math.sqrt(2 - quality / 50 if quality >= 50 else 50 / quality)


Rows = dict[int, tuple[np.ndarray, np.ndarray, np.ndarray]]
"""For each factor: the coarseness of its rows (R,), and their `kept` and `energy` (R, N)."""


@cache
def _rows(method: str, repaired: bool) -> Rows:
    """Return the measured rows of a method; with repair, a clean file's row is the same."""
    groups: dict[int, list[tuple[float, list[float], list[float]]]] = {}
    for row in table("enlarged")["rows"]:
        # nothing is enlarged by factor 1, so its rows stand for every method
        fits = row["method"] == method or row["factor"] == 1
        if fits and row["repaired"] in (repaired, None):
            coarse = _coarseness(row["quality"])
            groups.setdefault(row["factor"], []).append((coarse, row["kept"], row["energy"]))
    result = {}
    for factor, rows in sorted(groups.items()):
        rows.sort(key=lambda row: row[0])
        steps, kept, energy = (np.array(part) for part in zip(*rows, strict=True))
        result[factor] = (steps, kept, energy)
    return result


def _between(rows: Rows, scale: float, coarse: float) -> tuple[np.ndarray, np.ndarray]:
    """Return `kept` and `energy` (N,) for a factor and a coarseness."""
    factors = list(rows)
    place = min(max(math.log2(scale), 0.0), math.log2(factors[-1]))
    results = []
    for which in (1, 2):
        by_factor = np.array([_mix(rows[f][0], rows[f][which], coarse) for f in factors])
        results.append(_mix(np.log2(factors), by_factor, place))
    return results[0], results[1]


def _mix(places: np.ndarray, rows: np.ndarray, place: float) -> np.ndarray:
    """Return the row (N,) at a place among rows (R, N), interpolated linearly."""
    at = int(np.clip(np.searchsorted(places, place) - 1, 0, max(0, len(places) - 2)))
    if len(places) == 1:
        return np.asarray(rows[0])
    share = np.clip((place - places[at]) / (places[at + 1] - places[at]), 0.0, 1.0)
    return np.asarray((1 - share) * rows[at] + share * rows[at + 1])


def _measured(method: str, scale: float, coding: Coding) -> tuple[np.ndarray, np.ndarray]:
    coarse = _coarseness(coding.quality)
    plain = _between(_rows(method, False), scale, coarse)
    if not coding.repaired:
        return plain
    mended = _between(_rows(method, True), scale, coarse)
    own, energy = (
        (1 - coding.repaired) * before + coding.repaired * after
        for before, after in zip(plain, mended, strict=True)
    )
    return own, energy


def surviving_detail(
    method: str | None, scale: float, coding: Coding, frequency: np.ndarray
) -> Kept:
    """Return the detail that survives coding and enlarging, by frequency.

    Parameters
    ----------
    method : str or None
        A key of the kernels; None if pixels are kept.
    scale : float
        Output ÷ source pixels; up to 1 only coding takes detail.
    frequency : ndarray (N,)
        Cycles per pixel of the photo.
    """
    scale = 1.0 if method is None else max(1.0, scale)
    name = _STANDS_FOR.get(method or _PLAIN, method or _PLAIN)
    middles = (np.arange(len(table("enlarged")["rows"][0]["kept"])) + 0.5) * STEP

    def spread(values: np.ndarray) -> np.ndarray:
        return np.interp(frequency, middles, values, right=0.0)

    def measured(called: str, state: Coding) -> tuple[np.ndarray, np.ndarray]:
        own, energy = _measured(called, scale, state)
        return spread(own), spread(energy)

    if kernels()[name].learned:
        own, energy = measured(name, coding)
    else:
        own, energy = measured(_PLAIN, coding)
        if kernels()[name].mixes and name != _PLAIN and scale > 1:
            share = min(1.0, math.log2(scale))
            other = response(name, frequency) / np.maximum(response(_PLAIN, frequency), 1e-3)
            ratio = (1 - share) + share * np.clip(other, 0.0, 1.5)
            own, energy = own * ratio, energy * ratio**2
    _, taken = measured(_PLAIN, Coding(coding.quality))
    return Kept(own, energy, np.clip(taken, 1e-3, _MOST_TAKEN))
