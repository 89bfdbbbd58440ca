"""What was found in the pixels, in words, and what each finding changes in the print."""

from __future__ import annotations

from dataclasses import dataclass

from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measured import Measured
from zinc_margin.measure import words
from zinc_margin.plan.model import Plan
from zinc_margin.plan.photo.findings import (
    BLOCKS_FROM,
    ENLARGED_UNDER,
    HALO_FROM,
    NOISE_FROM,
    SOFT_FROM,
    measured_of,
)
from zinc_margin.plan.sharpen.restraint import HALO, LEAN, coring, halo_limit, usual_lean
from zinc_margin.plan.size.reach import reach


@dataclass(frozen=True)
class Tell:
    """One thing that was looked for.

    Attributes
    ----------
    code : str
        ``blocks``, ``halo``, ``edge`` (softness), ``origin`` or ``noise``.
    found : bool
        Whether it is there to a degree that matters.
    figure : str
        Measured, with its unit.
    text : str
        A plain sentence; empty where there is nothing to tell.
    change : str
        What it changes in the print; empty where nothing.
    place : (int, int) or None
        Where it shows best, in pixels of the upright photo.
    """

    code: str
    found: bool
    figure: str
    text: str
    change: str
    place: tuple[int, int] | None


def findings_of(facts: Facts, plan: Plan, units: str = "cm") -> tuple[Tell, ...]:
    """Return all five tell-tales of a measured photo; none of one that is not measured yet."""
    found = measured_of(facts, plan)
    if found is None:
        return ()
    places = {name: (x, y) for name, x, y in found.places}
    mending = plan.pixels.mending
    left = f"Sharpening leaves differences under {coring(found, mending=mending):.1f} L* alone."
    return (
        Tell(
            "blocks", found.blocks > BLOCKS_FROM, f"{found.blocks:.2f} L*",
            f"JPEG blocks: the borders of its 8-pixel squares step by {found.blocks:.2f} L* more "
            "than the rest. Enlarging and sharpening would bring them out.",
            _mended(mending.clean) or left,
            places.get("blocks"),
        ),
        Tell(
            "halo", found.halo > HALO_FROM, words.share(found.halo),
            "Old halos: edges already overshoot on both sides, by "
            f"{words.share(found.halo)} of their step. It was sharpened before; a second time "
            "shows as outlines.",
            f"{_mended(mending.dehalo)} New overshoot is held to {halo_limit(found):.1f} L* "
            f"instead of {HALO:g}.".strip(),
            places.get("halo"),
        ),
        Tell(
            "edge", (found.edge_px or 0) > SOFT_FROM,
            "too few edges" if found.edge_px is None else f"{found.edge_px:.1f} px",
            f"Soft: even its sharpest edges are {words.trimmed_zeros(found.edge_px or 0, 1)} px "
            "wide. Finer detail than that is not in the file.",
            f"Sharpening leans to broad edges: {usual_lean(found):.2f} instead of {LEAN:g}.",
            places.get("edge"),
        ),
        Tell(
            "origin", found.true_share < ENLARGED_UNDER, words.share(found.true_share),
            _enlarged(facts, plan, found, units),
            "Sharpening reckons with its real pixels.",
            None,
        ),
        Tell(
            "noise", found.noise > NOISE_FROM, f"{found.noise:.2f} L*",
            f"Noise of {found.noise:.1f} L* in its quietest places.",
            _mended(mending.denoise) or left,
            places.get("noise"),
        ),
    )  # fmt: skip


def _mended(strength: float) -> str:
    return f"Taken away first, at {strength:.0f} %." if strength else ""


def _enlarged(facts: Facts, plan: Plan, found: Measured, units: str) -> str:
    times = words.trimmed_zeros(1 / found.true_share, 2)
    own = (round(facts.width * found.true_share), round(facts.height * found.true_share))
    true = words.pair(*reach(*own, plan.target_ppi), units)
    return (
        f"Enlarged before, {times} ×: only about {own[0]} × {own[1]} of its pixels are its own. "
        f"At {words.resolution(plan.target_ppi, units)} they print {true}."
    )
