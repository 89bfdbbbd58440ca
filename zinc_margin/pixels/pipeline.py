"""What a plan resamples: the photo as it is set, mended, and made larger."""

from __future__ import annotations

from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels import nets
from zinc_margin.pixels.repaired import Repaired, RepairedTwice
from zinc_margin.pixels.source import Source, Stored
from zinc_margin.pixels.upscale import Doubled
from zinc_margin.plan.model import PrintPlan


def source_of(photo: Photo, plan: PrintPlan) -> Source:
    """Return what a plan resamples: the photo as it is set, mended and made larger as it asks."""
    source: Source = Stored(photo, plan.turned, plan.matte)
    pixels, slope = plan.pixels, plan.turned.slope
    repair = pixels.repair
    cleaned = max(repair.clean, repair.denoise) >= nets.MUCH_CLEANED
    steps = [
        nets.enlargers(pixels.method or "", pixels.network or "", cleaned and not step)
        for step in range(pixels.doublings)
    ]

    if repair.any:
        asked = nets.cleaners(pixels.method, repair, source.width * source.height)
        text = nets.told(asked, steps[0]) if steps else ()
        if text:
            source = RepairedTwice(source, repair, asked, text, pixels.share, slope)
            steps = steps[1:]
        else:
            source = Repaired(source, repair, asked, slope)
    for enlargers in steps:
        source = Doubled(source, enlargers, pixels.share, slope)
    return source
