"""Write test strips: rendered, labelled, ruled, at the true scale of the print."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import numpy as np

from zinc_margin.handoff.formats.bands import plain_picture
from zinc_margin.handoff.formats.pdf_pages import PdfPage, Picture, pdf_data
from zinc_margin.handoff.names import check_goal
from zinc_margin.keeping.files import save_whole
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.errors import BadRequest
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.drawing import ink_of
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.sharpen.strip import Strip

FORMATS = {".tif": "tiff", ".tiff": "tiff", ".png": "png", ".pdf": "pdf"}
_INK = 0.12


def render_strip(photo: Photo, strip: Strip, job: Job = IDLE) -> np.ndarray:
    """Render a test strip.

    Returns
    -------
    ndarray (H, W, C), uint8 or uint16
        In the photo's colours and depth.
    """
    renderers = [Renderer(photo, each) for each in strip.plans]
    dtype = renderers[0].dtype
    most = int(np.iinfo(dtype).max)
    sheet = np.full((strip.height, strip.width, photo.codes.shape[2]), most, dtype)
    width, height = strip.side
    for done, patch in enumerate(strip.patches, 1):
        part = renderers[patch.variant].region(patch.from_left, patch.from_top, width, height, job)
        sheet[patch.top : patch.top + height, patch.left : patch.left + width] = part
        job.report(done / len(strip.patches))
    line = round(strip.label * 0.8)
    _write(sheet, strip.title, strip.rim, strip.rim, round(line * 1.25), "serif")
    for column, label in enumerate(strip.labels):
        patch = next(one for one in strip.patches if one.variant == column)
        _write(sheet, label, patch.left, patch.top - strip.label, line, "sans", width)
    _rule(sheet, strip, line)
    return sheet


def _write(
    sheet: np.ndarray,
    words: str,
    left: int,
    top: int,
    height: int,
    face: str,
    widest: int | None = None,
) -> None:
    ink = ink_of(words, height, face, widest or sheet.shape[1] - 2 * left)
    part = sheet[top : top + ink.shape[0], left : left + ink.shape[1]]
    ink = ink[: part.shape[0], : part.shape[1], None]
    part[:] = np.rint(part * (1 - ink * (1 - _INK))).astype(sheet.dtype)


def _rule(sheet: np.ndarray, strip: Strip, line: int) -> None:
    """Draw a ruler in millimetres, with its caption."""
    dark = round(int(np.iinfo(sheet.dtype).max) * _INK)
    thick = max(1, round(strip.px_per_mm * 0.12))
    top, left = strip.ruler_top, strip.rim
    long = int((strip.width - 2 * strip.rim) / strip.px_per_mm // 10) * 10
    long = min(100, long)
    sheet[top : top + thick, left : left + round(long * strip.px_per_mm)] = dark
    for mm in range(long + 1):
        x = left + round(mm * strip.px_per_mm)
        tall = 2.2 if mm % 10 == 0 else 1.6 if mm % 5 == 0 else 1.0
        sheet[top : top + round(tall * strip.px_per_mm), x : x + thick] = dark
    beside = left + round((long + 3) * strip.px_per_mm)
    _write(
        sheet,
        f"{long} mm.  {strip.foot}",
        beside,
        top,
        line,
        "sans",
        sheet.shape[1] - beside - left,
    )


def write_strip(
    out: Path, photo: Photo, strip: Strip, overwrite: bool = False, job: Job = IDLE
) -> Path:
    """Write a test strip as TIFF, PNG or PDF, whole or not at all.

    Parameters
    ----------
    overwrite : bool
        Whether to replace an existing file (never the photo).
    """
    form = FORMATS.get(out.suffix.lower())
    if form is None:
        raise BadRequest(f"{out.name}: a test strip must be a .tif, .png or .pdf.")
    check_goal(photo.facts.path, out, overwrite)
    sheet = render_strip(photo, strip, job)
    ppi = strip.px_per_mm * 25.4
    if form == "pdf":
        mm = Fraction(strip.width) / Fraction(ppi) * Fraction("25.4")
        tall = Fraction(strip.height) / Fraction(ppi) * Fraction("25.4")
        data = pdf_data(
            [PdfPage.filled(mm, tall, Picture.of_bands([sheet]), photo.colour.icc)], strip.title
        )
    else:
        data = plain_picture(sheet, form, ppi, photo.colour.icc)
    save_whole(out, data)
    return out
