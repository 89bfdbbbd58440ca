"""Sharpening figures and predicted bytes of one print."""

from __future__ import annotations

from ..docket.docket import Docket
from ..measure.papers import Paper
from ..photo.facts import Facts
from . import tells
from .eye import restore
from .model import FileParts, Plan, Sharpening

LEAST_QUALITY = 80
"""Under a byte limit quality gives way down to here; then pixels do."""


def sharpening(facts: Facts, docket: Docket, plan: Plan, paper: Paper) -> Sharpening:
    """Work out the sharpening of a plan whose pixels stand."""
    output_ppi = min(
        plan.pixels.tag_x[0] / plan.pixels.tag_x[1], plan.pixels.tag_y[0] / plan.pixels.tag_y[1]
    )
    method = plan.pixels.method if plan.pixels.method != "blocks" else None
    measured = tells.measured_of(facts, plan)
    lean = tells.lean(measured) if docket.sharpen.lean is None else float(docket.sharpen.lean)
    found = restore(
        float(paper.sigma_mm),
        plan.distance_mm,
        output_ppi,
        plan.true_ppi,
        method,
        lean,
        float(docket.sharpen.strength) / 100,
        float(docket.pixels.crisp),
    )
    return Sharpening(
        paper=paper.name,
        sigma_mm=found.sigma_mm,
        sigma_px=found.sigma_mm / 25.4 * output_ppi,
        amount=found.amount,
        lean=lean,
        acutance_before=found.acutance_before,
        acutance_after=found.acutance_after,
        bound=found.bound,
        halo=tells.halo_limit(measured),
        noise=tells.coring(measured, float(plan.pixels.scale), plan.pixels.mending),
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
    return FileParts(
        form, bits, docket.file.quality, predicted, facts.channels, docket.file.max_bytes
    )
