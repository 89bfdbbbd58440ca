"""What is odd about a print's pixels."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from zinc_margin.plan.model import Note, Plan, Remedy

_MUCH = 4
"""An enlargement, each way, that is said."""


def pixels_notes(plan: Plan) -> Iterator[Note]:
    """Yield the notes of the Pixels line.

    Parameters
    ----------
    plan : Plan
    """
    pixels, docket = plan.pixels, plan.docket
    suits = plan.measured.kind if plan.measured is not None else "photo"
    if suits != "photo" and docket.pixels.kind == "photo" and pixels.choice != "keep":
        taken = replace(docket, pixels=replace(docket.pixels, kind=suits, method=None))
        yield Note("kind", "pixels", {"kind": suits}, (Remedy("take-for-that", taken),))
    if pixels.choice == "turn":
        values = {"turn_deg": docket.crop.turn, "method": pixels.method}
        yield Note("turn-resamples", "pixels", values)
    if pixels.choice == "enlarge" and pixels.scale > _MUCH:
        yield Note("much-enlarged", "pixels", {"scale": pixels.scale}, grave=True)
