"""Several prints on one sheet: each at its own size, or all in a grid of equal rooms."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.finish import FinishLine
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import round_half_up, tag_for
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.words import pair
from zinc_margin.plan.build import ABLE
from zinc_margin.plan.build import plan as make_plan
from zinc_margin.plan.finish.page import Page, Words
from zinc_margin.plan.model import Machine, Plan

_CAPTION_MM = Fraction(7, 2)


_INK = "#1a1a1a"


@dataclass(frozen=True)
class Laying:
    """How prints are to lie together.

    Attributes
    ----------
    sheet : PrintSize
        As it lies.
    grid : (int, int) or None
        Columns and rows; None: every print at its own size, row after row.
    border_mm, gap_mm : Fraction
    captions : bool
        The photos' names under them.
    ppi : Fraction
        Of the sheet.
    machine : Machine
        What this machine can do.
    """

    sheet: PrintSize
    grid: tuple[int, int] | None = None
    border_mm: Fraction = Fraction(10)
    gap_mm: Fraction = Fraction(5)
    captions: bool = True
    ppi: Fraction = Fraction(300)
    machine: Machine = ABLE


@dataclass(frozen=True)
class Cell:
    """One print on the sheet.

    Attributes
    ----------
    which : int
        Counted from 0, as they were given.
    left, top : int
        In pixels of the sheet.
    plan : Plan
    """

    which: int
    left: int
    top: int
    plan: Plan


@dataclass(frozen=True)
class SharedSheet:
    """One sheet of prints."""

    page: Page
    cells: tuple[Cell, ...]
    words: tuple[Words, ...]


def together(prints: Sequence[tuple[Facts, Docket]], laying: Laying) -> tuple[SharedSheet, ...]:
    """Lay prints out on as few sheets as the way of laying takes.

    Parameters
    ----------
    prints : sequence of (Facts, Docket)
    laying : Laying

    Raises
    ------
    BadRequest
        When a print is larger than the sheet's room, or the grid leaves no room.
    """
    if not prints:
        raise BadRequest("There is no photo to lay on the sheet.")
    room = (
        laying.sheet.width_mm - 2 * laying.border_mm, laying.sheet.height_mm - 2 * laying.border_mm
    )  # fmt: skip
    if min(room) <= 0:
        raise BadRequest(f"The border leaves nothing of {laying.sheet.label}.")
    places = (
        _own_sizes(prints, laying, room) if laying.grid is None else _in_grid(prints, laying, room)
    )
    return tuple(_page(prints, laying, places_on_sheet) for places_on_sheet in places)


_Place = tuple[int, Fraction, Fraction, PrintSize]
"""Which, left and top in mm, and how large."""


def _caption(laying: Laying) -> Fraction:
    return _CAPTION_MM * Fraction(3, 2) if laying.captions else Fraction(0)


def _own_sizes(
    prints: Sequence[tuple[Facts, Docket]], laying: Laying, room: tuple[Fraction, Fraction]
) -> list[list[_Place]]:
    pages: list[list[_Place]] = [[]]
    x = y = row = Fraction(0)
    for which, (facts, docket) in enumerate(prints):
        size = make_plan(facts, docket, laying.machine).size
        high = size.height_mm + _caption(laying)
        if size.width_mm > room[0] or high > room[1]:
            raise BadRequest(
                f"{facts.path.name} prints {pair(size.width_mm, size.height_mm, 'cm')}, which is "
                f"more than {laying.sheet.label} holds; take a larger sheet, or a grid."
            )
        if x and x + size.width_mm > room[0]:
            x, y, row = Fraction(0), y + row + laying.gap_mm, Fraction(0)
        if y + high > room[1]:
            pages.append([])
            x = y = row = Fraction(0)
        pages[-1].append((which, laying.border_mm + x, laying.border_mm + y, size))
        x += size.width_mm + laying.gap_mm
        row = max(row, high)
    return pages


def _in_grid(
    prints: Sequence[tuple[Facts, Docket]], laying: Laying, room: tuple[Fraction, Fraction]
) -> list[list[_Place]]:
    assert laying.grid is not None
    columns, rows = laying.grid
    wide = (room[0] - (columns - 1) * laying.gap_mm) / columns
    high = (room[1] - (rows - 1) * laying.gap_mm) / rows - _caption(laying)
    if min(wide, high) < 5:
        raise BadRequest(f"{columns} × {rows} pictures do not fit on {laying.sheet.label}.")
    pages: list[list[_Place]] = []
    for which, (facts, docket) in enumerate(prints):
        at = which % (columns * rows)
        if at == 0:
            pages.append([])
        size = make_plan(facts, docket, laying.machine).size
        times = min(wide / size.width_mm, high / size.height_mm)
        fitted = PrintSize("", size.width_mm * times, size.height_mm * times)
        row, column = divmod(at, columns)
        left = laying.border_mm + column * (wide + laying.gap_mm) + (wide - fitted.width_mm) / 2
        top = laying.border_mm + row * (high + _caption(laying) + laying.gap_mm)
        top += (high - fitted.height_mm) / 2
        pages[-1].append((which, left, top, fitted))
    return pages


def _page(
    prints: Sequence[tuple[Facts, Docket]], laying: Laying, places: Sequence[_Place]
) -> SharedSheet:
    per_mm = laying.ppi / MM_PER_INCH
    sides = laying.sheet.width_mm, laying.sheet.height_mm
    width, height = (round_half_up(side * per_mm) for side in sides)
    page = Page(*sides, width, height, tag_for(width, sides[0]), tag_for(height, sides[1]))
    cells, words = [], []
    line = round_half_up(_CAPTION_MM * per_mm)
    for which, left, top, size in places:
        facts, docket = prints[which]
        plan = make_plan(facts, _placed(docket, size, laying.ppi), laying.machine)
        pixels = plan.pixels
        x = min(round_half_up(left * per_mm), width - pixels.width)
        y = min(round_half_up(top * per_mm), height - pixels.height)
        cells.append(Cell(which, max(0, x), max(0, y), plan))
        if laying.captions:
            box = (max(0, x), y + pixels.height + line // 4, pixels.width, line)
            words.append(Words(facts.path.stem, box, "centre", "sans", _INK))
    return SharedSheet(page, tuple(cells), tuple(words))


def _placed(docket: Docket, size: PrintSize, ppi: Fraction) -> Docket:
    """Return a print's docket at the size that it has on the sheet, without a sheet of its own."""
    return replace(
        docket,
        size=replace(docket.size, size=size, way=None, lie="as-given", ppi=ppi),
        pixels=replace(docket.pixels, choice="resample", target=None),
        finish=FinishLine(wrap_mm=Fraction(0), tuck_mm=Fraction(0)),  # nor sides of a canvas
        file=replace(docket.file, max_bytes=None),
    )
