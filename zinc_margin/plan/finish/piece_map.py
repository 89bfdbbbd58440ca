"""A page that shows how the pieces are joined."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.measure.resolution import round_half_up
from zinc_margin.plan.finish.page import Box, Page, Rule, Words
from zinc_margin.plan.model import PrintPlan
from zinc_margin.plan.text.on_paper import column_name, map_foot, map_head, row_name

_RIM_MM = Fraction(16)  # margin of the map's page


_HEAD_MM, _LINE_MM = Fraction(7), Fraction(9, 2)  # heights of the heading and of a line of text


_INK, _JOIN = "#1a1a1a", "#8e3b2e"


@dataclass(frozen=True)
class PieceMap:
    """The map's page.

    Attributes
    ----------
    page : Page
    picture : Box
        Box of the small picture.
    marks : tuple of Rule
    words : tuple of Words
    """

    page: Page
    picture: Box
    marks: tuple[Rule, ...]
    words: tuple[Words, ...]


def piece_map(plan: PrintPlan, name: str, units: str = "cm") -> PieceMap:
    """Lay out the map of a plan in pieces.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    pieces, whole = plan.pieces, plan.whole
    assert pieces is not None
    page = pieces.map
    per_mm = page.width / page.width_mm
    rim, head, line = (round_half_up(mm * per_mm) for mm in (_RIM_MM, _HEAD_MM, _LINE_MM))
    top = rim + head + 2 * line
    room = page.width - 2 * rim, page.height - top - rim - 2 * line
    scale = min(Fraction(room[0], whole.width), Fraction(room[1], whole.height))
    size = max(1, round_half_up(whole.width * scale)), max(1, round_half_up(whole.height * scale))
    left = (page.width - size[0]) // 2
    box = (left, top, *size)
    thick = max(1, round_half_up(per_mm / 4))
    marks, words = [], []
    for piece in pieces.each:
        x, y, wide, high = (round_half_up(side * scale) for side in piece.part)
        x, y = left + x, top + y
        marks += [
            Rule((x, y, wide, thick), _JOIN),
            Rule((x, y + high - thick, wide, thick), _JOIN),
            Rule((x, y, thick, high), _JOIN),
            Rule((x + wide - thick, y, thick, high), _JOIN),
        ]
        label = min(line * 2, max(8, high // 3))
        plate = (
            x + wide // 2 - label,
            y + high // 2 - label * 6 // 10,
            label * 2,
            label * 12 // 10,
        )
        marks.append(Rule(plate, "#ffffff"))
        number = (plate[0], y + high // 2 - label // 2, plate[2], label)
        words.append(Words(str(piece.number), number, "centre", "serif", _INK))
    for column in range(pieces.columns):
        x, _, wide, _ = pieces.each[column].part
        at = (
            left + round_half_up(x * scale),
            top - line - thick,
            round_half_up(wide * scale),
            line,
        )
        words.append(Words(column_name(column + 1), at, "centre", "sans", _INK))
    for row in range(pieces.rows):
        _, y, _, high = pieces.each[row * pieces.columns].part
        middle = top + round_half_up((y + Fraction(high, 2)) * scale)
        at = (max(2, left - rim + 2), middle - line // 2, rim - 4, line)
        words.append(Words(row_name(row + 1), at, "right", "sans", _INK))
    text = map_head(pieces, whole, units)
    foot = map_foot(pieces.join_mm, units)
    wide = page.width - 2 * rim
    words.append(Words(name, (rim, rim - head // 2, wide, head), "left", "serif", _INK))
    words.append(Words(text, (rim, rim + head // 2 + 2, wide, line), "left", "sans", _INK))
    below = top + size[1] + line // 2
    words.append(Words(foot, (rim, below, wide, line), "left", "sans", _INK))
    return PieceMap(page, box, tuple(marks), tuple(words))
