"""Write and verify PDF, whose pages are as large as their sheets."""

from __future__ import annotations

import os
import re
from pathlib import Path
from typing import BinaryIO

from zinc_margin.handoff.formats.bands import Bands, gather
from zinc_margin.handoff.formats.jpeg import jpeg_data
from zinc_margin.handoff.formats.pdf_pages import PdfPage, Picture, pdf_data
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.plan.model import PrintPlan


def write(out: Outgoing, bands: Bands, plan: PrintPlan, icc: bytes, photo: Path) -> None:
    """Write one page, as large as the sheet.

    Parameters
    ----------
    bands : Bands
        (rows, W, C) each, from the top.
    """
    page = pdf_page(bands, plan, icc)
    out.write(out.job.run_apart(lambda: pdf_data([page], f"{photo.stem}, {plan.size.label}")))


def is_whole(file: BinaryIO, plan: PrintPlan) -> bool:
    """Return whether the end exists and refers to the cross-reference table."""
    end = file.seek(0, os.SEEK_END)
    file.seek(max(0, end - 1024))
    found = re.search(rb"startxref\s+(\d+)\s+%%EOF\s*$", file.read())
    if found is None:
        return False
    file.seek(int(found[1]))
    return re.match(rb"xref|\d+ \d+ obj", file.read(64)) is not None


def pdf_page(bands: Bands, plan: PrintPlan, icc: bytes) -> PdfPage:
    """Return a plan's page with its boxes, its pixels lossless or as JPEG.

    Parameters
    ----------
    bands : Bands
        (rows, W, C) each, from the top.
    """
    page, sheet = plan.page, plan.sheet
    if plan.file.pdf_jpeg:
        data = jpeg_data(gather(bands, plan), plan, b"")
        picture = Picture(page.width, page.height, plan.file.channels, 8, data, True)
    else:
        picture = Picture.of_bands(bands)
    pdf = PdfPage.filled(page.width_mm, page.height_mm, picture, icc)
    if sheet is None or plan.cut is not None or not sheet.cut:
        return pdf
    top, right, bottom, left = sheet.margins_mm
    return pdf.cut_at(
        (left, top, page.width_mm - left - right, page.height_mm - top - bottom), sheet.bleed_mm
    )
