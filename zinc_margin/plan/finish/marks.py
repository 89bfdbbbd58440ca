"""Lines and marks on a sheet: around the picture, at cuts, at a canvas's folds."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.finish import FinishLine
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.plan.finish.page import Box, Page, Rule
from zinc_margin.plan.finish.sides import side_mm

_INK = "#1a1a1a"
MARK_MM, MARK_GAP_MM = Fraction(5), Fraction(2)


_MARK_WIDE_MM = Fraction(1, 8)  # thin enough to cut along


_FOLD_MM = Fraction(4)  # length of a fold mark, hidden behind the bars


def key_line(line: FinishLine, box: Box, per: tuple[Fraction, Fraction]) -> tuple[Rule, ...]:
    """Draw a line around the picture, at its distance.

    Parameters
    ----------
    box : Box
        Left, top, width and height of the print on its sheet, in pixels.
    per : (Fraction, Fraction)
        Pixels per mm, each way.
    """
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


def crop_marks(
    line: FinishLine, box: Box, reach: tuple[int, int], per: tuple[Fraction, Fraction], page: Page
) -> tuple[Rule, ...]:
    """Draw two ticks at every corner of the cut, outside the picture and its bleed.

    Parameters
    ----------
    box : Box
        Left, top, width and height of the print on its sheet, in pixels.
    reach : (int, int)
        Extension of the picture beyond its edge, in pixels.
    per : (Fraction, Fraction)
        Pixels per mm, each way.
    """
    if not line.marks:
        return ()
    long = tuple(round_half_up(MARK_MM * by) for by in per)
    gap = tuple(max(round_half_up(MARK_GAP_MM * by), r) for by, r in zip(per, reach, strict=True))
    thick = max(1, round_half_up(_MARK_WIDE_MM * per[0]))
    ticks = corner_ticks(box, (gap[0], gap[1]), (long[0], long[1]), thick)
    return tuple(Rule(tick, _INK) for tick in ticks)


def corner_ticks(
    box: Box, gap: tuple[int, int], long: tuple[int, int], thick: int
) -> tuple[Box, ...]:
    """Return two ticks at every corner of a box, outside it, in pixels.

    Parameters
    ----------
    gap, long : (int, int)
        Distance from the box, and length, across and down.
    """
    left, top, width, height = box
    ticks: list[Box] = []
    for x in (left, left + width):
        for y in (top - gap[1] - long[1], top + height + gap[1]):
            ticks.append((x - thick // 2, y, thick, long[1]))
    for y in (top, top + height):
        for x in (left - gap[0] - long[0], left + width + gap[0]):
            ticks.append((x, y - thick // 2, long[0], thick))
    return tuple(ticks)


def fold_marks(
    line: FinishLine, box: Box, reach: tuple[int, int], per: tuple[Fraction, Fraction]
) -> tuple[Rule, ...]:
    """Draw ticks at the ends of the folds, on the part that is folded behind the bars.

    Parameters
    ----------
    box : Box
        Left, top, width and height of the print on its sheet, in pixels.
    reach : (int, int)
        Extension of the picture beyond its edge, in pixels.
    per : (Fraction, Fraction)
        Pixels per mm, each way.
    """
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
    rows = []
    for at in (x + inset[0], x + w - inset[0]):
        for start in (y, y + h - tick[1]):
            rows.append(Rule((at - thick // 2, start, thick, tick[1]), _INK))
    for at in (y + inset[1], y + h - inset[1]):
        for start in (x, x + w - tick[0]):
            rows.append(Rule((start, at - thick // 2, tick[0], thick), _INK))
    return tuple(rows)
