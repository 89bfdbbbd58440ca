"""Notes on a print's pixels."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.pixels import REMOVED_METHOD, PixelsLine
from zinc_margin.measure.resolution import LOWEST_PPI
from zinc_margin.plan.model import Note, Plan, PrintPlan, Remedy
from zinc_margin.plan.pixels.repair import FINE_QUALITY, LARGE
from zinc_margin.plan.pixels.resampling import LEARNED, LEARNED_FROM

_MUCH = 4
"""An enlargement factor, each way, that deserves a note."""


_HUGE_BYTES = 2 * 10**9
"""A file of this size is a burden to send, store and print."""


def pixels_notes(plan: Plan) -> Iterator[Note]:
    """Yield the notes of the Pixels line."""
    yield from _enough(plan)
    pixels, docket = plan.pixels, plan.docket
    suits = plan.measured.kind if plan.measured is not None else "photo"
    if suits != "photo" and docket.pixels.kind == "photo" and pixels.choice != "keep":
        taken = replace(docket, pixels=replace(docket.pixels, kind=suits, method=None))
        yield Note("kind", "pixels", {"kind": suits}, (Remedy("take-for-that", taken),))
    if pixels.choice == "turn":
        values = {"turn_deg": docket.crop.turn, "method": pixels.method}
        yield Note("turn-resamples", "pixels", values)
    yield from _method_removed(plan)
    yield from _not_by_ai(plan)
    yield from _good_jpeg(plan)
    if pixels.choice == "enlarge" and pixels.scale > _MUCH:
        yield Note("much-enlarged", "pixels", {"scale": pixels.scale}, grave=True)


def _not_by_ai(plan: Plan) -> Iterator[Note]:
    """Say why a kernel makes an enlargement that AI usually makes."""
    pixels, line = plan.pixels, plan.docket.pixels
    usual = pixels.choice == "enlarge" and pixels.scale > LEARNED_FROM and line.kind == "photo"
    if not usual or pixels.doublings or plan.measured is None:
        return
    why = plan.machine.without_networks
    if line.method is not None and (why is None or line.method not in LEARNED):
        return
    by_ai = replace(plan.docket, pixels=replace(line, method="ai"))
    remedies = (Remedy("use-ai", by_ai),) if why is None else ()
    values = {"method": pixels.method, "why": why, "edge_px": plan.measured.edge_px}
    yield Note("not-by-ai", "pixels", values, remedies)


_WORTH_REPAIR = 94
"""Above this quality, repair brings a print less than 0.2 dB nearer to the photo."""


def repair_offer(plan: PrintPlan, line: PixelsLine) -> Fraction | None:
    """Return the clean-up that would suit a good JPEG that is left alone; None if none would."""
    pixels, quality = plan.pixels, plan.facts.jpeg_quality
    usual = pixels.choice == "enlarge" and pixels.scale >= LARGE and line.clean is None
    if not usual or pixels.repair.clean or quality is None or quality < FINE_QUALITY:
        return None
    worst = plan.coding.quality
    return Fraction(round(plan.coding.usual_clean)) if (worst or 100) <= _WORTH_REPAIR else None


def _good_jpeg(plan: Plan) -> Iterator[Note]:
    """Offer repair for a good JPEG that is much enlarged."""
    line = plan.docket.pixels
    clean = repair_offer(plan, line)
    if clean is not None:
        mended = replace(plan.docket, pixels=replace(line, clean=clean))
        values = {"quality": plan.facts.jpeg_quality}
        yield Note("good-jpeg", "pixels", values, (Remedy("repair-it", mended),))


def _method_removed(plan: Plan) -> Iterator[Note]:
    line = plan.docket.pixels
    was = line.extra.get(REMOVED_METHOD)
    if was is not None:
        extra = {key: value for key, value in line.extra.items() if key != REMOVED_METHOD}
        kept = replace(plan.docket, pixels=replace(line, extra=extra))
        yield Note("method-removed", "pixels", {"was": was}, (Remedy("plain-ai", kept),))


def enough_ppi(plan: Plan) -> Fraction:
    """Return the resolution that is sufficient at the near viewing distance.

    Round up to a multiple of ten, or of five below 100: 287 ppi is not a usual resolution.
    """
    step = 10 if plan.near_ppi > 100 else 5
    return max(LOWEST_PPI, Fraction(-(-math.ceil(plan.near_ppi) // step) * step))


def _enough(plan: Plan) -> Iterator[Note]:
    """Offer a lower resolution if a file has far more than can be seen, or is far too large."""
    pixels, docket = plan.pixels, plan.docket
    if plan.maker.for_screen or plan.maker.untouched:
        return
    own, enough = pixels.ppi, enough_ppi(plan)
    huge = plan.file.bytes_estimate > _HUGE_BYTES
    more = pixels.choice != "keep" and own > 2 * plan.near_ppi
    if not (huge or more) or enough >= own:
        return
    choice = docket.pixels.choice
    line = replace(docket.pixels, target=None, choice="resample" if choice == "keep" else choice)
    fewer = replace(docket, size=replace(docket.size, ppi=enough), pixels=line)
    values = {
        "ppi": own,
        "near_mm": plan.near_mm,
        "enough_ppi": enough,
        "bytes": plan.file.bytes_estimate,
    }
    yield Note("more-than-seen", "pixels", values, (Remedy("enough", fewer, {"ppi": enough}),))
