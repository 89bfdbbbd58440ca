"""The detail that enlarging preserves, measured on photographs.

`benchmarks/measure_response.py` makes the tables: it reduces known photographs, enlarges them
again, and compares them frequency by frequency.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache

import numpy as np

from zinc_margin.measure.kernels import kernels
from zinc_margin.measure.tables import table
from zinc_margin.plan.pixels.response import response

STEP = 0.05
"""Step between the tables' frequencies, in cycles per pixel of the photo; values are for the middle
of each step.
"""
_STANDS_FOR = {"ai-fine": "ai", "edges": "lanczos", "blocks": "catmull-rom"}
_CLEANED = {None: 0.0, 75: 36.0, 40: 86.0}
"""The clean-up for JPEGs of the measured qualities."""


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
        Power remaining in the file, relative to the photo before it was reduced.
    """

    own: np.ndarray
    energy: np.ndarray
    taken: np.ndarray


@cache
def _rows() -> dict[tuple[str, int, float], tuple[np.ndarray, np.ndarray]]:
    return {
        (row["method"], row["factor"], _CLEANED[row["quality"]]): (
            np.array(row["kept"]),
            np.array(row["energy"]),
        )
        for row in table("enlarged")["rows"]
    }


def _at(method: str, scale: float, cleaned: float) -> tuple[np.ndarray, np.ndarray]:
    """Return the tables for a factor and a clean-up, interpolated between the measured ones."""
    rows = _rows()
    factors = sorted({factor for one, factor, _ in rows if one == method})
    strengths = sorted({strength for one, _, strength in rows if one == method})
    place = min(max(math.log2(scale), math.log2(factors[0])), math.log2(factors[-1]))
    results = []
    for which in (0, 1):
        by_strength = [
            [
                np.interp(place, np.log2(factors), [rows[method, f, s][which][at] for f in factors])
                for s in strengths
            ]
            for at in range(len(next(iter(rows.values()))[0]))
        ]
        results.append(np.array([np.interp(cleaned, strengths, each) for each in by_strength]))
    return results[0], results[1]


def surviving_detail(
    method: str | None, scale: float, cleaned: float, frequency: np.ndarray
) -> Kept:
    """Return the detail that survives enlarging, by frequency.

    Parameters
    ----------
    method : str or None
        A key of the kernels; None if pixels are kept.
    scale : float
        Output ÷ source pixels; up to 1 nothing of the file is lost.
    cleaned : float
        The clean-up of JPEG's artefacts, 0 to 100.
    frequency : ndarray (N,)
        Cycles per pixel of the photo.
    """
    within = np.where(frequency <= 0.5, 1.0, 0.0)
    if method is None or scale <= 1:
        return Kept(within, within, within)
    name = _STANDS_FOR.get(method, method)
    if not kernels()[name].mixes:
        name = "lanczos"
    middles = (np.arange(len(next(iter(_rows().values()))[0])) + 0.5) * STEP

    def spread(values: np.ndarray) -> np.ndarray:
        return np.interp(frequency, middles, values, right=0.0)

    if any(method == name for method, _, _ in _rows()):
        rows = _at(name, scale, cleaned if kernels()[method].learned else 0.0)
        own, energy = (spread(values) for values in rows)
    else:  # not measured on photographs: use the kernel's response
        own = response(name, frequency)
        energy = own**2
    _, reduced = _at("lanczos", scale, 0.0)
    # Below ×2, less was lost than in the tables.
    share = min(1.0, math.log2(scale))
    own, energy, taken = (
        (1 - share) * within + share * values for values in (own, energy, spread(reduced))
    )
    return Kept(own, energy, np.clip(taken, 1e-3, 1.0))
