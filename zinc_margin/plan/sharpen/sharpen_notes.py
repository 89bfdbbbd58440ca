"""Notes on a print's sharpening, and offers of grain."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from zinc_margin.plan.model import Note, Plan, Remedy

_STEPS_FROM_MM = 400
"""Print width in mm from which a smooth sky shows 8-bit steps."""
_QUIET = 0.3
"""Noise, in L*, above which a photo has enough grain."""
_FALLS_SHORT = 0.9
"""Below this crispness, relative to the photo, a print looks soft."""
_A_LITTLE = Fraction(15)  # grain, 0 to 100
_STRONG_REPAIR, _MUCH_ENLARGED = 50, 3
"""Repair (of 100) and enlargement from which AI makes natural textures too smooth."""


def sharpen_notes(plan: Plan) -> Iterator[Note]:
    """Yield the notes of the Sharpen line."""
    yield from _grain(plan)
    result = plan.sharpen
    line = plan.docket.pixels
    if result is None or result.bound not in ("amount", "detail") or line.grain:
        return
    reached = result.acutance_after if result.crispness is None else result.crispness[1]
    if reached < _FALLS_SHORT:
        grained = replace(plan.docket, pixels=replace(line, grain=_A_LITTLE))
        bound = result.bound if plan.pixels.choice == "enlarge" else "amount"
        values = {"bound": bound, "crispness": reached, "near_mm": plan.near_mm}
        yield Note("sharpening-bound", "sharpen", values, (Remedy("grain", grained),))


def _grain(plan: Plan) -> Iterator[Note]:
    measured, docket = plan.measured, plan.docket
    line = docket.pixels
    on = plan.settled.sharpen.on
    if measured is None or line.grain or not on or measured.noise > _QUIET:
        return
    grained = Remedy("grain", replace(docket, pixels=replace(line, grain=_A_LITTLE)))
    smooth = any(name == "smooth" for name, _, _ in measured.places)
    wide = max(plan.size.width_mm, plan.size.height_mm) >= _STEPS_FROM_MM
    smoothed = plan.pixels.repair.clean >= _STRONG_REPAIR and plan.pixels.scale > _MUCH_ENLARGED
    if smoothed and plan.pixels.doublings and plan.pixels.network == "photo":
        yield Note("grain-smoothed", "pixels", remedies=(grained,))
    elif plan.facts.kind == "grey":
        yield Note("grain-monochrome", "pixels", remedies=(grained,))
    elif smooth and wide and plan.file.bits == 8 and plan.pixels.choice == "enlarge":
        yield Note("grain-steps", "pixels", remedies=(grained,))
