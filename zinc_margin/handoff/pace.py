"""Predict the time for a file, from its work and this machine's speed.

The work is pixels cleaned, doubled, resampled, sharpened and packed; a table has the time of each.
A machine's first file determines its speed, and each later one corrects the kinds of work that took
most of it.
"""

from __future__ import annotations

import json
from collections import Counter
from contextlib import suppress
from dataclasses import replace
from functools import cache, lru_cache
from pathlib import Path

from zinc_margin.gate.files import read_own
from zinc_margin.gate.values import figure, record, table_of
from zinc_margin.keeping.files import write_whole
from zinc_margin.keeping.folders import own_folder
from zinc_margin.keeping.partials import alone_in
from zinc_margin.measure.errors import CannotDo
from zinc_margin.measure.tables import shipped
from zinc_margin.pixels.loop_cache import compiled_anew
from zinc_margin.plan.model import PrintPlan
from zinc_margin.plan.parts import Repair

_LEAST_PIXELS = 2_000_000
"""Smaller files finish at once, and their time is mostly overhead."""
_WHOLE = "all"
"""Key for the machine's overall speed, next to the kinds of work."""
_TELLING = 1.0
"""Shorter times, in s, are too random to measure the machine's speed."""
_FARTHEST = 30.0
"""A larger factor than this between machines is a disturbed measurement."""
_TRIES = 8
"""Approximate number of encodings until a picture fits a byte limit."""


_SPEEDS = record({"times": table_of(figure(1e-6, 1e3), 1000)})


@cache
def _table() -> dict[str, float]:
    return {kind: float(ns) for kind, ns in shipped(__file__, "pace")["ns"].items()}


def work(plan: PrintPlan) -> Counter[str]:
    """Return the work for a plan's file: pixels or bytes, by kind of work."""
    pixels, page, file = plan.pixels, plan.page, plan.file
    source = int(plan.crop.width * plan.crop.height)
    made = pixels.width * pixels.height
    count = page.width * page.height
    result: Counter[str] = Counter()
    _networks(plan, source, result)
    if pixels.repair.dehalo:
        result["halos"] += source
    if pixels.choice != "keep":
        turned = not plan.turned.square
        result["reduce" if pixels.choice == "reduce" else "turn" if turned else "enlarge"] += (
            source if pixels.choice == "reduce" else made
        )
    if plan.sharpen is not None and plan.sharpen.amount > 0:
        result["sharpen"] += made
    if plan.grain is not None:
        result["grain"] += made
    if file.colour != "own":
        result["colour"] += count
    packing = f" {file.compression}" if file.format == "tiff" else ""
    times = _TRIES if file.fit is not None and not file.fit.exact else 1
    result[f"{file.format} {file.bits}{packing}"] += count * times
    result["bytes"] += file.bytes_estimate
    result["start"] += 1  # independent of size
    return result


def _networks(plan: PrintPlan, source: int, result: Counter[str]) -> None:
    """Count the pixels processed by each network."""
    repair = plan.pixels.repair
    cleaners, with_seen, doublings = plan.networks
    if repair.clean or repair.denoise:
        result[cleaners[0]] += source * len(cleaners)
        result["clean"] += source // 2  # both colour differences, at half the size
    if with_seen:
        result[with_seen[0]] += source * len(with_seen)
    for step, names in enumerate(doublings, 1 if with_seen else 0):
        for name in names:
            result[name] += source * 4**step


def _file() -> Path:
    return own_folder("state") / "pace.json"


@lru_cache(maxsize=2)
def _known_speeds(path: Path) -> dict[str, float]:
    """Return the known speeds; cached, since every move of a frame needs them."""
    known: dict[str, float] = read_own(path, _SPEEDS, {"times": {}})["times"]
    return known


def _shares(plan: PrintPlan, known: dict[str, float]) -> dict[str, float]:
    """Return the seconds for each kind of work, at this machine's speed if known."""
    table, whole = _table(), known.get(_WHOLE, 1.0)
    return {
        kind: count * table.get(kind, table["other"]) * 1e-9 * whole * known.get(kind, 1.0)
        for kind, count in work(plan).items()
    }


def predict(plan: PrintPlan) -> float:
    """Return the predicted seconds for a plan's file; rough before this machine's first file."""
    return sum(_shares(plan, _known_speeds(_file())).values())


def repair_seconds(plan: PrintPlan) -> float:
    """Return the seconds for repair: the planned one, or the one that is offered."""
    if not plan.pixels.repair.any:
        offered = Repair(plan.coding.usual_clean)
        plan = replace(plan, pixels=replace(plan.pixels, repair=offered))
    shares = _shares(plan, _known_speeds(_file()))
    return sum(shares.get(kind, 0.0) for kind in {*plan.networks.cleaners, "clean", "halos"})


def learn(plan: PrintPlan, seconds: float) -> None:
    """Record the time taken by a file, unless loops were compiled meanwhile.

    Parameters
    ----------
    seconds : float
        The time taken.
    """
    if plan.page.width * plan.page.height < _LEAST_PIXELS or compiled_anew():
        return
    path = _file()
    with suppress(OSError, CannotDo):
        path.parent.mkdir(parents=True, exist_ok=True)
        with alone_in(path.parent):
            _known_speeds.cache_clear()  # another window may have updated the file
            known = dict(_known_speeds(path))
            shares = _shares(plan, known)
            told = sum(shares.values())
            off = seconds / told
            if not 1 / _FARTHEST < off < _FARTHEST:
                return
            if _WHOLE not in known and seconds >= _TELLING:
                known[_WHOLE] = off
            else:
                for kind, part in shares.items():
                    known[kind] = known.get(kind, 1.0) * off ** (part / told)
            times = {kind: round(each, 4) for kind, each in known.items()}
            write_whole(path, json.dumps({"times": times}, indent=2).encode("utf-8"))
            _known_speeds.cache_clear()
