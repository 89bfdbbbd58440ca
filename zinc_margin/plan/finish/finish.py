"""The Finish line of a plan: the sheet, and the pieces of a large print."""

from __future__ import annotations

from zinc_margin.docket.finish import FinishLine
from zinc_margin.facts.facts import Facts
from zinc_margin.plan.file.watermark import Watermark
from zinc_margin.plan.finish.page import Page, Pieces, Sheet
from zinc_margin.plan.finish.pieces import pieces_of
from zinc_margin.plan.finish.sheet import sheet_for
from zinc_margin.plan.parts import PixelsPart, SizePart


def finish_part(
    line: FinishLine,
    facts: Facts,
    sized: SizePart,
    resampled: PixelsPart,
    watermark: Watermark | None,
) -> tuple[Sheet | None, Pieces | None]:
    """Return the Finish line's part of a plan: sheet and pieces, or None for either.

    Parameters
    ----------
    facts : Facts
        Facts for the captions.
    sized, resampled : SizePart, PixelsPart
        Parts of the previous lines.
    watermark : Watermark or None
        The page's watermark.

    Raises
    ------
    BadRequest
        If the picture does not fit on its paper, or a sheet has no space for a piece.
    """
    sheet = sheet_for(line, facts, sized, resampled, watermark)
    pixels, size = resampled.pixels, sized.size
    whole = Page(
        size.width_mm, size.height_mm, pixels.width, pixels.height, pixels.tag_x, pixels.tag_y
    )
    if sheet is not None:
        whole = sheet.page
    return sheet, pieces_of(line, sized.maker, whole, facts.path.stem)
