"""Repair before resampling: JPEG artefacts, noise, existing halos."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measurements import Measured
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.parts import Coding, Repair
from zinc_margin.plan.photo.photo import HALO_FROM, NOISE_FROM

NOISE_FULL = 0.08
"""Standard deviation of noise, as a share of white, that needs removal at 100."""


_FAINT_FROM = 0.06
"""A good JPEG's ringing is hardly visible, but an enlarger that looks for edges amplifies it."""


_BLOCKS = ((_FAINT_FROM, 8), (0.15, 21), (0.28, 36), (0.37, 57), (0.43, 71), (0.5, 86), (0.62, 100))
"""Steps on the 8-pixel grid, in L*, and the clean-up that removes them."""


FINE_QUALITY = 85
"""JPEGs saved at this quality or higher are left alone unless the user requests repair."""


_RAMP = 5
"""Steps of quality below that over which repair reaches its full strength, so that neighbouring
qualities look alike.
"""


_SHOWS, _SHOWS_LARGE, LARGE = 25, 12, 2
"""Clean-up below which JPEG artefacts stay invisible in print, so it is skipped: for enlargements
below ×2 each way, and above.
"""


_EARLIER = 25
"""If the steps need this much more clean-up than the file's quality, they come from an earlier
coding.
"""


_PER_QUALITY = 0.7
"""Steps of JPEG quality for one of clean-up."""


def clean_for(quality: float) -> float:
    """Return the clean-up, 0 to 100, for a JPEG quality, as used to train the network."""
    return min(100.0, max(0.0, (100 - quality) / _PER_QUALITY))


def _between(blocks: float) -> float:
    """Return the clean-up for steps of this height, interpolated in `_BLOCKS`."""
    if blocks >= _BLOCKS[-1][0]:
        return float(_BLOCKS[-1][1])
    for (low, least), (high, most) in pairwise(_BLOCKS):
        if blocks < high:
            return (most - least) / (high - low) * (blocks - low) + least
    raise AssertionError


def coded_quality(measured: Measured | None, quality: int | None) -> float | None:
    """Return the quality of a file's coarsest coding as JPEG; None if there was none.

    A JPEG states its own quality, while steps between squares show only in smooth areas. Larger
    steps reveal an earlier, coarser coding, or one before conversion to another format.

    Parameters
    ----------
    quality : int or None
        A JPEG's quality, 1 to 100; None for other files.
    """
    stated = None if quality is None else float(quality)
    if measured is None or measured.blocks <= _FAINT_FROM:
        return stated
    seen = 100 - _PER_QUALITY * _between(measured.blocks)
    if stated is None:
        return seen
    return seen if clean_for(seen) > clean_for(stated) + _EARLIER else stated


def coding_of(measured: Measured | None, quality: int | None, cleaned: float) -> Coding:
    """Return how coarsely a file was coded, and its clean-up."""
    worst = coded_quality(measured, quality)
    return Coding(worst, cleaned, 0.0 if worst is None else clean_for(worst))


def suggest(measured: Measured | None, quality: int | None = None) -> Repair:
    """Return the repair strengths for these measurements and this coding.

    A good JPEG is left alone. Other files are cleaned as their coding needs; see `coding_of`.

    Parameters
    ----------
    measured : Measured or None
        None until the pixels are measured.
    quality : int or None
        A JPEG's quality, 1 to 100; None for other files.
    """
    worst = coded_quality(measured, quality)
    below = FINE_QUALITY - (worst or 100) if quality is None else FINE_QUALITY - quality
    share = min(1.0, max(0.0, below / _RAMP))
    clean = 0 if worst is None else round(share * clean_for(worst))
    if measured is None:
        return Repair(clean)
    denoise = 0
    if measured.noise > NOISE_FROM:
        denoise = min(100, round(measured.noise / 100 / NOISE_FULL * 100))
    dehalo = 0
    if measured.halo > HALO_FROM:
        dehalo = min(100, round(100 * measured.halo / 0.25))
    return Repair(clean, denoise, dehalo, round(min(0.4, 1.5 * measured.halo), 3))


def _grid(facts: Facts, measured: Measured | None, turned: Turned) -> tuple[int, int]:
    """Return the column and row, 0 to 7, at which JPEG's squares begin in the rotated picture.

    Use the measured grid where it is clear (a cropped picture keeps its grid), else the position of
    the file's own squares in the upright picture.
    """
    if measured is not None and measured.grid is not None and measured.blocks > _FAINT_FROM:
        x, y = measured.grid
    else:
        x, y = facts.own_grid
    share = turned.set_share((Fraction(x, facts.width), Fraction(y, facts.height)))
    return int(share[0] * turned.set_width) % 8, int(share[1] * turned.set_height) % 8


def repair_for(
    line: PixelsLine, facts: Facts, measured: Measured | None, turned: Turned, enlarged: float
) -> Repair:
    """Return a print's repairs: as requested, else automatic for an enlarged photo.

    Kept or reduced pixels are not repaired unless the docket requests it.

    Parameters
    ----------
    measured : Measured or None
        None until the pixels are measured.
    enlarged : float
        Enlargement each way; 0 if not enlarged.
    """
    suits = suggest(measured, facts.jpeg_quality)
    usual = suits if enlarged else Repair()
    shows = _SHOWS if enlarged < LARGE else _SHOWS_LARGE
    unasked = usual.clean if usual.clean >= shows else 0.0
    clean = unasked if line.clean is None else float(line.clean)
    denoise = usual.denoise if line.denoise is None else float(line.denoise)
    dehalo = usual.dehalo if line.dehalo is None else float(line.dehalo)
    return Repair(clean, denoise, dehalo, suits.halo_share or 0.15, _grid(facts, measured, turned))
