"""Sharpening figures and predicted bytes of one print."""

from __future__ import annotations

import math

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.file import SCREEN_FORMATS
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.papers import SCREEN, find_paper, find_process, printed_sigma, usual_paper
from zinc_margin.plan.eye import restore
from zinc_margin.plan.model import FileParts, Grain, Plan, Sharpening
from zinc_margin.plan.reach import maker_of
from zinc_margin.plan.tells import coring, halo_limit, measured_of, usual_lean

LEAST_QUALITY = 80
"""Under a byte limit quality gives way down to here; then pixels do."""


_GRAIN_FULL = 5.0
"""L* of the deviation of grain at 100."""


def _output_ppi(plan: Plan) -> float:
    tags = plan.pixels.tag_x, plan.pixels.tag_y
    return min(above / below for above, below in tags)


def grain(docket: Docket, plan: Plan) -> Grain | None:
    """Return the grain of a plan whose pixels stand."""
    line = docket.sharpen
    if not line.grain:
        return None
    size_px = float(line.grain_mm) / 25.4 * _output_ppi(plan)
    return Grain(float(line.grain) / 100 * _GRAIN_FULL, size_px)


def paper_of(docket: Docket) -> tuple[str, str, float | None]:
    """Return the paper, the process and the sigma by which they blur (None: by the file's pixels).

    Raises
    ------
    BadRequest
        When the paper is not known and has no figure of its own.
    """
    line, way = docket.sharpen, docket.size.way
    screen = way is not None and way.kind in ("screen", "within-px")
    name = line.paper or (SCREEN if screen else usual_paper())
    if name == SCREEN:
        return SCREEN, SCREEN, None
    process = find_process(line.process or maker_of(docket.size).process)
    if line.sigma_mm is not None:
        return name, process.name, printed_sigma(line.sigma_mm, process)
    paper = find_paper(name)
    return paper.name, process.name, printed_sigma(paper.sigma_mm, process)


def sharpening(facts: Facts, docket: Docket, plan: Plan) -> Sharpening:
    """Work out the sharpening of a plan whose pixels stand."""
    output_ppi = _output_ppi(plan)
    paper, process, sigma = paper_of(docket)
    distance = plan.distance_mm
    if sigma is None:
        # a screen's pixel is a box; and its print size is a matter of form, so that without a
        # distance it is seen from its own diagonal, however small that comes out
        sigma = 25.4 / output_ppi / math.sqrt(12)
        if docket.size.distance_mm is None:
            distance = math.hypot(float(plan.size.width_mm), float(plan.size.height_mm))
    method = plan.pixels.method if plan.pixels.method != "blocks" else None
    measured = measured_of(facts, plan)
    line = docket.sharpen
    lean = usual_lean(measured) if line.lean is None else float(line.lean)
    core = coring(measured, float(plan.pixels.scale), plan.pixels.mending)
    found = restore(
        sigma,
        distance,
        output_ppi,
        plan.true_ppi,
        method,
        lean,
        float(docket.sharpen.strength) / 100,
        float(docket.pixels.crisp),
    )
    return Sharpening(
        paper=paper,
        process=process,
        paper_mm=sigma,
        sigma_mm=found.sigma_mm,
        sigma_px=found.sigma_mm / 25.4 * output_ppi,
        amount=found.amount,
        lean=lean,
        acutance_before=found.acutance_before,
        acutance_after=found.acutance_after,
        bound=found.bound,
        halo=halo_limit(measured) if line.halo is None else float(line.halo),
        noise=core if line.noise is None else float(line.noise),
        shadows=float(line.shadows) / 100,
        highlights=float(line.highlights) / 100,
    )


_PACKED = {"none": 1.0, "lzw": 0.75, "deflate": 0.65, "zstd": 0.65}


def file_parts(facts: Facts, docket: Docket, size: tuple[int, int]) -> FileParts:
    """Predict what is written; a plain TIFF is exact but for the metadata."""
    line = docket.file
    form = line.format
    lossy = line.lossy
    bits = 8 if lossy or form in SCREEN_FORMATS else line.bits or facts.working_bits
    colour, channels = _goal(facts, docket)
    samples = size[0] * size[1] * channels
    if form == "tiff":
        predicted = int(samples * bits // 8 * _PACKED[line.compression]) + 8192
    elif not lossy:
        predicted = int(samples * (0.55 if bits == 8 else 1.7)) + 4096
    else:
        # bits a pixel of photographs against quality: gentle up to 85, steep beyond
        quality = line.quality
        per_pixel = 0.3 + 1.5 * (quality / 85) ** 3 + max(0, quality - 85) ** 1.6 * 0.08
        if form in SCREEN_FORMATS:
            per_pixel *= 0.7
        predicted = int(size[0] * size[1] * per_pixel / 8) + 8192
    stays_srgb = colour == "srgb" or (colour == "own" and is_srgb(facts))
    return FileParts(
        form, bits, line.quality, predicted, channels, line.max_bytes, colour, stays_srgb
    )


def _goal(facts: Facts, docket: Docket) -> tuple[str, int]:
    """Return what a file is converted to, and the channels that it then has."""
    line = docket.file
    if line.colour == "own":
        # JPEG XL is written as sRGB, whose profile a reader takes for granted
        if line.format == "jxl" and not is_srgb(facts):
            return ("grey", 1) if facts.channels == 1 else ("srgb", 3)
        return "own", facts.channels
    if line.colour == "icc":
        if line.profile is None:
            return "own", facts.channels
        return "icc", {"RGB": 3, "GRAY": 1, "CMYK": 4}[line.profile.space]
    return line.colour, 1 if line.colour == "grey" else 3


def is_srgb(facts: Facts) -> bool:
    """Tell whether a photo's colours are sRGB, by its profile's name or for want of one."""
    if facts.profile_use == "converted":
        return False
    return facts.profile is None or "srgb" in facts.profile.lower()
