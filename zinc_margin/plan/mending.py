"""What is mended before anything is resampled: JPEG blocks, noise, old halos."""

from __future__ import annotations

import numpy as np

from ..docket.docket import Docket
from ..photo.facts import Measured
from . import tells
from .model import Mending

NOISE_FULL = 0.08
"""Standard deviation, as a share of white, at which noise removal is 100."""

_FAINT_FROM = 0.06
"""A good JPEG's ringing is hardly seen, but an enlarger that looks for edges finds it."""

_BLOCKS = ((_FAINT_FROM, 6), (tells.BLOCKS_FROM, 15), (0.35, 45), (0.6, 70), (1.0, 90), (1.5, 100))
"""Steps on the 8-pixel grid, in L*, against the clean-up that takes them away."""


def suggested(found: Measured | None) -> Mending:
    """Return the strengths that suit what was measured."""
    if found is None:
        return Mending()
    clean = 0
    if found.blocks > _FAINT_FROM:
        steps, strengths = zip(*_BLOCKS, strict=True)
        clean = round(float(np.interp(found.blocks, steps, strengths)))
    denoise = 0
    if found.noise > tells.NOISE_FROM:
        denoise = min(100, round(found.noise / 100 / NOISE_FULL * 100))
    dehalo = 0
    if found.halo > tells.HALO_FROM:
        dehalo = min(100, round(100 * found.halo / 0.25))
    return Mending(clean, denoise, dehalo, round(min(0.4, 1.5 * found.halo), 3))


def mending_of(docket: Docket, found: Measured | None, enlarged: bool) -> Mending:
    """Return what a print mends: as it is written, else as it suits when the photo is enlarged.

    Pixels that are kept or reduced are left alone unless the docket says otherwise.
    """
    line, suits = docket.pixels, suggested(found)
    usual = suits if enlarged else Mending()
    clean = usual.clean if line.clean is None else float(line.clean)
    denoise = usual.denoise if line.denoise is None else float(line.denoise)
    dehalo = usual.dehalo if line.dehalo is None else float(line.dehalo)
    return Mending(clean, denoise, dehalo, suits.halo_share or 0.15)
