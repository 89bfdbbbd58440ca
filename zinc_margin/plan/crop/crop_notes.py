"""Notes on the crop."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from zinc_margin.plan.crop import turns
from zinc_margin.plan.model import Note, Plan, Remedy

_LEAST_LEAN = Fraction(1, 10)  # degrees; a smaller lean is invisible in a print
_LEAST_SURE = 0.25  # confidence; a less certain lean is not offered
_MUCH = 0.2
"""The trimmed share of a picture above which a note says so."""
_LEAST_MICRONS = 500
"""Smaller differences are not worth a note."""


def crop_notes(plan: Plan) -> Iterator[Note]:
    """Yield the notes of the Crop line."""
    docket = plan.docket
    yield from _level(plan)
    automatic = docket.crop.fit == "trim" and docket.crop.frame is None
    much = automatic and plan.trimmed_share > _MUCH
    by_shape = _trimmed_by_shape(plan)
    if much and docket.crop.turn and by_shape < plan.trimmed_share / 2:
        values = {"turn": docket.crop.turn, "share": plan.trimmed_share, "by_shape": by_shape}
        yield Note("rotation-trims", "crop", values)
    elif much:
        whole = replace(docket, crop=replace(docket.crop, fit="whole"))
        values = {"label": plan.size.label, "share": plan.trimmed_share}
        yield Note("much-trimmed", "crop", values, (Remedy("whole-picture", whole),))
    if plan.pixels.choice == "keep" and docket.crop.fit == "trim":
        _, _, width, height = plan.picture
        shape = plan.size.width_mm / plan.size.height_mm
        off_mm = abs(Fraction(width, height) / shape - 1) * plan.size.height_mm
        microns = float(off_mm) * 1000
        if microns >= _LEAST_MICRONS:
            yield Note("shape-residual", "crop", {"microns": microns})


def _trimmed_by_shape(plan: Plan) -> float:
    """Return the share that the print's shape alone would trim from the level picture."""
    shape = plan.size.width_mm / plan.size.height_mm
    own = Fraction(plan.turned.set_width) / plan.turned.set_height
    return 1 - float(min(shape / own, own / shape))


def _level(plan: Plan) -> Iterator[Note]:
    """Offer to level a picture whose long edges share a lean; never level it automatically."""
    measured = plan.measured
    if measured is None or measured.lean is None:
        return
    lean, confidence = measured.lean
    line = plan.docket.crop
    seen = Fraction(str(-lean if line.mirror else lean)) + line.turn
    seen = (seen + 45) % 90 - 45
    if confidence < _LEAST_SURE or abs(seen) < _LEAST_LEAN:
        return
    values = {"lean_deg": seen, "confidence": confidence}
    back = turns.rotate_to(plan, line.turn - seen)
    yield Note("level", "crop", values, (Remedy("turn-back", back, values),), grave=True)
