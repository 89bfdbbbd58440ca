"""The Photo line of a plan: measurements of the photo, and their thresholds."""

from __future__ import annotations

from dataclasses import dataclass

from zinc_margin.docket.photo import PhotoLine
from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measurements import Measured

BLOCKS_FROM = 0.18
"""In L*. JPEG quality 85 and above stays below it in smooth pictures; 70 and below exceeds it."""
HALO_FROM = 0.15
"""Overshoot, as a share of an edge's step."""
SOFT_FROM = 1.2
"""In px. A camera's file reduced by half measures 0.4 to 0.6, straight from the sensor under 1."""
NOISE_FROM = 0.8
"""In L*."""
ENLARGED_UNDER = 0.95
"""Share of the pixels, each way, that carry real detail."""


@dataclass(frozen=True)
class PhotoPart:
    """The photo, as later lines need it.

    Attributes
    ----------
    matte : str
        The background of a transparent photo, ``#rrggbb``.
    measured : Measured or None
        None until its pixels are measured.
    """

    matte: str
    measured: Measured | None


def photo_part(facts: Facts, line: PhotoLine) -> PhotoPart:
    """Return the Photo line's part of a plan.

    Parameters
    ----------
    line : PhotoLine
        Its measurements apply to the photo with its digest; otherwise the facts' apply.
    """
    of_this = facts.digest in (None, line.digest) and line.page in (None, facts.page)
    stored = line.measured if of_this else None
    return PhotoPart(line.matte, facts.measured if stored is None else stored)
