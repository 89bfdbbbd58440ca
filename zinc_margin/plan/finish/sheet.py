"""The sheet: the print's place on its paper, and everything around it."""

from __future__ import annotations

from fractions import Fraction
from typing import cast

from zinc_margin.docket.finish import FinishLine, Margins
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.words import pair, small
from zinc_margin.plan.file.watermark import Watermark, watermark_picture, watermark_words
from zinc_margin.plan.finish.captions import caption_rows, fill_caption
from zinc_margin.plan.finish.marks import MARK_GAP_MM, MARK_MM, crop_marks, fold_marks, key_line
from zinc_margin.plan.finish.page import Box, FourMm, Page, Sheet, Words
from zinc_margin.plan.finish.room import paper_for
from zinc_margin.plan.finish.sides import around_for, beyond_mm, side_mm
from zinc_margin.plan.parts import Pixels, PixelsPart, SizePart

_ZERO = Fraction(0)


_INK = "#1a1a1a"


def needs_sheet(line: FinishLine, watermark: Watermark | None) -> bool:
    """Return whether more than the plain print is requested."""
    return bool(
        watermark
        or line.sheet
        or line.margins
        or line.caption
        or line.footer
        or line.line_mm
        or line.marks
        or line.bleed_mm
        or line.make_up
        or side_mm(line)
        or line.staple_mm
    )


def sheet_for(
    line: FinishLine,
    facts: Facts,
    sized: SizePart,
    resampled: PixelsPart,
    watermark: Watermark | None,
) -> Sheet | None:
    """Lay out the sheet; None if the file is the print itself.

    Parameters
    ----------
    facts : Facts
        Facts for the captions.
    sized, resampled : SizePart, PixelsPart
        Parts of the previous lines.

    Raises
    ------
    BadRequest
        If the picture does not fit on its paper.
    """
    size, pixels = sized.size, resampled.pixels
    if not needs_sheet(line, watermark):
        return None
    per = _per_mm(size, pixels, resampled.goal_ppi)
    beyond = beyond_mm(line, sized.overspill_mm)
    around = around_for(line, beyond, per)
    reach = (around.across, around.down) if around is not None else (0, 0)
    body = size.width_mm + 2 * beyond, size.height_mm + 2 * beyond
    body_px = pixels.width + 2 * reach[0], pixels.height + 2 * reach[1]
    caption_mm = _caption_height(line, size)
    keep = _kept_free(line, caption_mm)
    paper = paper_for(line, round_half_up(body[0] * 1000), round_half_up(body[1] * 1000))
    if paper is None:
        sides = body[0] + keep.left + keep.right, body[1] + keep.top + keep.bottom
    else:
        sides = paper.width_mm, paper.height_mm
    free = sides[0] - keep.left - keep.right - body[0], sides[1] - keep.top - keep.bottom - body[1]
    if paper is not None and min(free) < 0:
        raise BadRequest(
            f"{pair(*body, 'cm')} does not fit on {paper.label} with that border. Choose a "
            "larger sheet, or let the picture fill it."
        )
    left_mm = keep.left + free[0] * line.place_x + beyond
    top_mm = keep.top + free[1] * line.place_y + beyond
    margins = (
        top_mm,
        sides[0] - left_mm - size.width_mm,
        sides[1] - top_mm - size.height_mm,
        left_mm,
    )
    wide, high = (_across(sides[i], body_px[i], body[i], per[i]) for i in (0, 1))
    if paper is None and per[0] == per[1] and side_mm(line):
        # The folds absorb half a pixel, so that both tags can be equal. A borderless page cannot:
        # the driver compares its size with the paper's.
        page = Page.of((wide / per[0], high / per[1]), wide, high)
    else:
        page = Page.of(sides, wide, high)
    left = round_half_up(left_mm * per[0])
    left = max(reach[0], min(left, wide - reach[0] - pixels.width))
    top = round_half_up(top_mm * per[1])
    top = max(reach[1], min(top, high - reach[1] - pixels.height))
    box = (left, top, pixels.width, pixels.height)
    edges = sized.maker.edges or (_ZERO,) * 4
    if sized.overspill_mm or side_mm(line):
        edges = (_ZERO,) * 4
    lost = tuple(max(_ZERO, edge - free_) for edge, free_ in zip(edges, margins, strict=True))
    stored = None
    if any(lost):
        stored = sides[0] - edges[1] - edges[3], sides[1] - edges[0] - edges[2]
    fold = side_mm(line)
    said = pair(size.width_mm, size.height_mm, "cm")
    face = (
        (size.width_mm - 2 * fold, size.height_mm - 2 * fold)
        if fold and line.wrap_own
        else (size.width_mm, size.height_mm)
    )
    if min(face) <= 0:
        raise BadRequest("The canvas sides are wider than the picture. Choose thinner bars.")
    return Sheet(
        page=page,
        tone=line.tone,
        left=left,
        top=top,
        around=around,
        marks=(
            *key_line(line, box, per),
            *crop_marks(line, box, reach, per, page),
            *fold_marks(line, box, reach, per),
        ),
        words=(
            *_words(line, facts, said, box, reach, per, page, caption_mm),
            *_watermark_lines(watermark, line, facts, said, page),
        ),
        margins_mm=margins,
        edges_mm=edges,
        lost_mm=cast("FourMm", lost),
        kept_mm=stored,
        side_mm=fold,
        bars_mm=line.wrap_mm or _ZERO,
        sides_within=line.wrap_own,
        face_mm=face,
        overlay=watermark_picture(watermark, page),
        bleed_mm=line.bleed_mm,
        cut=bool(line.marks or line.bleed_mm),
    )


def _per_mm(size: PrintSize, pixels: Pixels, ppi: Fraction) -> tuple[Fraction, Fraction]:
    """Return the pixels per mm each way: from the tag, or from the print's pixels."""
    even = ppi / MM_PER_INCH
    own = pixels.width, pixels.height
    if own == (round_half_up(size.width_mm * even), round_half_up(size.height_mm * even)):
        return even, even
    return own[0] / size.width_mm, own[1] / size.height_mm


def _across(side: Fraction, body_px: int, body: Fraction, per: Fraction) -> int:
    """Return a sheet's pixels along one side: the picture's own without a margin."""
    return body_px if side == body else max(1, body_px, round_half_up(side * per))


_ROW = Fraction(5, 4)
"""Distance of a caption's rows, relative to their height."""


def _kept_free(line: FinishLine, caption_mm: Fraction) -> Margins:
    """Return the margins: as requested, and as marks and words require."""
    staple = line.staple_mm
    if line.margins is not None:
        keep = line.margins
        return Margins(
            keep.top + staple, keep.right + staple, keep.bottom + staple, keep.left + staple
        )
    if line.sheet is not None:
        return Margins(staple, staple, staple, staple)
    marks = MARK_MM + 2 * MARK_GAP_MM if line.marks else _ZERO
    ring = max(staple, marks, 2 * (line.line_mm + line.line_gap_mm))
    below = ring
    if line.caption or line.footer:
        ring = max(ring, 2 * caption_mm)
        more = _ROW * caption_mm * max(0, len(caption_rows(line.caption)) - 1)
        below = ring + 2 * caption_mm + more + (caption_mm if line.caption and line.footer else 0)
    return Margins(ring, ring, below, ring)


def _caption_height(line: FinishLine, size: PrintSize) -> Fraction:
    if line.caption_mm is not None:
        return line.caption_mm
    return max(Fraction(3), (min(size.width_mm, size.height_mm) / 45).__round__(1))


def _watermark_lines(
    watermark: Watermark | None, line: FinishLine, facts: Facts, said: str, page: Page
) -> tuple[Words, ...]:
    if watermark is None:
        return ()
    laid = watermark_words(watermark, fill_caption(watermark.text, facts, line, said), page)
    return () if laid is None else (laid,)


def _words(
    line: FinishLine,
    facts: Facts,
    size: str,
    box: Box,
    reach: tuple[int, int],
    per: tuple[Fraction, Fraction],
    page: Page,
    caption_mm: Fraction,
) -> tuple[Words, ...]:
    """Return the caption below the picture and the small footer; `size` is text."""
    rows = []
    left, top, width, height = box
    below = top + height + reach[1]
    line_px = max(4, round_half_up(caption_mm * per[1]))
    gap = round_half_up((line.line_mm + line.line_gap_mm) * per[1]) + round(line_px * 0.6)
    captions = [fill_caption(row, facts, line, size) for row in caption_rows(line.caption)]
    for at, caption in enumerate(filter(None, captions)):
        y = below + gap + round_half_up(at * _ROW * line_px)
        rows.append(Words(caption, (left, y, width, line_px), "centre", "serif", _INK))
    foot = fill_caption(line.footer, facts, line, size)
    if foot:
        small_px = max(4, round(line_px * 0.62))
        y = page.height - round(small_px * 1.8)
        rows.append(Words(foot, (left, y, width, small_px), "left", "sans", "#5a5a5a"))
    for words in rows:
        if words.box[1] + words.box[3] > page.height or words.box[1] < below:
            needed = (3 + _ROW * max(0, len(captions) - 1)) * caption_mm
            raise BadRequest(
                f"There is no space for “{words.text[:40]}” below the picture. Give the sheet "
                f"a bottom margin of at least {small(needed, 'cm')}."
            )
    return tuple(rows)
