"""A picture on several sheets or strips: number, size and overlap of the pieces.

A side of length L, with pieces of at most p that overlap by o, needs n = ceil((L − o) / (p − o)) of
them; balanced, each is (L + (n − 1)·o) / n long.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.docket.finish import FinishLine
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.makers import Maker
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.plan.finish.page import Box, Page, Piece, Pieces, Rule, Words
from zinc_margin.plan.text.on_paper import piece_label

MOST = 400
"""A request for more pieces is a mistake."""


_MARK_MM = Fraction(4)  # length of a joining mark


_GAP_MM = Fraction(3, 2)  # distance between marks and picture, so that marks are cut off


_INK = "#1a1a1a"


_ROLL_END_MM = Fraction(10)  # blank roll before and after a piece, to cut by hand


# The map is an A4 page at a resolution that any printer can print.
_MAP_LONG_MM, _MAP_SHORT_MM, _MAP_PPI = Fraction(297), Fraction(210), Fraction(150)


def count_for(length: Fraction, most: Fraction, overlap: Fraction) -> int:
    """Return the least number of pieces, at most `most` long, that cover a length with overlaps.

    Parameters
    ----------
    length : Fraction
        In mm.
    overlap : Fraction
        In mm.

    Raises
    ------
    BadRequest
        If pieces are not longer than the overlap.

    Examples
    --------
    >>> count_for(Fraction(1000), Fraction(400), Fraction(20))
    3
    """
    if length <= most:
        return 1
    if most <= overlap:
        raise BadRequest("The overlap is as wide as the printable sheet. Make it narrower.")
    return math.ceil((length - overlap) / (most - overlap))


def divide(length: int, count: int, overlap: int) -> list[tuple[int, int]]:
    """Divide a length evenly into overlapping pieces, in whole pixels.

    Parameters
    ----------
    count : int
        Number, 1 or more.

    Returns
    -------
    list of (start, length)
        Lengths differ by at most one pixel; overlaps and the joined length are exact.

    Examples
    --------
    >>> divide(1000, 3, 20)
    [(0, 347), (327, 347), (654, 346)]
    """
    whole, more = divmod(length + (count - 1) * overlap, count)
    result, start = [], 0
    for index in range(count):
        long = whole + (index < more)
        result.append((start, long))
        start += long - overlap
    return result


@dataclass(frozen=True)
class _Lay:
    """One way to arrange the pieces."""

    columns: list[tuple[int, int]]
    rows: list[tuple[int, int]]
    paper: tuple[Fraction, Fraction]  # mm; for a roll, width without length, or the reverse
    edges: tuple[Fraction, Fraction, Fraction, Fraction]

    @property
    def count(self) -> int:
        return len(self.columns) * len(self.rows)


def edges_for(line: FinishLine, maker: Maker) -> tuple[Fraction, Fraction, Fraction, Fraction]:
    """Return a piece's unprintable top, right, bottom and left edges, in mm."""
    if line.edge_mm is not None:
        return (line.edge_mm,) * 4
    return maker.edges or (Fraction(0),) * 4


def pieces_of(line: FinishLine, maker: Maker, whole: Page, name: str) -> Pieces | None:
    """Return the pieces of a finished sheet; None if it is not divided.

    Parameters
    ----------
    maker : Maker
        The maker with its unprintable edges.
    name : str
        Name for the labels.

    Raises
    ------
    BadRequest
        If a sheet has no printable area, or there are too many pieces.
    """
    if line.pieces is None and line.roll_mm is None:
        return None
    per_mm = whole.width / whole.width_mm, whole.height / whole.height_mm
    edges = edges_for(line, maker)
    grids = [_grid(line, edges, whole, turned) for turned in (False, True)]
    fewest = min(grid.count for grid in grids)
    if fewest > MOST:  # check first: dividing a kilometre into small sheets would take minutes
        raise BadRequest(f"That takes {fewest} pieces. Choose larger sheets or a smaller print.")
    lays = [_lay(grid, line, whole, per_mm) for grid in grids if grid.count == fewest]
    best = min(lays, key=lambda lay: _paper_share(lay, whole, per_mm))
    join = round_half_up(line.join_mm * per_mm[0]), round_half_up(line.join_mm * per_mm[1])
    each = tuple(
        _piece(best, line, whole, per_mm, join, row, column, name)
        for row in range(len(best.rows))
        for column in range(len(best.columns))
    )
    used = _paper_share(best, whole, per_mm)
    return Pieces(
        len(best.rows),
        len(best.columns),
        each,
        join,
        None if line.roll_mm is not None else line.pieces,
        line.roll_mm,
        line.join_mm,
        max(0.0, 1 - float(whole.width_mm * whole.height_mm) / used),
        _map_leaf(whole),
    )


@dataclass(frozen=True)
class _Grid:
    """Rows and columns of pieces for one orientation of the paper."""

    columns: int
    rows: int
    paper: tuple[Fraction, Fraction]
    edges: tuple[Fraction, Fraction, Fraction, Fraction]

    @property
    def count(self) -> int:
        return self.columns * self.rows


def _grid(
    line: FinishLine,
    edges: tuple[Fraction, Fraction, Fraction, Fraction],
    whole: Page,
    turned: bool,
) -> _Grid:
    if turned:
        edges = edges[3], edges[0], edges[1], edges[2]
    top, right, bottom, left = edges
    long = Fraction(10**6)  # a roll has no length limit
    if line.roll_mm is not None:
        paper = (long, line.roll_mm) if turned else (line.roll_mm, long)
    else:
        assert line.pieces is not None
        sides = line.pieces.width_mm, line.pieces.height_mm
        paper = (sides[1], sides[0]) if turned else sides
    most = paper[0] - left - right, paper[1] - top - bottom
    if min(most) <= 0:
        raise BadRequest("The unprintable edges cover the whole sheet. Choose a larger sheet.")
    whole_mm = whole.width_mm, whole.height_mm
    counts = [
        count_for(side, room, line.join_mm) for side, room in zip(whole_mm, most, strict=True)
    ]
    return _Grid(min(counts[0], whole.width), min(counts[1], whole.height), paper, edges)


def _lay(grid: _Grid, line: FinishLine, whole: Page, per_mm: tuple[Fraction, Fraction]) -> _Lay:
    join = round_half_up(line.join_mm * per_mm[0]), round_half_up(line.join_mm * per_mm[1])
    return _Lay(
        divide(whole.width, grid.columns, join[0]),
        divide(whole.height, grid.rows, join[1]),
        grid.paper,
        grid.edges,
    )


def _leaf_sides(lay: _Lay, part: Box, per_mm: tuple[Fraction, Fraction]) -> list[Fraction]:
    """Return a piece's paper size; a roll is cut to fit the part, its edges and the marks."""
    sides = []
    for axis in (0, 1):
        side = lay.paper[axis]
        if side >= 10**6:
            edge = (lay.edges[3] + lay.edges[1]) if axis == 0 else (lay.edges[0] + lay.edges[2])
            side = part[2 + axis] / per_mm[axis] + edge + 2 * _ROLL_END_MM
        sides.append(side)
    return sides


def _paper_share(lay: _Lay, whole: Page, per_mm: tuple[Fraction, Fraction]) -> float:
    total = Fraction(0)
    for x, wide in lay.columns:
        for y, high in lay.rows:
            sides = _leaf_sides(lay, (x, y, wide, high), per_mm)
            total += sides[0] * sides[1]
    return float(total)


def _piece(
    lay: _Lay,
    line: FinishLine,
    whole: Page,
    per_mm: tuple[Fraction, Fraction],
    join: tuple[int, int],
    row: int,
    column: int,
    name: str,
) -> Piece:
    x, wide = lay.columns[column]
    y, high = lay.rows[row]
    sides = _leaf_sides(lay, (x, y, wide, high), per_mm)
    # A part that fills its sheet may have been rounded up beyond the sheet's pixels.
    pixels = [
        max(part, round_half_up(side * per))
        for part, side, per in zip((wide, high), sides, per_mm, strict=True)
    ]
    top, right, bottom, left = lay.edges
    # Centre the part in the printable area, so marks fit on every side if possible.
    at_x = round_half_up(left * per_mm[0])
    at_y = round_half_up(top * per_mm[1])
    free_x = pixels[0] - round_half_up((left + right) * per_mm[0]) - wide
    free_y = pixels[1] - round_half_up((top + bottom) * per_mm[1]) - high
    at_x, at_y = at_x + max(0, free_x) // 2, at_y + max(0, free_y) // 2
    at_x, at_y = min(at_x, pixels[0] - wide), min(at_y, pixels[1] - high)
    page = Page.of(sides, *pixels)
    number = row * len(lay.columns) + column + 1
    has = (row > 0, column + 1 < len(lay.columns), row + 1 < len(lay.rows), column > 0)
    room = min(free_x, 2 * 10**9) // 2, min(free_y, 2 * 10**9) // 2
    marks = _joining(at_x, at_y, wide, high, room, per_mm, join, has)
    words = _label(
        piece_label(
            name, (row + 1, len(lay.rows)), (column + 1, len(lay.columns)), (number, lay.count)
        ),
        at_x,
        at_y,
        wide,
        high,
        room,
        per_mm,
    )
    return Piece(number, row + 1, column + 1, page, at_x, at_y, (x, y, wide, high), marks, words)


def _joining(
    left: int,
    top: int,
    wide: int,
    high: int,
    room: tuple[int, int],
    per_mm: tuple[Fraction, Fraction],
    join: tuple[int, int],
    has: tuple[bool, bool, bool, bool],
) -> tuple[Rule, ...]:
    """Draw trim lines at a part's corners, and marks at its neighbours' edges.

    All are outside the picture, where space allows.
    """
    thick = max(1, round_half_up(per_mm[0] / 8))
    gap = round_half_up(_GAP_MM * per_mm[0])
    marks: list[Rule] = []
    above, right_of, below, left_of = has
    long_y = min(round_half_up(_MARK_MM * per_mm[1]), room[1] - gap)
    if long_y > 2 * thick:
        across = [left, left + wide]
        across += [left + join[0]] if left_of else []
        across += [left + wide - join[0]] if right_of else []
        for x in across:
            for y in (top - gap - long_y, top + high + gap):
                marks.append(Rule((x - thick // 2, y, thick, long_y), _INK))
    long_x = min(round_half_up(_MARK_MM * per_mm[0]), room[0] - gap)
    if long_x > 2 * thick:
        down = [top, top + high]
        down += [top + join[1]] if above else []
        down += [top + high - join[1]] if below else []
        for y in down:
            for x in (left - gap - long_x, left + wide + gap):
                marks.append(Rule((x, y - thick // 2, long_x, thick), _INK))
    return tuple(marks)


def _label(
    text: str,
    left: int,
    top: int,
    wide: int,
    high: int,
    room: tuple[int, int],
    per_mm: tuple[Fraction, Fraction],
) -> tuple[Words, ...]:
    """Write the piece's name below the picture, if space allows."""
    line = round_half_up(_MARK_MM * per_mm[1])
    gap = round_half_up(_GAP_MM * per_mm[1])
    line = min(line, room[1] - gap)
    if line < 8:
        return ()
    inset = round_half_up(_MARK_MM * 3 * per_mm[0])
    box = (left + inset, top + high + gap, max(1, wide - 2 * inset), line)
    return (Words(text, box, "centre", "sans", _INK),)


def _map_leaf(whole: Page) -> Page:
    lies = whole.width_mm >= whole.height_mm
    sides = (_MAP_LONG_MM, _MAP_SHORT_MM) if lies else (_MAP_SHORT_MM, _MAP_LONG_MM)
    return Page.of(sides, *(round_half_up(side / Fraction("25.4") * _MAP_PPI) for side in sides))
