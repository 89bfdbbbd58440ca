"""Notes on the file."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from zinc_margin.docket.docket import Docket
from zinc_margin.measure.formats import formats
from zinc_margin.plan.model import Note, Plan, Remedy
from zinc_margin.plan.parts import ByteFit
from zinc_margin.plan.size.grade import FEW

_COUNTED = {"jpeg": "inch", "png": "metre"}
"""Formats whose resolution tag is an integer, and its unit."""


def file_notes(plan: Plan) -> Iterator[Note]:
    """Yield the notes of the File line."""
    key, pixels = plan.file.format, plan.pixels
    form = formats()[key]
    tiff = Remedy("write-tiff", _written_as(plan, "tiff"))
    if plan.file.fit is not None:
        yield _byte_limit(plan, plan.file.fit)
    if key == "jpeg" and form.most_px and max(pixels.width, pixels.height) > form.most_px:
        yield Note("jpeg-too-wide", "file", {"most_px": form.most_px}, (tiff,), grave=True)
    if plan.file.metadata != "none" and not plan.facts.said.readable:
        yield Note("metadata-damaged", "file")
    if form.bits == (8,) and plan.facts.working_bits == 16:
        yield Note("cuts-depth", "file", {"format": key}, (tiff,))
    if key in _COUNTED and any(below != 1 for _, below in (pixels.tag_x, pixels.tag_y)):
        yield Note("rounded-tag", "file", {"format": key, "unit": _COUNTED[key]})


def _byte_limit(plan: Plan, fit: ByteFit) -> Note:
    key, docket = plan.file.format, plan.docket
    remedies = [] if key == "jpeg" else [Remedy("write-jpeg", _written_as(plan, "jpeg"))]
    if docket.file.max_bytes is not None:
        lifted = replace(docket, file=replace(docket.file, max_bytes=None))
        remedies.append(Remedy("lift-limit", lifted))
    values = {
        "format": key,
        "most_bytes": plan.file.max_bytes,
        "bytes": fit.free_bytes,
        "ppi": fit.ppi,
        "free_ppi": fit.free_ppi,
        "quality": fit.quality,
        "free_quality": fit.free_quality,
        "for_screen": plan.maker.for_screen,
    }
    short = plan.judged_ppi < plan.floor_ppi <= plan.effective_ppi or plan.grade == FEW
    return Note("byte-limit", "file", values, tuple(remedies), grave=short and fit.times < 1)


def _written_as(plan: Plan, form: str) -> Docket:
    return replace(plan.docket, file=replace(plan.docket.file, format=form))
