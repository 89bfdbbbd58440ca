"""Grain: how strong and how large it is in the file."""

from __future__ import annotations

from zinc_margin.docket.docket import Docket
from zinc_margin.plan.model import Grain, Plan
from zinc_margin.plan.sharpen.amount import _output_ppi

_GRAIN_FULL = 5.0
"""L* of the deviation of grain at 100."""


def grain(docket: Docket, plan: Plan) -> Grain | None:
    """Return the grain of a plan whose pixels stand."""
    line = docket.sharpen
    if not line.grain:
        return None
    size_px = float(line.grain_mm) / 25.4 * _output_ppi(plan)
    return Grain(float(line.grain) / 100 * _GRAIN_FULL, size_px)
