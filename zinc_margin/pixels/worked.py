"""What a plan resamples: the photo as it is set, mended, and made larger."""

from __future__ import annotations

from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels import nets
from zinc_margin.pixels.doubled import Doubled
from zinc_margin.pixels.repaired import Repaired, RepairedTwice
from zinc_margin.pixels.source import Source, Stored, as_set
from zinc_margin.pixels.textured import WHOLE, Textured, without_faces
from zinc_margin.plan.model import Plan


def source_of(photo: Photo, plan: Plan) -> Source:
    """Return what a plan resamples: the photo as it is set, mended and made larger as it asks.

    Parameters
    ----------
    photo : Photo
    plan : Plan
    """
    source: Source = Stored(photo, plan.turned, plan.matte)
    pixels, slope = plan.pixels, plan.turned.slope
    repair = pixels.repair
    cleaned = max(repair.clean, repair.denoise) >= nets.MUCH_CLEANED
    bare = as_set(without_faces(photo), plan.turned) if pixels.surface else None
    surface = pixels.surface * WHOLE
    steps = [
        nets.enlargers(pixels.method or "", pixels.network or "", cleaned and not step)
        for step in range(pixels.doublings)
    ]

    def textured(source: Source, first: bool) -> Source:
        if bare is None:
            return source
        return Textured(source, surface, cleaned and first, bare, slope)

    if repair.any:
        asked = nets.cleaners(pixels.method, repair, source.width * source.height)
        text = nets.told(asked, steps[0]) if steps else ()
        if text:
            source = textured(RepairedTwice(source, repair, asked, text, pixels.share, slope), True)
            steps = steps[1:]
        else:
            source = Repaired(source, repair, asked, slope)
    for left, enlargers in zip(range(len(steps), 0, -1), steps, strict=True):
        first = left == pixels.doublings
        source = textured(Doubled(source, enlargers, pixels.share, slope), first)
    return source
