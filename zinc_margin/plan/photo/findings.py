"""Findings in a photo's pixels, and their thresholds."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.resolution import reach
from zinc_margin.plan.model import Plan
from zinc_margin.plan.photo.photo import (
    BLOCKS_FROM,
    ENLARGED_UNDER,
    HALO_FROM,
    NOISE_FROM,
    SOFT_FROM,
)
from zinc_margin.plan.sharpen.restraint import HALO, LEAN, coring, halo_limit, usual_breadth


@dataclass(frozen=True)
class Finding:
    """One finding, present or absent.

    Attributes
    ----------
    code : str
        ``blocks``, ``halo``, ``edge`` (softness), ``origin`` or ``noise``.
    present : bool
        Whether it is strong enough to matter.
    values : Mapping
        Measurements, and their effect on the print.
    place : (int, int) or None
        Its clearest place, in pixels of the upright photo.
    """

    code: str
    present: bool
    values: Mapping[str, Any]
    place: tuple[int, int] | None


def findings(plan: Plan) -> tuple[Finding, ...]:
    """Return all five findings of a measured photo; an empty tuple before it is measured."""
    measured = plan.measured
    if measured is None:
        return ()
    places = {name: (x, y) for name, x, y in measured.places}
    repair = plan.pixels.repair
    core = coring(measured, repair=repair)
    soft = measured.edge_px or 0
    return (
        Finding(
            "blocks",
            measured.blocks > BLOCKS_FROM or repair.clean > 0,
            {
                "blocks": measured.blocks,
                "seen": measured.blocks > BLOCKS_FROM,
                "quality": plan.facts.jpeg_quality,
                "repaired": repair.clean,
                "coring": core,
            },
            places.get("blocks"),
        ),
        Finding(
            "halo",
            measured.halo > HALO_FROM,
            {
                "halo": measured.halo,
                "repaired": repair.dehalo,
                "limit": halo_limit(measured),
                "usual": HALO,
            },
            places.get("halo"),
        ),
        Finding(
            "edge",
            soft > SOFT_FROM,
            {"edge_px": measured.edge_px, "lean": usual_breadth(measured), "usual": LEAN},
            places.get("edge"),
        ),
        Finding("origin", measured.true_share < ENLARGED_UNDER, _origin(plan, measured), None),
        Finding(
            "noise",
            measured.noise > NOISE_FROM,
            {"noise": measured.noise, "repaired": repair.denoise, "coring": core},
            places.get("noise"),
        ),
    )


def _origin(plan: Plan, measured: Measured) -> Mapping[str, Any]:
    share, facts = measured.true_share, plan.facts
    own = (round(facts.width * share), round(facts.height * share))
    return {
        "true_share": share,
        "own_px": own,
        "target_ppi": plan.target_ppi,
        "reach_mm": reach(*own, plan.target_ppi),
    }
