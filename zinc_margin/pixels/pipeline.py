"""The pipeline before resampling: rotate by quarters, repair, enlarge by two."""

from __future__ import annotations

from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels import nets
from zinc_margin.pixels.repair import Repaired, RepairedTwice
from zinc_margin.pixels.source import Source, Stored
from zinc_margin.pixels.upscale import Doubled
from zinc_margin.plan.model import PrintPlan


def source_of(photo: Photo, plan: PrintPlan) -> Source:
    """Return the source that a plan resamples: rotated by quarters, repaired and doubled."""
    source: Source = Stored(photo, plan.turned, plan.matte)
    pixels, slope = plan.pixels, plan.turned.slope
    cleaners, with_seen, doublings = nets.stages(pixels, source.width * source.height)
    if with_seen:
        source = RepairedTwice(source, pixels.repair, cleaners, with_seen, pixels.share, slope)
    elif pixels.repair.any:
        source = Repaired(source, pixels.repair, cleaners, slope)
    for enlargers in doublings:
        source = Doubled(source, enlargers, pixels.share, slope)
    return source
