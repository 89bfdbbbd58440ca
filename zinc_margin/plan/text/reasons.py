"""Why a print has its grade, in a sentence."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.distance import needed_ppi, sharp_from
from zinc_margin.plan.size.grade import grade_for


def reason(
    effective: float,
    target: float,
    floor: float,
    distance_mm: float,
    units: str = "cm",
    grade: str = "",
) -> str:
    """Say why: ``164 ppi; looks sharp from 53 cm; you chose 2.2 m: fine``.

    Parameters
    ----------
    effective, target, floor : float
        Pixels per inch that the photo has on the print, that are asked, and the least taken.
    distance_mm : float
        From where it is seen.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    grade : str
        As it was judged; empty: by these figures.
    """
    own = words.resolution(effective, units)
    sharp = words.length(sharp_from(effective), units)
    seen = words.length(distance_mm, units)
    grade = grade or grade_for(effective, target, floor, needed_ppi(distance_mm))
    asked = words.resolution(target, units)
    if grade == "full":
        return f"{own}, and {asked} are asked: met without enlarging."
    looks = f"{own}; looks sharp from {sharp}; it is seen from {seen}"
    if grade == "good":
        return f"{looks}: fine."
    if grade == "distant":
        return (
            f"{looks}: fine from there, though under your {words.resolution(floor, units)} "
            "for a look from near."
        )
    return f"{looks}: too near for its pixels."


def reason_for(effective: float, plan: Plan, units: str = "cm") -> str:
    """Say why another size of a plan's photo would have its grade.

    Parameters
    ----------
    effective : float
        Of the photo's own pixels on the print, in ppi.
    plan : Plan
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return reason(effective, float(plan.target_ppi), float(plan.floor_ppi), plan.distance_mm, units)


def reason_of(plan: Plan, units: str = "cm") -> str:
    """Say why a planned print has its grade.

    Parameters
    ----------
    plan : Plan
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return reason(
        float(plan.effective_ppi),
        float(plan.target_ppi),
        float(plan.floor_ppi),
        plan.distance_mm,
        units,
        plan.grade,
    )
