"""What is repaired before anything is resampled, in words: what was seen, and what it costs."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.plan.model import Plan
from zinc_margin.plan.parts import Repair


def repaired(repair: Repair) -> str:
    """Say what is repaired, and how strongly: ``JPEG artefacts 36 %, noise 20 %``."""
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
    """Say why a print is repaired first, and how long that takes; empty if it is not.

    Parameters
    ----------
    seconds : float
        That repairing takes.
    """
    repair, line, measured = plan.pixels.repair, plan.docket.pixels, plan.measured
    if not repair.any:
        return ""
    seen = []
    if repair.clean and line.clean is None:
        quality = plan.facts.jpeg_quality
        if quality is not None:
            seen.append(f"it was saved as a JPEG of quality {quality}")
        elif measured is not None:
            seen.append(f"its 8-pixel squares step by {measured.blocks:.2f} L*")
    if repair.denoise and line.denoise is None and measured is not None:
        seen.append(f"it has noise of {measured.noise:.1f} L*")
    if repair.dehalo and line.dehalo is None and measured is not None:
        seen.append(f"its edges overshoot by {words.share(measured.halo)}")
    why = f", because {' and '.join(seen)}" if seen else ", as you set it"
    cost = f" That takes about {words.seconds(seconds)}." if seconds >= 1 else ""
    return f"Repaired first: {repaired(repair)}{why}.{cost}"
