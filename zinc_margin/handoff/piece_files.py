"""Write a picture in pieces: one file per piece, or the pages of one PDF, and the map."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import replace
from pathlib import Path

import numpy as np
from PIL import Image

from zinc_margin.handoff import names
from zinc_margin.handoff.conversion import file_bands
from zinc_margin.handoff.formats.bands import plain_picture
from zinc_margin.handoff.formats.pdf import pdf_page
from zinc_margin.handoff.formats.pdf_pages import PdfPage, Picture, pdf_data
from zinc_margin.handoff.make import Written, make_file, make_whole
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.keeping.files import check_ours, save_whole
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.errors import CannotDo
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.drawing import Drawing
from zinc_margin.pixels.sheets import page_of
from zinc_margin.plan.finish.piece_map import piece_map
from zinc_margin.plan.model import PrintPlan
from zinc_margin.plan.text.printing_notes import SLIP_TITLE


def piece_plans(plan: PrintPlan) -> list[PrintPlan]:
    """Return one plan per piece, in the order of assembly."""
    assert plan.pieces is not None
    return [replace(plan, cut=piece) for piece in plan.pieces.each]


def map_page(photo: Photo, plan: PrintPlan, name: str, job: Job = IDLE) -> np.ndarray:
    """Draw the assembly map, (H, W, C) uint8 in the photo's colours."""
    laid = piece_map(plan, name)
    left, top, wide, high = laid.picture
    small = page_of(photo, plan.small(max(wide, high)))
    height, width, _ = small.shape
    codes = small.region(0, 0, width, height, job)
    if codes.dtype != np.uint8:
        codes = (codes // 257).astype(np.uint8)
    bands = [
        np.asarray(Image.fromarray(codes[..., channel]).resize((wide, high)))
        for channel in range(codes.shape[2])
    ]
    drawn = Drawing(photo, np.dtype(np.uint8), "#ffffff", laid.marks, laid.words)
    codes_drawn = drawn.paper(laid.page.height, laid.page.width)
    codes_drawn[top : top + high, left : left + wide] = np.stack(bands, 2)
    drawn.onto(codes_drawn, 0, 0)
    return codes_drawn


def make_pieces(
    photo: Photo, plan: PrintPlan, folder: Path, overwrite: bool = False, job: Job = IDLE
) -> list[Written]:
    """Write every piece as a separate file, numbered in the order of assembly, and the map.

    Parameters
    ----------
    overwrite : bool
        Whether to replace an existing file (never the photo).

    Raises
    ------
    BadRequest, CannotDo, Cancelled
        If a name is taken, before anything is written. Finished pieces stay.
    """
    if not folder.is_dir():
        raise CannotDo(f"There is no folder {folder}; nothing was written.")
    plans = piece_plans(plan)
    goals = [names.piece_goal(photo.facts.path, each, folder) for each in plans]
    map_goal = names.map_goal(photo.facts.path, plan, folder)
    for goal in [*goals, map_goal]:
        names.check_goal(photo.facts.path, goal, overwrite)
    result = []
    for done, (each, goal) in enumerate(zip(plans, goals, strict=True)):
        result.append(make_file(photo, each, goal, overwrite, job.step(done, len(plans))))
    codes_drawn = map_page(photo, plan, photo.facts.path.stem, job)
    _write(map_goal, plain_picture(codes_drawn, "png", 150, photo.colour.icc))
    return result


def make_pieces_pdf(
    photo: Photo, plan: PrintPlan, out: Path, overwrite: bool = False, job: Job = IDLE
) -> Written:
    """Write every piece as a page of one PDF, with the map as the last page.

    Parameters
    ----------
    overwrite : bool
        Whether to replace an existing file (never the photo).
    """
    plans = piece_plans(plan)

    def pages() -> Iterator[PdfPage]:
        for done, each in enumerate(plans):
            bands, icc = file_bands(photo, each, job.step(done, len(plans)))
            yield pdf_page(bands, each, icc)
        assert plan.pieces is not None
        page = plan.pieces.map
        codes_drawn = map_page(photo, plan, photo.facts.path.stem, job)
        picture = Picture.of_bands([codes_drawn])
        yield PdfPage.filled(page.width_mm, page.height_mm, picture, photo.colour.icc)

    def write(part: Outgoing) -> PrintPlan:
        title = f"{photo.facts.path.stem}, {plan.size.label}, in {len(plans)} pieces"
        part.write(pdf_data(list(pages()), title))
        return plan

    return make_whole(photo, plan, out, overwrite, write, job)


def _write(goal: Path, data: bytes) -> None:
    try:
        save_whole(goal, data)
    except CannotDo:
        with suppress(OSError):
            os.unlink(goal)
        raise


def write_slip(out: Path, text: str) -> Path:
    """Write printing notes next to a file, replacing older ones with the same name."""
    goal = slip_goal(out)
    check_ours(goal, SLIP_TITLE)
    _write(goal, text.encode("utf-8"))
    return goal


def slip_goal(out: Path) -> Path:
    """Return the path of a file's printing notes."""
    return out.with_name(out.name + ".printing-notes.txt")
