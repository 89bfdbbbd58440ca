"""How long a file will take: told by what this machine needed before."""

from __future__ import annotations

import json
import os
from contextlib import suppress

from ..plan.model import Plan
from .journal import state_folder

_NEW = 0.4
"""How much the latest run counts against those before."""
_LEAST_PIXELS = 2_000_000
"""Smaller files are done before anyone asks; their time is mostly not theirs."""


def _kind(plan: Plan) -> str:
    work = plan.pixels.choice
    if work != "keep" and not plan.turned.square:
        work += ", turned"
    sharp = "sharpened" if plan.sharpen is not None and plan.sharpen.amount > 0 else "plain"
    limit = ", within a limit" if plan.file.max_bytes is not None else ""
    return f"{work}, {sharp}, {plan.file.format} {plan.file.bits}{limit}"


def _known() -> dict[str, float]:
    try:
        raw = json.loads((state_folder() / "pace.json").read_text("utf-8"))
        return {str(kind): float(pace) for kind, pace in raw["ns_per_pixel"].items()}
    except (OSError, ValueError, KeyError, TypeError, AttributeError):
        return {}


def predicted(plan: Plan) -> float | None:
    """Return the seconds that a plan's file will take; None where this machine has no experience.

    A kind of work that was not done yet is judged by the slowest of its like.
    """
    known = _known()
    kind = _kind(plan)
    like = [pace for other, pace in known.items() if other.split(",")[0] == kind.split(",")[0]]
    pace = known.get(kind) or max(like, default=0.0)
    return pace * plan.pixels.width * plan.pixels.height * 1e-9 if pace else None


def learn(plan: Plan, seconds: float) -> None:
    """Remember how long a file took."""
    pixels = plan.pixels.width * plan.pixels.height
    if pixels < _LEAST_PIXELS:
        return
    known = _known()
    pace = seconds / pixels * 1e9
    before = known.get(_kind(plan), pace)
    known[_kind(plan)] = round(before + _NEW * (pace - before), 2)
    with suppress(OSError):
        folder = state_folder()
        folder.mkdir(parents=True, exist_ok=True)
        part = folder / f"pace.{os.getpid()}.part"
        part.write_text(json.dumps({"ns_per_pixel": known}, indent=2), "utf-8")
        os.replace(part, folder / "pace.json")
