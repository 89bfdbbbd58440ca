"""Several prints on one sheet or roll: each at its size, or all in a grid of equal cells."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from math import lcm

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.finish import FinishLine
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.measure.sizes import PrintSize, stands
from zinc_margin.measure.words import length, pair
from zinc_margin.plan.build import ABLE
from zinc_margin.plan.build import plan as make_plan
from zinc_margin.plan.crop.frame import largest_crop
from zinc_margin.plan.finish import packing
from zinc_margin.plan.finish.marks import corner_ticks
from zinc_margin.plan.finish.page import Box, Page, Rule, Words
from zinc_margin.plan.model import Machine, Plan

_CAPTION_MM = Fraction(7, 2)  # height of a caption
_INK = "#1a1a1a"
_FLAT = FinishLine(wrap_mm=Fraction(0), tuck_mm=Fraction(0))
"""A Finish line without canvas sides."""
# Length, distance and width of crop marks: short, so that neighbours fit.
_MARK_MM, _MARK_OFF_MM, _MARK_WIDE_MM = Fraction(4), Fraction(1, 2), Fraction(1, 8)
_LONGEST_ROLL_MM = 20_000  # a roll is rarely longer than 20 m
MOST_PRINTS = 400
"""Limit for all sheets together."""


@dataclass(frozen=True)
class Laying:
    """The layout of a shared sheet.

    Attributes
    ----------
    sheet : PrintSize
        The sheet as oriented; for a roll only its width matters.
    grid : (int, int) or None
        Columns and rows; None: every print at its own size with little waste.
    border_mm, gap_mm : Fraction
    captions : bool
        Whether to print the photos' names.
    ppi : Fraction
        Size of the sheet.
    machine : Machine
        What this machine can do.
    roll : bool
        Whether it is a roll.
    turns : bool
        Whether prints may be rotated to save paper.
    marks : bool
        Whether to draw crop marks.
    """

    sheet: PrintSize
    grid: tuple[int, int] | None = None
    border_mm: Fraction = Fraction(10)
    gap_mm: Fraction = Fraction(5)
    captions: bool = True
    ppi: Fraction = Fraction(300)
    machine: Machine = ABLE
    roll: bool = False
    turns: bool = True
    marks: bool = False

    @property
    def caption_mm(self) -> Fraction:
        """The height of each print's caption below it."""
        return _CAPTION_MM * Fraction(3, 2) if self.captions else Fraction(0)


@dataclass(frozen=True)
class Wanted:
    """Prints of one photo at one size.

    Attributes
    ----------
    which : int
        Index of the photo.
    facts : Facts
    docket : Docket
        A docket whose size is used.
    copies : int
    """

    which: int
    facts: Facts
    docket: Docket
    copies: int = 1


@dataclass(frozen=True)
class Place:
    """The place of one print, in mm from the sheet's corner.

    Attributes
    ----------
    wanted : int
        Index of the entry that it copies.
    size : PrintSize
        The print's size, not rotated.
    left, top : Fraction
    turned : bool
        Whether it is rotated by 90° to the left.
    """

    wanted: int
    size: PrintSize
    left: Fraction
    top: Fraction
    turned: bool = False

    @property
    def width(self) -> Fraction:
        """The print's width in its orientation, in mm."""
        return self.size.height_mm if self.turned else self.size.width_mm

    @property
    def height(self) -> Fraction:
        """The print's height in its orientation, in mm."""
        return self.size.width_mm if self.turned else self.size.height_mm


Places = tuple[tuple[Place, ...], ...]
"""The places on each sheet."""


@dataclass(frozen=True)
class Cell:
    """One print on the sheet.

    Attributes
    ----------
    which : int
        Index of the photo.
    left, top : int
        Position in pixels of the sheet.
    plan : Plan
        Plan of the print, not rotated.
    turned : bool
        Whether it is rotated by 90° to the left.
    """

    which: int
    left: int
    top: int
    plan: Plan
    turned: bool = False

    @property
    def box(self) -> Box:
        """The print's place, in pixels."""
        wide, high = self.plan.pixels.width, self.plan.pixels.height
        return (self.left, self.top, *((high, wide) if self.turned else (wide, high)))


@dataclass(frozen=True)
class SharedSheet:
    """One sheet of prints."""

    page: Page
    cells: tuple[Cell, ...]
    words: tuple[Words, ...]
    marks: tuple[Rule, ...] = ()


def wanted_print(
    which: int, facts: Facts, docket: Docket, size: PrintSize | None = None, copies: int = 1
) -> Wanted:
    """Return prints of a photo, at the given size or at its docket's.

    Parameters
    ----------
    which : int
        Index of the photo.
    size : PrintSize or None
        The size; oriented as the photo, except for a passport photo.
    """
    if size is not None:
        lie = "as-given" if stands(size) else "auto"
        line = replace(docket.size, size=size, way=None, lie=lie)
        # The print's own sheet must not change its size either.
        docket = replace(docket, size=line, crop=largest_crop(docket.crop), finish=_FLAT)
    return Wanted(which, facts, docket, copies)


def lay_out(prints: Sequence[Wanted], laying: Laying) -> Places:
    """Return the place of every print.

    Raises
    ------
    BadRequest
        If a print is larger than the sheet's space, or the grid leaves no space.
    """
    count = sum(one.copies for one in prints)
    if not count:
        raise BadRequest("There is no photo for the sheet.")
    if count > MOST_PRINTS:
        raise BadRequest(
            f"{count} prints are more than the limit of {MOST_PRINTS}. Divide them into several "
            "layouts."
        )
    long = laying.sheet.height_mm - 2 * laying.border_mm
    room = laying.sheet.width_mm - 2 * laying.border_mm, None if laying.roll else long
    if room[0] <= 0 or (room[1] is not None and room[1] <= 0):
        raise BadRequest(f"The border leaves no space on {laying.sheet.label}. Make it narrower.")
    sizes = [make_plan(one.facts, one.docket, laying.machine).size for one in prints]
    if laying.grid is not None:
        if laying.roll:
            raise BadRequest("A grid needs a sheet. On a roll every print has its own size.")
        return _in_grid(prints, sizes, laying, (room[0], long))
    return _own_sizes(prints, sizes, laying, room)


def _own_sizes(
    prints: Sequence[Wanted],
    sizes: Sequence[PrintSize],
    laying: Laying,
    room: tuple[Fraction, Fraction | None],
) -> Places:
    below = laying.caption_mm
    # Use integers in a unit that divides every length, so rounding cannot occur.
    lengths = [side for size in sizes for side in (size.width_mm, size.height_mm)]
    parts = lcm(*(one.denominator for one in (*lengths, *filter(None, room), below, laying.gap_mm)))

    def whole(mm: Fraction) -> int:
        return int(mm * parts)

    pieces, of = [], []
    for at, (one, size) in enumerate(zip(prints, sizes, strict=True)):
        upright = whole(size.width_mm), whole(size.height_mm + below)
        turned = whole(size.height_mm), whole(size.width_mm + below)
        piece = packing.Piece(*upright, turned if laying.turns else None)
        if not any(
            wide <= whole(room[0]) and (room[1] is None or high <= whole(room[1]))
            for wide, high in (upright, turned if laying.turns else upright)
        ):
            raise BadRequest(
                f"{one.facts.path.name} at {pair(size.width_mm, size.height_mm, 'cm')} does "
                f"not fit inside the border of {_sheet_name(laying)}. Choose larger paper, a "
                "narrower border, or a smaller print."
            )
        pieces += [piece] * one.copies
        of += [at] * one.copies
    inside = whole(room[0]), None if room[1] is None else whole(room[1])

    def place(laid: packing.Laid) -> Place:
        at, corner = of[laid.which], (Fraction(laid.left, parts), Fraction(laid.top, parts))
        border = laying.border_mm
        return Place(at, sizes[at], border + corner[0], border + corner[1], laid.turned)

    sheets = packing.pack(pieces, inside, whole(laying.gap_mm))
    return tuple(tuple(place(laid) for laid in sheet) for sheet in sheets)


def _sheet_name(laying: Laying) -> str:
    return f"a {laying.sheet.label}" if laying.roll else laying.sheet.label


def _in_grid(
    prints: Sequence[Wanted],
    sizes: Sequence[PrintSize],
    laying: Laying,
    room: tuple[Fraction, Fraction],
) -> Places:
    assert laying.grid is not None
    columns, rows = laying.grid
    wide = (room[0] - (columns - 1) * laying.gap_mm) / columns
    high = (room[1] - (rows - 1) * laying.gap_mm) / rows - laying.caption_mm
    if min(wide, high) < 5:
        raise BadRequest(
            f"{columns} × {rows} pictures do not fit on {laying.sheet.label}. Use fewer."
        )
    sheets: list[list[Place]] = []
    every = [at for at, one in enumerate(prints) for _ in range(one.copies)]
    for number, at in enumerate(every):
        cell = number % (columns * rows)
        if cell == 0:
            sheets.append([])
        size = sizes[at]
        times = min(wide / size.width_mm, high / size.height_mm)
        fitted = PrintSize("", size.width_mm * times, size.height_mm * times)
        row, column = divmod(cell, columns)
        left = laying.border_mm + column * (wide + laying.gap_mm) + (wide - fitted.width_mm) / 2
        top = laying.border_mm + row * (high + laying.caption_mm + laying.gap_mm)
        top += (high - fitted.height_mm) / 2
        sheets[-1].append(Place(at, fitted, left, top))
    return tuple(map(tuple, sheets))


def page_mm(laying: Laying, sheet: Sequence[Place]) -> tuple[Fraction, Fraction]:
    """Return a sheet's width and height in mm; a roll is cut after its last print."""
    if not laying.roll:
        return laying.sheet.width_mm, laying.sheet.height_mm
    below = max((place.top + place.height + laying.caption_mm for place in sheet), default=0)
    return laying.sheet.width_mm, Fraction(-int(-(below + laying.border_mm) // 1))


def sheets_of(prints: Sequence[Wanted], laying: Laying, places: Places) -> tuple[SharedSheet, ...]:
    """Return sheets with every print in its place.

    Parameters
    ----------
    places : Places
        Places, possibly moved by hand.

    Raises
    ------
    BadRequest
        If the roll would be too long.
    """
    plans: dict[tuple[int, Fraction, Fraction], Plan] = {}

    def plan_of(place: Place) -> Plan:
        key = place.wanted, place.size.width_mm, place.size.height_mm
        if key not in plans:
            one = prints[place.wanted]
            placed = _docket_on_sheet(one.docket, place.size, laying.ppi)
            plans[key] = make_plan(one.facts, placed, laying.machine)
        return plans[key]

    return tuple(_sheet(prints, laying, sheet, plan_of) for sheet in places)


def _sheet(
    prints: Sequence[Wanted],
    laying: Laying,
    places: Sequence[Place],
    plan_of: Callable[[Place], Plan],
) -> SharedSheet:
    per_mm = laying.ppi / MM_PER_INCH
    sides = page_mm(laying, places)
    if sides[1] > _LONGEST_ROLL_MM:
        raise BadRequest(
            f"The prints need {length(sides[1], 'cm')} of the roll; the limit is "
            f"{_LONGEST_ROLL_MM // 1000} m. Divide them into several layouts."
        )
    width, height = (round_half_up(side * per_mm) for side in sides)
    page = Page.of(sides, width, height)
    cells, words = [], []
    line = round_half_up(_CAPTION_MM * per_mm)
    for place in places:
        cell = Cell(prints[place.wanted].which, 0, 0, plan_of(place), place.turned)
        _, _, wide, high = cell.box
        x = max(0, min(round_half_up(place.left * per_mm), width - wide))
        y = max(0, min(round_half_up(place.top * per_mm), height - high))
        cells.append(replace(cell, left=x, top=y))
        if laying.captions:
            box = (x, y + high + line // 4, wide, line)
            name = prints[place.wanted].facts.path.stem
            words.append(Words(name, box, "centre", "sans", _INK))
    marks = _crop_marks([cell.box for cell in cells], per_mm) if laying.marks else ()
    return SharedSheet(page, tuple(cells), tuple(words), marks)


def _crop_marks(boxes: Sequence[Box], per_mm: Fraction) -> tuple[Rule, ...]:
    """Return two ticks at every corner, except where they would touch a neighbour."""
    long, off = round_half_up(_MARK_MM * per_mm), round_half_up(_MARK_OFF_MM * per_mm)
    thick = max(1, round_half_up(_MARK_WIDE_MM * per_mm))
    marks = []
    for at, own in enumerate(boxes):
        others = [box for which, box in enumerate(boxes) if which != at]
        for tick in corner_ticks(own, (off, off), (long, long), thick):
            clear = tick
            for other in others:
                clear = _clear_of(clear, other)
            if clear[2] > 0 and clear[3] > 0:
                marks.append(Rule(clear, _INK))
    return tuple(marks)


def _clear_of(tick: Box, other: Box) -> Box:
    """Return the part of a tick outside another print: shortened, or empty."""
    x, y, wide, high = tick
    left, top, across, down = other
    if x + wide <= left or left + across <= x or y + high <= top or top + down <= y:
        return tick
    if wide >= high:
        before, after = left - x, x + wide - (left + across)
        return (x, y, before, high) if before >= after else (left + across, y, after, high)
    before, after = top - y, y + high - (top + down)
    return (x, y, wide, before) if before >= after else (x, top + down, wide, after)


def _docket_on_sheet(docket: Docket, size: PrintSize, ppi: Fraction) -> Docket:
    """Return a print's docket for its size on the sheet, without its own sheet."""
    return replace(
        docket,
        size=docket.size.at(size, ppi),
        pixels=replace(docket.pixels, choice="resample", target=None),
        finish=_FLAT,
        file=replace(docket.file, max_bytes=None),
    )
