"""How long a file will take: told by what this machine needed before."""

from __future__ import annotations

import json
from contextlib import suppress
from functools import lru_cache
from pathlib import Path

from zinc_margin.keeping.files import write_whole
from zinc_margin.keeping.folders import own_folder
from zinc_margin.keeping.shared import alone_in
from zinc_margin.measure.errors import CannotDo
from zinc_margin.plan.model import Plan

_NEW = 0.4
"""How much the latest run counts against those before."""
_LEAST_PIXELS = 2_000_000
"""Smaller files are done before anyone asks; their time is mostly not theirs."""


def _kind(plan: Plan) -> str:
    work = plan.pixels.choice
    if work != "keep" and not plan.turned.square:
        work += ", turned"
    if plan.pixels.doublings:
        work += f", {plan.pixels.method} {plan.pixels.doublings}"
    if plan.pixels.repair.any:
        work += ", mended"
    sharp = "sharpened" if plan.sharpen is not None and plan.sharpen.amount > 0 else "plain"
    limit = ", within a limit" if plan.file.max_bytes is not None else ""
    return f"{work}, {sharp}, {plan.file.format} {plan.file.bits}{limit}"


def _file() -> Path:
    return own_folder("state") / "pace.json"


@lru_cache(maxsize=2)
def _known(path: Path) -> dict[str, float]:
    """Return what is known; read once, since it is asked at every move of a frame."""
    try:
        raw = json.loads(path.read_text("utf-8"))
        return {str(kind): float(pace) for kind, pace in raw["ns_per_pixel"].items()}
    except (OSError, ValueError, KeyError, TypeError, AttributeError):
        return {}


def predicted(plan: Plan) -> float | None:
    """Return the seconds that a plan's file will take; None where this machine has no experience.

    A kind of work that was not done yet is judged by the slowest of its like.

    Parameters
    ----------
    plan : Plan
    """
    known = _known(_file())
    kind = _kind(plan)
    like = [pace for other, pace in known.items() if other.split(",")[0] == kind.split(",")[0]]
    pace = known.get(kind) or max(like, default=0.0)
    return pace * plan.page.width * plan.page.height * 1e-9 if pace else None


def learn(plan: Plan, seconds: float) -> None:
    """Remember how long a file took.

    Parameters
    ----------
    plan : Plan
    seconds : float
        That it took.
    """
    pixels = plan.page.width * plan.page.height
    if pixels < _LEAST_PIXELS:
        return
    pace, path = seconds / pixels * 1e9, _file()
    with suppress(OSError, CannotDo):
        path.parent.mkdir(parents=True, exist_ok=True)
        with alone_in(path.parent):
            _known.cache_clear()  # another window may have learned meanwhile
            known = _known(path)
            before = known.get(_kind(plan), pace)
            known[_kind(plan)] = round(before + _NEW * (pace - before), 2)
            write_whole(path, json.dumps({"ns_per_pixel": known}, indent=2).encode("utf-8"))
