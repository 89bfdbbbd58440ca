"""Notes on the photo."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from fractions import Fraction
from typing import Any

from zinc_margin.docket.docket import RENDERER
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.resolution import reach
from zinc_margin.plan.model import Note, Plan, Remedy
from zinc_margin.plan.photo.findings import findings

_ODD_TAG = Fraction(1, 10)  # relative difference from which the tag is worth a note


def tag_values(facts: Facts, target: Fraction) -> Mapping[str, Any]:
    """Return ppi and mm, as tagged and in truth.

    Parameters
    ----------
    target : Fraction
        In ppi.
    """
    tag = facts.tag_x
    wide = None if tag is None else reach(facts.width, facts.height, tag)[0]
    reached = reach(facts.width, facts.height, target)
    return {"tag_ppi": tag, "wide_mm": wide, "target_ppi": target, "reach_mm": reached}


def photo_notes(plan: Plan) -> Iterator[Note]:
    """Yield the notes of the Photo line."""
    facts, docket = plan.facts, plan.docket
    if docket.renderer != RENDERER:
        now = Remedy("renderer-now", replace(docket, renderer=RENDERER))
        yield Note("renderer-changed", "photo", remedies=(now,))
    if facts.pages > 1:
        yield Note("pages", "photo", {"page": facts.page, "pages": facts.pages})
    if facts.layered:
        yield Note("layers", "photo")
    tag = facts.tag_x
    if not plan.maker.for_screen and tag is not None and abs(tag / plan.target_ppi - 1) > _ODD_TAG:
        yield Note("tag-is-a-note", "photo", tag_values(facts, plan.target_ppi))
    if facts.profile_use == "assumed":
        yield Note("no-profile", "photo", {"kind": facts.kind})
    if facts.profile_use == "damaged":
        yield Note("damaged-profile", "photo", grave=True)
    if facts.profile_use == "converted":
        yield Note("converted", "photo", {"kind": facts.kind})
    for finding in findings(plan):
        if finding.present:
            remedies = _real_pixels(plan) if finding.code == "origin" else ()
            yield Note(f"found-{finding.code}", "photo", {"finding": finding}, remedies)


def _real_pixels(plan: Plan) -> tuple[Remedy, ...]:
    if plan.pixels.choice == "reduce":
        return ()
    docket = plan.docket
    true = Fraction(max(1.0, plan.true_ppi)).limit_denominator(10)
    reduced = replace(
        docket,
        size=replace(docket.size, ppi=true),
        pixels=replace(docket.pixels, choice="resample"),
    )
    return (Remedy("real-pixels", reduced, {"ppi": true}),)
