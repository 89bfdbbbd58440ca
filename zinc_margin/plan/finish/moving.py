"""Prints moved by hand on a shared sheet: new places and overlaps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.finish import Margins
from zinc_margin.plan.finish.shared_sheet import Laying, Place, Places, page_mm
from zinc_margin.plan.model import Plan

SNAP_MM = Fraction(2)
"""Distance within which a dragged print snaps to a border or to its neighbour's edge."""


def move_print(
    places: Places,
    sheet: int,
    at: int,
    left: Fraction,
    top: Fraction,
    laying: Laying,
    snap_mm: Fraction = Fraction(0),
) -> Places:
    """Return places with one print moved; it stays on its sheet.

    Parameters
    ----------
    sheet, at : int
        Index of the sheet, and of the print on it.
    left, top : Fraction
        Desired place of its corner, in mm.
    snap_mm : Fraction
        Snapping distance for borders and neighbours; 0 for none.
    """
    place = places[sheet][at]
    wide, high = page_mm(laying, places[sheet])
    if snap_mm:
        others = [each for which, each in enumerate(places[sheet]) if which != at]
        gap, border = laying.gap_mm, laying.border_mm
        across = [border, wide - border - place.width]
        down = [border]
        if not laying.roll:
            down.append(high - border - laying.caption_mm - place.height)
        for each in others:
            right, below = each.left + each.width, each.top + each.height + laying.caption_mm
            across += [each.left, right - place.width, right + gap, each.left - gap - place.width]
            down += [
                each.top,
                each.top + each.height - place.height,
                below + gap,
                each.top - gap - laying.caption_mm - place.height,
            ]
        left, top = _snap(left, across, snap_mm), _snap(top, down, snap_mm)
    left = max(Fraction(0), min(left, wide - place.width))
    top = max(Fraction(0), top if laying.roll else min(top, high - place.height))
    return _with(places, sheet, at, replace(place, left=left, top=top))


def turn_print(places: Places, sheet: int, at: int, laying: Laying) -> Places:
    """Return places with one print rotated by 90° around its corner.

    Parameters
    ----------
    sheet, at : int
        Index of the sheet, and of the print on it.
    """
    place = places[sheet][at]
    result = _with(places, sheet, at, replace(place, turned=not place.turned))
    return move_print(result, sheet, at, place.left, place.top, laying)


def move_to_sheet(
    places: Places, sheet: int, at: int, goal: int, laying: Laying
) -> tuple[Places, int]:
    """Return places with one print moved to another sheet, and that sheet's number.

    Parameters
    ----------
    sheet, at : int
        Index of the sheet, and of the print on it.
    goal : int
        The target sheet; one past the last adds a sheet. An empty sheet is removed.
    """
    goal = max(0, min(goal, len(places)))
    if goal == sheet or (goal == len(places) and len(places[sheet]) == 1):
        return places, sheet
    place = places[sheet][at]
    sheets = [list(each) for each in places] + [[]]
    del sheets[sheet][at]
    sheets[goal].append(place)
    number = goal - (1 if not sheets[sheet] and sheet < goal else 0)
    result = tuple(tuple(each) for each in sheets if each)
    return move_print(
        result, number, len(result[number]) - 1, place.left, place.top, laying
    ), number


def overlaps(places: Places, laying: Laying) -> int | None:
    """Return the number, from 1, of the first sheet on which prints or their names overlap."""
    for number, sheet in enumerate(places, 1):
        for at, one in enumerate(sheet):
            if any(_meet(one, other, laying) for other in sheet[:at]):
                return number
    return None


def paper_share(places: Places, laying: Laying) -> float:
    """Return the share of the paper covered by prints, 0 to 1."""
    prints = sum(place.width * place.height for sheet in places for place in sheet)
    pages = [page_mm(laying, sheet) for sheet in places]
    return float(prints / sum(wide * high for wide, high in pages))


def _meet(one: Place, other: Place, laying: Laying) -> bool:
    below = laying.caption_mm
    return (
        one.left < other.left + other.width
        and other.left < one.left + one.width
        and one.top < other.top + other.height + below
        and other.top < one.top + one.height + below
    )


def _snap(value: Fraction, lines: Sequence[Fraction], within: Fraction) -> Fraction:
    best = min(lines, key=lambda line: abs(line - value))
    return best if abs(best - value) <= within else value


def _with(places: Places, sheet: int, at: int, place: Place) -> Places:
    row = (*places[sheet][:at], place, *places[sheet][at + 1 :])
    return (*places[:sheet], row, *places[sheet + 1 :])


_ZERO = Fraction(0)
_NEAR = 0.03  # share of the free room within which a dragged picture snaps to the centre


def place_picture(plan: Plan, x: float, y: float, right_mm: float, down_mm: float) -> Docket:
    """Return the docket with the picture moved on its sheet, snapping to the centre.

    Parameters
    ----------
    x, y : float
        Its previous place, 0 to 1 each.
    right_mm, down_mm : float
        The move.
    """
    sheet, line = plan.sheet, plan.docket.finish
    assert sheet is not None
    keep = line.margins or Margins(_ZERO, _ZERO, _ZERO, _ZERO)
    top, right, bottom, left = (float(mm) for mm in sheet.margins_mm)
    free_x = left + right - float(keep.left + keep.right)
    free_y = top + bottom - float(keep.top + keep.bottom)
    rows = []
    for at, by, free in ((x, right_mm, free_x), (y, down_mm, free_y)):
        share = min(1.0, max(0.0, at + by / free)) if free > 0.01 else 0.5
        share = 0.5 if abs(share - 0.5) < _NEAR else share
        rows.append(Fraction(round(share * 1000), 1000))
    moved = replace(line, place_x=rows[0], place_y=rows[1])
    return replace(plan.docket, finish=moved)
