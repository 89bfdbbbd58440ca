"""Repair before resampling: JPEG blocks, noise, old halos."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measured import Measured
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.parts import Repair
from zinc_margin.plan.photo.photo import HALO_FROM, NOISE_FROM

NOISE_FULL = 0.08
"""Standard deviation, as a share of white, at which noise removal is 100."""


_FAINT_FROM = 0.06
"""A good JPEG's ringing is hardly seen, but an enlarger that looks for edges finds it."""


_BLOCKS = ((_FAINT_FROM, 8), (0.15, 21), (0.28, 36), (0.37, 57), (0.43, 71), (0.5, 86), (0.62, 100))
"""Steps on the 8-pixel grid, in L*, against the clean-up that takes them away."""


_FINE_QUALITY = 90
"""A JPEG that was coded more finely than this is not worth the time that cleaning takes."""


_SHOWS, _SHOWS_LARGE, _LARGE = 25, 12, 2
"""Clean-up under which nothing of JPEG's shows on a print, and is worth no time: enlarged less
than twice each way, and more."""


_EARLIER = 25
"""Steps that ask for so much more clean-up than the file's quality are of an earlier coding."""


def _clean_for(quality: int) -> float:
    """Return the clean-up, 0 to 100, that a JPEG's quality asks for: what its network learned."""
    return min(100.0, max(0.0, (100 - quality) / 0.7))


def _between(blocks: float) -> float:
    """Return the clean-up for steps of that height, on straight lines through `_BLOCKS`."""
    if blocks >= _BLOCKS[-1][0]:
        return float(_BLOCKS[-1][1])
    for (low, least), (high, most) in pairwise(_BLOCKS):
        if blocks < high:
            return (most - least) / (high - low) * (blocks - low) + least
    raise AssertionError


def suggested(measured: Measured | None, quality: int | None = None) -> Repair:
    """Return the strengths that suit what was measured, and how finely the file was coded.

    A file tells its own quality, which steps between squares show only where tones are calm; they
    tell of an earlier, coarser coding, or of one under another format.

    Parameters
    ----------
    measured : Measured or None
        None while the pixels have not been looked at.
    quality : int or None
        Of a JPEG, 1 to 100; None for other files.
    """
    clean = 0
    if quality is not None and quality <= _FINE_QUALITY:
        clean = round(_clean_for(quality))
    if measured is None:
        return Repair(clean)
    if measured.blocks > _FAINT_FROM:
        seen = round(_between(measured.blocks))
        if seen > clean + _EARLIER or not clean:
            clean = seen
    denoise = 0
    if measured.noise > NOISE_FROM:
        denoise = min(100, round(measured.noise / 100 / NOISE_FULL * 100))
    dehalo = 0
    if measured.halo > HALO_FROM:
        dehalo = min(100, round(100 * measured.halo / 0.25))
    return Repair(clean, denoise, dehalo, round(min(0.4, 1.5 * measured.halo), 3))


def _grid(facts: Facts, measured: Measured | None, turned: Turned) -> tuple[int, int]:
    """Return where JPEG's squares begin in the picture as it is set: a column and a row, 0 to 7.

    By the steps that were measured where they stand clear (a cropped picture keeps its grid), else
    by how the file's own squares lie in the upright picture.
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
    """Return what a print mends: as it is written, else as it suits when the photo is enlarged.

    Pixels that are kept or reduced are left alone unless the docket says otherwise.

    Parameters
    ----------
    measured : Measured or None
        None while the pixels have not been looked at.
    enlarged : float
        By how much, each way; 0 if it is not.
    """
    suits = suggested(measured, facts.jpeg_quality)
    usual = suits if enlarged else Repair()
    shows = _SHOWS if enlarged < _LARGE else _SHOWS_LARGE
    unasked = usual.clean if usual.clean >= shows else 0.0
    clean = unasked if line.clean is None else float(line.clean)
    denoise = usual.denoise if line.denoise is None else float(line.denoise)
    dehalo = usual.dehalo if line.dehalo is None else float(line.dehalo)
    return Repair(clean, denoise, dehalo, suits.halo_share or 0.15, _grid(facts, measured, turned))
