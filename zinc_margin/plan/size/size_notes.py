"""Notes on the size."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from zinc_margin.measure.distances import Seen
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.plan.model import Note, Plan, Remedy
from zinc_margin.plan.size.grade import FEW


def size_notes(plan: Plan) -> Iterator[Note]:
    """Yield the notes of the Size line."""
    if plan.grade == FEW and plan.maker.for_screen:
        share = plan.judged_ppi / float(plan.target_ppi)
        yield Note("too-few-for-screen", "size", {"share": share}, grave=True)
    elif plan.grade == FEW and not _byte_limit_decides(plan):
        values = {
            "ppi": plan.effective_ppi,
            "sharp_from_mm": plan.sharp_from_mm,
            "far_mm": plan.far_mm,
        }
        yield Note("too-few-pixels", "size", values, _further(plan), grave=True)
    if plan.unseen_mm.any and plan.mat is None:
        lost = plan.unseen_mm
        yield Note("overspill", "size", {"across_mm": lost.left, "down_mm": lost.top})
    if plan.mat is not None and plan.mat.reveal < 0:
        yield Note("mat-hides", "size", {"overlap_mm": -plan.mat.reveal})
    if plan.mat is not None and plan.mat.reveal > 0:
        yield Note("mat-reveals", "size", {"reveal_mm": plan.mat.reveal})


def _byte_limit_decides(plan: Plan) -> bool:
    """Return whether a byte limit, not the photo, decides the ppi: the File line has a note."""
    return plan.file.fit is not None and plan.judged_ppi < plan.effective_ppi


def _further(plan: Plan) -> tuple[Remedy, ...]:
    docket = plan.docket
    if docket.size.distance is not None and plan.far_mm >= plan.sharp_from_mm:
        return ()
    further = Fraction(round_half_up(Fraction(plan.sharp_from_mm / 10) + 1) * 10)
    seen = replace(docket, size=replace(docket.size, distance=Seen.at(further)))
    return (Remedy("further", seen, {"far_mm": further}),)
