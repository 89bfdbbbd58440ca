"""What grade a print has, in a word."""

from __future__ import annotations

GRADES = ("full", "good", "distant", "thin")


def grade_for(effective: float, target: float, floor: float, needed: float) -> str:
    """Return the grade of a print, in a word."""
    effective *= 1 + 1e-9  # who asks 300 and has 300 is not to fail by a rounding
    if effective >= target:
        return "full"
    if effective >= needed:
        return "good" if effective >= floor else "distant"
    return "thin"
