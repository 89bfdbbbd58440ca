"""Several prints on a sheet: sizes, turns, marks, and what a hand does to them."""

from __future__ import annotations

from fractions import Fraction as F

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of
from zinc_margin.docket.docket import Docket
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sheet_input import parse_sheet, parse_typed_sheet
from zinc_margin.measure.sizes import parse_size
from zinc_margin.plan.finish import moving
from zinc_margin.plan.finish.shared_sheet import Laying, lay_out, page_mm, sheets_of, wanted_print

WIDE, TALL = facts_of(6000, 4000), facts_of(4000, 6000)
A4 = parse_size("A4")
LAYING = Laying(A4, captions=False)


def together(prints, laying):
    return sheets_of(prints, laying, lay_out(prints, laying))


def prints(text, facts=WIDE):
    rows = parse_typed_sheet(text).prints
    return [wanted_print(0, facts, Docket(), size, copies) for copies, size in rows]


def test_every_size_is_laid_as_often_as_asked():
    asked = prints("two 13 x 18, four 9 x 13, eight passport")
    places = lay_out(asked, LAYING)
    assert len(places) == 3
    every = [place for sheet in places for place in sheet]
    assert [sum(place.wanted == at for place in every) for at in range(3)] == [2, 4, 8]
    assert moving.overlaps(places, LAYING) is None
    # the photo lies, so do its prints; a passport stands
    sizes = [(one.size.width_mm, one.size.height_mm) for one in every]
    assert set(sizes) == {(180, 130), (130, 90), (35, 45)}
    assert 0.5 < moving.paper_share(places, LAYING) < 0.8


def test_pixels_are_exact_and_a_turned_print_is_the_same_print():
    laying = Laying(parse_size("100 x 150 mm"), captions=False, border_mm=F(0), ppi=F(254))
    (sheet,) = together(prints("one 10x15"), laying)
    (cell,) = sheet.cells
    assert cell.turned and cell.box == (0, 0, 1000, 1500)
    assert (cell.plan.pixels.width, cell.plan.pixels.height) == (1500, 1000)
    with pytest.raises(BadRequest, match="inside the border of 100 × 150 mm"):
        together(prints("one 10x15"), Laying(laying.sheet, border_mm=F(0), turns=False))


def test_a_roll_is_as_long_as_its_prints():
    sheet, roll = parse_sheet("61 cm roll")
    laying = Laying(sheet, captions=False, roll=roll, ppi=F(100))
    (made,) = together(prints("four 20x30", TALL), laying)
    assert made.page.width_mm == 610
    assert (
        made.page.height_mm
        == max(place.top + place.height for place in lay_out(prints("four 20x30", TALL), laying)[0])
        + 10
    )
    with pytest.raises(BadRequest, match="inside the border of a roll of 61 cm"):
        together(prints("one 90x120"), laying)
    with pytest.raises(BadRequest, match="the limit is 20 m"):
        together(prints("thirty 60 x 90", TALL), Laying(sheet, border_mm=F(1), roll=True))
    with pytest.raises(BadRequest, match="A grid needs a sheet"):
        together(prints("one 9x13"), Laying(sheet, (2, 2), roll=True))


def test_too_many_or_none_are_refused():
    with pytest.raises(BadRequest, match="401 prints are more than the limit of 400"):
        lay_out(prints("401 9x13"), LAYING)
    with pytest.raises(BadRequest, match="no photo"):
        lay_out([], LAYING)


def test_crop_marks_stand_at_corners_and_on_no_print():
    laying = Laying(A4, captions=False, gap_mm=F(3), marks=True, ppi=F(254))
    (sheet,) = together(prints("four 9 x 13"), laying)
    boxes = [cell.box for cell in sheet.cells]
    assert len(sheet.marks) >= 24
    for mark in sheet.marks:
        x, y, wide, high = mark.box
        for left, top, across, down in boxes:
            assert x + wide <= left or x >= left + across or y + high <= top or y >= top + down
    # the outermost corner has two, half a millimetre off
    left, top = min(box[0] for box in boxes), min(box[1] for box in boxes)
    assert {mark.box[:2] for mark in sheet.marks} >= {(left, top - 45), (left - 45, top)}


# by hand


def test_a_dragged_print_takes_to_borders_and_neighbours():
    places = lay_out(prints("two 9 x 13"), LAYING)
    moved = moving.move_print(places, 0, 1, F(11), F(200), LAYING, F(2))
    assert moved[0][1].left == 10 and moved[0][1].top != places[0][1].top
    assert moved[0][0] == places[0][0]
    first = places[0][0]
    beside = first.top + first.height + LAYING.gap_mm
    assert moving.move_print(places, 0, 1, F(50), beside + 1, LAYING, F(2))[0][1].top == beside
    over = moving.move_print(places, 0, 1, first.left + 5, first.top + 5, LAYING)
    assert moving.overlaps(over, LAYING) == 1


@given(st.fractions(-400, 600), st.fractions(-400, 600), st.integers(0, 4))
def test_a_moved_print_stays_on_its_paper(left, top, snap):
    places = lay_out(prints("two 9 x 13"), LAYING)
    place = moving.move_print(places, 0, 0, left, top, LAYING, F(snap))[0][0]
    assert 0 <= place.left <= A4.width_mm - place.width
    assert 0 <= place.top <= A4.height_mm - place.height


def test_turned_and_taken_to_another_sheet():
    places = lay_out(prints("three 13 x 18"), LAYING)
    assert [len(sheet) for sheet in places] == [2, 1]
    turned = moving.turn_print(places, 1, 0, LAYING)
    assert turned[1][0].turned != places[1][0].turned
    taken, number = moving.move_to_sheet(places, 0, 0, 1, LAYING)
    assert number == 1 and [len(sheet) for sheet in taken] == [1, 2]
    taken, number = moving.move_to_sheet(taken, 0, 0, 1, LAYING)
    assert number == 0 and [len(sheet) for sheet in taken] == [3]  # what is left empty goes
    assert moving.move_to_sheet(taken, 0, 0, -1, LAYING) == (taken, 0)
    fresh, number = moving.move_to_sheet(taken, 0, 0, 1, LAYING)
    assert number == 1 and [len(sheet) for sheet in fresh] == [2, 1]


def test_moved_prints_are_drawn_where_they_lie():
    asked = prints("one 9 x 13")
    places = moving.move_print(lay_out(asked, LAYING), 0, 0, F(37), F(101), LAYING)
    (sheet,) = sheets_of(asked, Laying(A4, captions=False, ppi=F(254)), places)
    assert sheet.cells[0].box[:2] == (370, 1010)
    assert page_mm(LAYING, places[0]) == (210, 297)


def test_own_size_keeps_the_dockets_own_decisions():
    one = wanted_print(0, WIDE, docket_of("12x8cm"))
    (sheet,) = lay_out(
        [one, wanted_print(0, WIDE, docket_of("12x8cm"), parse_size("9x6cm"))], LAYING
    )
    assert {place.size.width_mm for place in sheet} == {120, 90}
