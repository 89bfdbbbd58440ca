"""The reason for a print's grade, as a sentence."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.measure.kernels import kernels
from zinc_margin.plan.model import Plan
from zinc_margin.plan.parts import Repair
from zinc_margin.plan.pixels.pixels_notes import repair_offer
from zinc_margin.plan.size.distance import NEAR_MM, needed_ppi, sharp_from
from zinc_margin.plan.size.grade import AMPLE, DISTANT, GOOD, grade_for, least_ppi
from zinc_margin.plan.size.ladder import Rung, enlarged_first


def reason(
    effective: float, target: float, floor: float, far_mm: float, units: str = "cm", grade: str = ""
) -> str:
    """Return the reason for a grade: ``164 ppi, of 300 asked; 180 are good``.

    Parameters
    ----------
    effective, target, floor : float
        In ppi: of the photo (or its file) on the print; target; minimum.
    far_mm : float
        The far viewing distance, in mm.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    grade : str
        The known grade; empty: from these figures.
    """
    own = words.resolution(effective, units)
    sharp = words.length(sharp_from(effective), units)
    grade = grade or grade_for(effective, target, floor, needed_ppi(far_mm))
    asked = words.resolution(target, units)
    least = words.resolution(least_ppi(floor, target), units)
    if grade == AMPLE:
        return f"{own}, at least the target of {asked}, without enlarging."
    if grade == GOOD:
        return f"{own}; the target is {asked}, and {least} is still good."
    if grade == DISTANT:
        return f"{own}: it looks sharp from {sharp}, and soft from nearer."
    return f"{own}: it looks sharp only from {sharp}; too few pixels for this size."


def reason_on_screen(share: float) -> str:
    """Return the reason for the grade of a picture for a screen.

    Parameters
    ----------
    share : float
        The photo's pixels relative to the screen's, along a side.
    """
    if share >= 1 - 1e-9:
        return "the photo has all the pixels that the screen needs."
    return f"the photo has {words.share(share)} of the pixels along each side; the rest is new."


def judged_from(plan: Plan, units: str = "cm") -> str:
    """Return the distance from which a photo's sizes are graded, as a sentence.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    sentence = _judged_from(plan, units)
    return sentence if plan.file.fit is None else f"{sentence} The byte limit is left out here."


def _judged_from(plan: Plan, units: str) -> str:
    times = enlarged_first(plan.docket)
    if times is not None:
        method = kernels()[plan.pixels.method].name if plan.pixels.method else "enlarged"
        return (
            f"All sizes are graded by the file's pixels after enlarging {words.times(times)} "
            f"({method}): new pixels smooth the steps, but add no real detail."
        )
    if plan.docket.size.distance is None:
        least = words.length(NEAR_MM, units)
        return f"Each size is graded as seen from its own diagonal, at least {least}."
    seen = words.length(plan.far_mm, units)
    return f"All sizes are graded as seen from {seen}."


def reason_for(rung: Rung, plan: Plan, units: str = "cm") -> str:
    """Return the reason for the grade of another size of a plan's photo.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    if rung.on_screen:
        return reason_on_screen(rung.judged_ppi / float(plan.target_ppi))
    return reason(
        rung.judged_ppi,
        float(plan.target_ppi),
        float(plan.floor_ppi),
        plan.far_mm,
        units,
        rung.grade,
    )


def reason_of(plan: Plan, units: str = "cm") -> str:
    """Return the reason for a planned print's grade.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    if plan.maker.for_screen:
        return reason_on_screen(plan.judged_ppi / float(plan.target_ppi))
    return reason(
        plan.judged_ppi,
        float(plan.target_ppi),
        float(plan.floor_ppi),
        plan.far_mm,
        units,
        plan.grade,
    )


def repair_words(repair: Repair) -> str:
    """Return the repairs and their strength: ``JPEG artefacts 36 %, noise 20 %``."""
    parts = [
        f"{name} {words.trimmed_zeros(much, 0)} %"
        for name, much in (
            ("JPEG artefacts", repair.clean),
            ("noise", repair.denoise),
            ("halos", repair.dehalo),
        )
        if much
    ]
    return ", ".join(parts)


def repair_reason(plan: Plan, seconds: float) -> str:
    """Return why a print is repaired first, or that it could be, and the time it takes.

    Parameters
    ----------
    seconds : float
        Time for the repair.
    """
    repair, line, measured = plan.pixels.repair, plan.docket.pixels, plan.measured
    if not repair.any:
        if repair_offer(plan, line) is None:
            return ""
        return f"Repairing its JPEG artefacts first would take about {words.seconds(seconds)}."
    seen = []
    if repair.clean and line.clean is None:
        quality = plan.facts.jpeg_quality
        if quality is not None:
            seen.append(f"it was saved as a JPEG of quality {quality}")
        elif measured is not None:
            seen.append(f"the steps between its 8-pixel squares are {measured.blocks:.2f} L*")
    if repair.denoise and line.denoise is None and measured is not None:
        seen.append(f"it has noise of {measured.noise:.1f} L*")
    if repair.dehalo and line.dehalo is None and measured is not None:
        seen.append(f"its edges overshoot by {words.share(measured.halo)}")
    why = f", because {' and '.join(seen)}" if seen else ", as you set it"
    cost = f" That takes about {words.seconds(seconds)}." if seconds >= 1 else ""
    return f"Repaired first: {repair_words(repair)}{why}.{cost}"
