"""The sharpening of one print, worked out from its final pixels."""

from __future__ import annotations

import math

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.plan.model import Plan, Sharpening
from zinc_margin.plan.photo.findings import measured_of
from zinc_margin.plan.sharpen.eye import restore
from zinc_margin.plan.sharpen.paper import paper_of
from zinc_margin.plan.sharpen.restraint import coring, halo_limit, usual_lean


def _output_ppi(plan: Plan) -> float:
    tags = plan.pixels.tag_x, plan.pixels.tag_y
    return min(above / below for above, below in tags)


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
