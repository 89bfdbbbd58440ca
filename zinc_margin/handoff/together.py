"""Sheets with several prints as files."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from threading import Event

from ..measure.errors import BadRequest
from ..photo.pixels import Photo
from ..pixels.together import Together
from ..plan.leaf import Piece
from ..plan.model import Plan
from ..plan.together import Page
from . import names, writers
from .make import Written, made_whole
from .pdf import Page as PdfPage
from .pdf import Picture, pdf_data

_NOBODY = Path(os.devnull)
"""Several photos have no metadata in common."""


def make_together(
    photos: Sequence[Photo], pages: Sequence[Page], out: Path, overwrite: bool = False,
    progress: Callable[[float], None] | None = None, cancel: Event | None = None,
) -> list[Written]:  # fmt: skip
    """Write sheets of prints: one file a sheet, numbered when there are several, or one PDF.

    Raises
    ------
    BadRequest, CannotDo, Cancelled
    """
    form = names.format_of(out)
    for photo in photos:
        if names.same_file(photo.facts.path, out):
            raise BadRequest(f"{out} is one of the photos, which are never written to.")
    shares = [
        _share(progress, done, len(pages)) for done in range(len(pages))
    ]  # fmt: skip
    bits = 16 if form != "jpeg" and all(_deep(page) for page in pages) else 8
    drawn = [Together(photos, page, bits) for page in pages]
    plans = [
        _as_plan(page, form, bits, each.shape[2]) for page, each in zip(pages, drawn, strict=True)
    ]
    if form == "pdf":

        def write_pdf(part: Path) -> Plan:
            made = [
                PdfPage.filled(
                    page.leaf.width_mm, page.leaf.height_mm,
                    Picture.of_bands(each.bands(share, cancel)), each.colour.icc,
                )
                for page, each, share in zip(pages, drawn, shares, strict=True)
            ]  # fmt: skip
            part.write_bytes(pdf_data(made, out.stem))
            return plans[0]

        return [made_whole(photos[0], plans[0], out, overwrite, write_pdf)]
    goals = [out]
    if len(pages) > 1:
        wide = len(str(len(pages)))
        goals = [out.with_stem(f"{out.stem}-{at:0{wide}d}") for at in range(1, len(pages) + 1)]
    for goal in goals:
        names.check_goal(photos[0].facts.path, goal, overwrite)
    written = []
    for goal, plan, each, share in zip(goals, plans, drawn, shares, strict=True):

        def write(
            part: Path, plan: Plan = plan, each: Together = each, share: object = share
        ) -> Plan:
            bands = each.bands(share, cancel)  # type: ignore[arg-type]
            writers.write(part, bands, plan, each.colour.icc, _NOBODY)
            return plan

        written.append(made_whole(photos[0], plan, goal, overwrite, write))
    return written


def _write(
    part: Path, plan: Plan, page: Together, share: Callable[[float], None] | None,
    cancel: Event | None,
) -> Plan:  # fmt: skip
    writers.write(part, page.bands(share, cancel), plan, page.colour.icc, _NOBODY)
    return plan


def _deep(page: Page) -> bool:
    return any(cell.plan.file.bits == 16 for cell in page.cells)


def _share(
    progress: Callable[[float], None] | None, done: int, count: int
) -> Callable[[float], None] | None:
    if progress is None:
        return None
    return lambda share: progress((done + share) / count)


def _as_plan(page: Page, form: str, bits: int, channels: int) -> Plan:
    """Return a plan whose file is the page."""
    first = page.cells[0].plan
    leaf = page.leaf
    whole = Piece(1, 1, 1, leaf, 0, 0, (0, 0, leaf.width, leaf.height))
    size = leaf.width * leaf.height * channels * bits // 8
    file = replace(
        first.file, format=form, bits=bits, channels=channels, unlimited_bytes=size, max_bytes=None
    )
    return replace(first, cut=whole, file=file)
