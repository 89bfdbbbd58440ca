"""Sheets with several prints as files."""

from __future__ import annotations

import os
from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path

from zinc_margin.handoff import names, print_log
from zinc_margin.handoff.formats.pdf_pages import PdfPage, Picture, pdf_data
from zinc_margin.handoff.formats.registry import Writer
from zinc_margin.handoff.make import Written, make_whole
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.shared_pages import Together
from zinc_margin.plan.finish.page import Piece
from zinc_margin.plan.finish.shared_sheet import SharedSheet
from zinc_margin.plan.model import PrintPlan

_NOBODY = Path(os.devnull)
"""Several photos have no common metadata."""


def make_together(
    photos: Sequence[Photo],
    sheets: Sequence[SharedSheet],
    out: Path,
    overwrite: bool = False,
    job: Job = IDLE,
) -> list[Written]:
    """Write sheets of prints: one file per sheet, numbered, or one PDF.

    Parameters
    ----------
    overwrite : bool
        Whether to replace an existing file (never the photo).
    """
    form = names.format_of(out)
    goals = [out]
    if len(sheets) > 1 and form != "pdf":
        wide = len(str(len(sheets)))
        goals = [out.with_stem(f"{out.stem}-{at:0{wide}d}") for at in range(1, len(sheets) + 1)]
    for goal in goals:
        for photo in photos:
            names.check_goal(photo.facts.path, goal, overwrite)
    jobs = [job.step(done, len(sheets)) for done in range(len(sheets))]
    bits = 16 if form != "jpeg" and all(_deep(sheet) for sheet in sheets) else 8
    drawn = [Together(photos, sheet, bits) for sheet in sheets]
    plans = [
        _as_plan(sheet, form, bits, each.shape[2])
        for sheet, each in zip(sheets, drawn, strict=True)
    ]
    if form == "pdf":

        def write_pdf(part: Outgoing) -> PrintPlan:
            result = [
                PdfPage.filled(
                    sheet.page.width_mm,
                    sheet.page.height_mm,
                    Picture.of_bands(each.bands(step)),
                    each.colour.icc,
                )
                for sheet, each, step in zip(sheets, drawn, jobs, strict=True)
            ]
            part.write(pdf_data(result, out.stem))
            return plans[0]

        return [make_whole(photos[0], plans[0], out, overwrite, write_pdf)]
    written = []
    for goal, plan, each, step in zip(goals, plans, drawn, jobs, strict=True):
        write = partial(_write, plan=plan, sheet=each, job=step)
        written.append(make_whole(photos[0], plan, goal, overwrite, write))
    return written


def note_prints(sheets: Sequence[SharedSheet], where: str) -> None:
    """Log the prints on shared sheets; copies count as one.

    Parameters
    ----------
    where : str
        Name of the file or printer.
    """
    for plan in {id(cell.plan): cell.plan for sheet in sheets for cell in sheet.cells}.values():
        print_log.note(plan.facts, plan, None, f"a shared sheet, {where}")


def _write(part: Outgoing, plan: PrintPlan, sheet: Together, job: Job) -> PrintPlan:
    Writer(plan).write(part, sheet.bands(job), sheet.colour.icc, _NOBODY)
    return plan


def _deep(sheet: SharedSheet) -> bool:
    return any(cell.plan.file.bits == 16 for cell in sheet.cells)


def _as_plan(sheet: SharedSheet, form: str, bits: int, channels: int) -> PrintPlan:
    """Return a plan whose file is the page."""
    first = sheet.cells[0].plan
    page = sheet.page
    whole = Piece(1, 1, 1, page, 0, 0, (0, 0, page.width, page.height))
    size = page.width * page.height * channels * bits // 8
    file = replace(
        first.file, format=form, bits=bits, channels=channels, unlimited_bytes=size, max_bytes=None
    )
    return replace(first, cut=whole, file=file)
