"""The sheet: where the print lies on its paper, and what lies round it."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.finish import FinishLine, Margins
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import round_half_up, tag_for
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.words import pair, small
from zinc_margin.plan.file.watermark import mark_words, watermark_picture
from zinc_margin.plan.finish.captions import filled
from zinc_margin.plan.finish.page import Around, Box, Leaf, Rule, Sheet, Words
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.lying import lies_upright
from zinc_margin.plan.size.target import maker_of
from zinc_margin.plan.size.unseen import overspill_of

_ZERO = Fraction(0)


_MARK_MM, _MARK_GAP_MM = Fraction(5), Fraction(2)


_MARK_WIDE_MM = Fraction(1, 8)


_INK = "#1a1a1a"


_FOLD_MM = Fraction(4)


def paper_for(docket: Docket, width: int, height: int) -> PrintSize | None:
    """Return the docket's paper as it lies for a picture of that shape; None without one."""
    line = docket.finish
    if line.sheet is None:
        return None
    lies = "across" if line.turned else "auto"
    return lies_upright(width, height, line.sheet, lies)


def room_for(docket: Docket, width: int, height: int) -> PrintSize | None:
    """Return the size that a picture takes on its sheet; None where it keeps its own.

    Raises
    ------
    BadRequest
        When margins and sides leave nothing.
    """
    paper = paper_for(docket, width, height)
    line = docket.finish
    if paper is None or not line.scales:
        return None
    keep = line.margins or Margins(_ZERO, _ZERO, _ZERO, _ZERO)
    around = 2 * (_beyond(docket, paper) + line.staple_mm)
    wide = paper.width_mm - keep.left - keep.right - around
    high = paper.height_mm - keep.top - keep.bottom - around
    if min(wide, high) <= 0:
        raise BadRequest(f"The margins leave nothing of {paper.label} for the picture.")
    return PrintSize(pair(wide, high, "cm"), wide, high)


def side_mm(line: FinishLine) -> Fraction:
    """Return the width of a canvas's sides: bar depth and tuck."""
    return line.wrap_mm + line.tuck_mm


def _beyond(docket: Docket, size: PrintSize) -> Fraction:
    """Return how far the picture is carried on beyond its edge, in mm."""
    line = docket.finish
    side = side_mm(line)
    if side and not line.wrap_own:
        return side
    return max(line.bleed_mm, overspill_of(docket, size) if line.make_up else _ZERO)


def wanted(docket: Docket) -> bool:
    """Tell whether a docket asks for more than the plain print."""
    line, file = docket.finish, docket.file
    return bool(
        file.watermark
        or file.watermark_picture
        or line.sheet or line.margins or line.caption or line.foot or line.line_mm or line.marks
        or line.bleed_mm or line.make_up or side_mm(line) or line.staple_mm
    )  # fmt: skip


def sheet_for(facts: Facts, plan: Plan, ppi: Fraction) -> Sheet | None:
    """Lay out the sheet of a plan whose pixels stand; None where the file is the print itself.

    Parameters
    ----------
    ppi : Fraction
        At which pixels are worked out; where they are kept, the print's own counts.

    Raises
    ------
    BadRequest
        When the picture does not fit on its paper.
    """
    docket, line, size = plan.docket, plan.docket.finish, plan.size
    if not wanted(docket):
        return None
    per = _per_mm(plan, ppi)
    around = _around(docket, size, per)
    reach = (around.across, around.down) if around is not None else (0, 0)
    beyond = _beyond(docket, size)
    body = size.width_mm + 2 * beyond, size.height_mm + 2 * beyond
    body_px = plan.pixels.width + 2 * reach[0], plan.pixels.height + 2 * reach[1]
    caption_mm = _caption_height(line, size)
    keep = _kept_free(line, caption_mm)
    paper = paper_for(docket, round_half_up(body[0] * 1000), round_half_up(body[1] * 1000))
    if paper is None:
        sides = body[0] + keep.left + keep.right, body[1] + keep.top + keep.bottom
    else:
        sides = paper.width_mm, paper.height_mm
    free = sides[0] - keep.left - keep.right - body[0], sides[1] - keep.top - keep.bottom - body[1]
    if paper is not None and min(free) < 0:
        raise BadRequest(
            f"A picture of {pair(*body, 'cm')} does not fit on {paper.label} with that border; "
            "let it take the sheet's size, or take a larger sheet."
        )
    left_mm = keep.left + free[0] * line.place_x + beyond
    top_mm = keep.top + free[1] * line.place_y + beyond
    margins = (
        top_mm, sides[0] - left_mm - size.width_mm, sides[1] - top_mm - size.height_mm, left_mm
    )  # fmt: skip
    wide, high = (_across(sides[i], body_px[i], body[i], per[i]) for i in (0, 1))
    leaf = Leaf(*sides, wide, high, tag_for(wide, sides[0]), tag_for(high, sides[1]))
    left = round_half_up(left_mm * per[0])
    left = max(reach[0], min(left, wide - reach[0] - plan.pixels.width))
    top = round_half_up(top_mm * per[1])
    top = max(reach[1], min(top, high - reach[1] - plan.pixels.height))
    box = (left, top, plan.pixels.width, plan.pixels.height)
    edges = maker_of(docket.size).edges or (_ZERO,) * 4
    if overspill_of(docket, size) or side_mm(line):
        edges = (_ZERO,) * 4
    lost = tuple(max(_ZERO, edge - free_) for edge, free_ in zip(edges, margins, strict=True))
    kept = None
    if any(lost):
        kept = sides[0] - edges[1] - edges[3], sides[1] - edges[0] - edges[2]
    fold = side_mm(line)
    face = (
        (size.width_mm - 2 * fold, size.height_mm - 2 * fold)
        if fold and line.wrap_own
        else (size.width_mm, size.height_mm)
    )
    if min(face) <= 0:
        raise BadRequest("The canvas's sides are wider than the picture; no face would be left.")
    return Sheet(
        leaf, line.tone, left, top, around,
        (*_key_line(line, box, per), *_crop_marks(line, box, reach, per, leaf),
         *_fold_marks(line, box, reach, per)),
        (*_words(facts, plan, box, reach, per, leaf, caption_mm), *_marked(facts, plan, leaf)),
        margins, edges, lost, kept, fold, face,  # type: ignore[arg-type]
        watermark_picture(docket.file, leaf),
    )  # fmt: skip


_NEAR = 0.03


def placed(plan: Plan, x: float, y: float, right_mm: float, down_mm: float) -> Docket:
    """Return the docket with the picture moved on its sheet, drawn to the middle of its room.

    Parameters
    ----------
    x, y : float
        Its place before, 0 to 1 each.
    right_mm, down_mm : float
        By how much.
    """
    sheet, line = plan.sheet, plan.docket.finish
    assert sheet is not None
    keep = line.margins or Margins(_ZERO, _ZERO, _ZERO, _ZERO)
    top, right, bottom, left = (float(mm) for mm in sheet.margins_mm)
    free_x = left + right - float(keep.left + keep.right)
    free_y = top + bottom - float(keep.top + keep.bottom)
    found = []
    for at, by, free in ((x, right_mm, free_x), (y, down_mm, free_y)):
        share = min(1.0, max(0.0, at + by / free)) if free > 0.01 else 0.5
        share = 0.5 if abs(share - 0.5) < _NEAR else share
        found.append(Fraction(round(share * 1000), 1000))
    moved = replace(line, place_x=found[0], place_y=found[1])
    return replace(plan.docket, finish=moved)


def _per_mm(plan: Plan, ppi: Fraction) -> tuple[Fraction, Fraction]:
    """Return the pixels of a mm each way: of the resolution, where the print's pixels are its."""
    size, even = plan.size, ppi / MM_PER_INCH
    pixels = plan.pixels.width, plan.pixels.height
    if pixels == (round_half_up(size.width_mm * even), round_half_up(size.height_mm * even)):
        return even, even
    return pixels[0] / size.width_mm, pixels[1] / size.height_mm


def _across(side: Fraction, body_px: int, body: Fraction, per: Fraction) -> int:
    """Return a sheet's pixels: those of what lies on it, where nothing is left free."""
    return body_px if side == body else max(1, body_px, round_half_up(side * per))


def _around(docket: Docket, size: PrintSize, per: tuple[Fraction, Fraction]) -> Around | None:
    beyond = _beyond(docket, size)
    if not beyond:
        return None
    line = docket.finish
    across, down = (max(1, round_half_up(beyond * by)) for by in per)
    if not side_mm(line):
        return Around(across, down)
    strip = line.wrap_strip_mm
    share = Fraction(1) if strip is None else min(Fraction(1), strip / beyond)
    return Around(
        across, down, share, float(line.wrap_soften_mm / beyond), line.wrap_tone,
        float(line.wrap_strength) / 100 if line.wrap_tone else 0.0,
    )  # fmt: skip


def _kept_free(line: FinishLine, caption_mm: Fraction) -> Margins:
    """Return the margins: those that are asked for, and what marks and words need by themselves."""
    staple = line.staple_mm
    if line.margins is not None:
        keep = line.margins
        return Margins(
            keep.top + staple, keep.right + staple, keep.bottom + staple, keep.left + staple
        )
    if line.sheet is not None:
        return Margins(staple, staple, staple, staple)
    marks = _MARK_MM + 2 * _MARK_GAP_MM if line.marks else _ZERO
    ring = max(staple, marks, 2 * (line.line_mm + line.line_gap_mm))
    below = ring
    if line.caption or line.foot:
        ring = max(ring, 2 * caption_mm)
        below = ring + 2 * caption_mm + (caption_mm if line.caption and line.foot else 0)
    return Margins(ring, ring, below, ring)


def _caption_height(line: FinishLine, size: PrintSize) -> Fraction:
    if line.caption_mm is not None:
        return line.caption_mm
    return max(Fraction(3), (min(size.width_mm, size.height_mm) / 45).__round__(1))


def _key_line(line: FinishLine, box: Box, per: tuple[Fraction, Fraction]) -> tuple[Rule, ...]:
    if not line.line_mm:
        return ()
    left, top, width, height = box
    wide = tuple(max(1, round_half_up(line.line_mm * by)) for by in per)
    off = tuple(round_half_up(line.line_gap_mm * by) for by in per)
    outer = (
        left - off[0] - wide[0], top - off[1] - wide[1],
        width + 2 * (off[0] + wide[0]), height + 2 * (off[1] + wide[1]),
    )  # fmt: skip
    x, y, w, h = outer
    return (
        Rule((x, y, w, wide[1]), line.line_tone),
        Rule((x, y + h - wide[1], w, wide[1]), line.line_tone),
        Rule((x, y + wide[1], wide[0], h - 2 * wide[1]), line.line_tone),
        Rule((x + w - wide[0], y + wide[1], wide[0], h - 2 * wide[1]), line.line_tone),
    )


def _crop_marks(
    line: FinishLine, box: Box, reach: tuple[int, int], per: tuple[Fraction, Fraction], leaf: Leaf
) -> tuple[Rule, ...]:
    """Draw two ticks at every corner of the cut, off the picture and its bleed."""
    if not line.marks:
        return ()
    left, top, width, height = box
    long = tuple(round_half_up(_MARK_MM * by) for by in per)
    gap = tuple(max(round_half_up(_MARK_GAP_MM * by), r) for by, r in zip(per, reach, strict=True))
    thick = max(1, round_half_up(_MARK_WIDE_MM * per[0]))
    found = []
    for x in (left, left + width):
        for y in (top - gap[1] - long[1], top + height + gap[1]):
            found.append(Rule((x - thick // 2, y, thick, long[1]), _INK))
    for y in (top, top + height):
        for x in (left - gap[0] - long[0], left + width + gap[0]):
            found.append(Rule((x, y - thick // 2, long[0], thick), _INK))
    return tuple(found)


def _fold_marks(
    line: FinishLine, box: Box, reach: tuple[int, int], per: tuple[Fraction, Fraction]
) -> tuple[Rule, ...]:
    """Draw ticks at the ends of the folds, on the part that is tucked behind the bars."""
    fold = side_mm(line)
    if not line.fold_marks or not fold:
        return ()
    left, top, width, height = box
    outer = (left - reach[0], top - reach[1], width + 2 * reach[0], height + 2 * reach[1])
    inset = (reach[0] or round_half_up(fold * per[0]), reach[1] or round_half_up(fold * per[1]))
    tick = tuple(
        max(1, min(round_half_up(_FOLD_MM * by), i // 2)) for by, i in zip(per, inset, strict=True)
    )
    thick = max(1, round_half_up(per[0] / 5))
    x, y, w, h = outer
    found = []
    for at in (x + inset[0], x + w - inset[0]):
        for start in (y, y + h - tick[1]):
            found.append(Rule((at - thick // 2, start, thick, tick[1]), _INK))
    for at in (y + inset[1], y + h - inset[1]):
        for start in (x, x + w - tick[0]):
            found.append(Rule((start, at - thick // 2, tick[0], thick), _INK))
    return tuple(found)


def _marked(facts: Facts, plan: Plan, leaf: Leaf) -> tuple[Words, ...]:
    line = plan.docket.file
    size = pair(plan.size.width_mm, plan.size.height_mm, "cm")
    text = filled(line.watermark, facts, plan.docket.finish, size)
    laid = mark_words(line, text, leaf)
    return () if laid is None else (laid,)


def _words(
    facts: Facts, plan: Plan, box: Box, reach: tuple[int, int], per: tuple[Fraction, Fraction],
    leaf: Leaf, caption_mm: Fraction,
) -> tuple[Words, ...]:  # fmt: skip
    """Set the caption under the picture and the small line at the foot."""
    line, found = plan.docket.finish, []
    size = pair(plan.size.width_mm, plan.size.height_mm, "cm")
    left, top, width, height = box
    below = top + height + reach[1]
    line_px = max(4, round_half_up(caption_mm * per[1]))
    caption = filled(line.caption, facts, line, size)
    if caption:
        gap = round_half_up((line.line_mm + line.line_gap_mm) * per[1]) + round(line_px * 0.6)
        found.append(Words(caption, (left, below + gap, width, line_px), "centre", "serif", _INK))
    foot = filled(line.foot, facts, line, size)
    if foot:
        small_px = max(4, round(line_px * 0.62))
        y = leaf.height - round(small_px * 1.8)
        found.append(Words(foot, (left, y, width, small_px), "left", "sans", "#5a5a5a"))
    for words in found:
        if words.box[1] + words.box[3] > leaf.height or words.box[1] < below:
            raise BadRequest(
                f"There is no room for “{words.text[:40]}” under the picture; give the sheet a "
                f"bottom margin of {small(3 * caption_mm, 'cm')} or more."
            )
    return tuple(found)
