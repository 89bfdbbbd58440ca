"""What grade a print has, in a word."""

from __future__ import annotations

GRADES = ("full", "good", "distant", "thin")


def grade_for(effective: float, target: float, floor: float, needed: float) -> str:
    """Return the grade of a print, in a word.

    Parameters
    ----------
    effective : float
        Of the photo's own pixels on the print, in ppi.
    target : float
        What is asked, in ppi.
    floor : float
        The least that is taken, in ppi.
    needed : float
        What the eye can use from the print's distance, in ppi.
    """
    effective *= 1 + 1e-9  # who asks 300 and has 300 is not to fail by a rounding
    if effective >= target:
        return "full"
    if effective >= needed:
        return "good" if effective >= floor else "distant"
    return "thin"
