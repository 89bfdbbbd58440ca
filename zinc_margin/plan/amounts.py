"""Sharpening figures and predicted bytes of one print."""

from __future__ import annotations

from ..docket.docket import Docket
from ..measure.papers import Paper
from ..photo.facts import Facts
from .eye import restore
from .model import FileParts, Plan, Sharpening

HALO = 9.0
"""Highest overshoot beside an edge, in L*."""

_QUIETEST, _LOUDEST = 0.12, 2.0
"""Coring, in L*: a clean 8-bit photo still has steps; past the upper end texture would go too."""


def sharpening(facts: Facts, docket: Docket, plan: Plan, paper: Paper) -> Sharpening:
    """Work out the sharpening of a plan whose pixels stand."""
    output_ppi = min(
        plan.pixels.tag_x[0] / plan.pixels.tag_x[1], plan.pixels.tag_y[0] / plan.pixels.tag_y[1]
    )
    method = plan.pixels.method if plan.pixels.method != "blocks" else None
    found = restore(
        float(paper.sigma_mm),
        plan.distance_mm,
        output_ppi,
        float(plan.effective_ppi),
        method,
        float(docket.sharpen.lean),
        float(docket.sharpen.strength) / 100,
    )
    measured = facts.measured.noise if facts.measured else 0.0
    # reducing averages noise away; enlarging spreads it out but leaves its height
    noise = 2.5 * measured * min(1.0, float(plan.pixels.scale))
    return Sharpening(
        paper=paper.name,
        sigma_mm=found.sigma_mm,
        sigma_px=found.sigma_mm / 25.4 * output_ppi,
        amount=found.amount,
        lean=float(docket.sharpen.lean),
        acutance_before=found.acutance_before,
        acutance_after=found.acutance_after,
        bound=found.bound,
        halo=HALO,
        noise=min(_LOUDEST, max(_QUIETEST, noise)),
    )


def file_parts(facts: Facts, docket: Docket, size: tuple[int, int]) -> FileParts:
    """Predict what is written; TIFF is exact but for the metadata."""
    form = docket.file.format
    bits = 8 if form == "jpeg" else docket.file.bits or facts.working_bits
    samples = size[0] * size[1] * facts.channels
    if form == "tiff":
        predicted = samples * bits // 8 + 8192
    elif form == "png":
        predicted = int(samples * (0.55 if bits == 8 else 1.7)) + 4096
    else:
        # bits a pixel of photographs against quality: gentle up to 85, steep beyond
        quality = docket.file.quality
        per_pixel = 0.3 + 1.5 * (quality / 85) ** 3 + max(0, quality - 85) ** 1.6 * 0.08
        predicted = int(size[0] * size[1] * per_pixel / 8) + 8192
    return FileParts(form, bits, docket.file.quality, predicted, facts.channels)
