"""Pieces: they cover, they overlap as asked, and joined they are the whole."""

from __future__ import annotations

import math
from fractions import Fraction as F
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import facts_of, resampled
from zinc_margin.docket.finish import FinishLine
from zinc_margin.docket.finish_input import parse_pieces
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import parse_size
from zinc_margin.plan.build import plan
from zinc_margin.plan.finish.piece_map import piece_map
from zinc_margin.plan.finish.pieces import count_for, divide

PHOTO = facts_of(9000, 6000)


def made(size="240x160cm", ppi=60, **finish):
    return plan(PHOTO, resampled(size, ppi, finish=finish))


@given(st.integers(1, 400), st.integers(1, 60), st.integers(0, 50))
def test_a_length_is_covered_by_balanced_pieces(length, count, overlap):
    count = min(count, length)
    found = divide(length + overlap, count, overlap)
    assert found[0][0] == 0 and sum(found[-1]) == length + overlap
    for (start, long), (following, _) in pairwise(found):
        assert start + long - following == overlap
    lengths = [long for _, long in found]
    assert max(lengths) - min(lengths) <= 1


@given(st.fractions(1, 5000), st.fractions(20, 1000), st.fractions(0, 15))
def test_no_count_could_be_smaller(length, most, overlap):
    count = count_for(length, most, overlap)
    assert (length + (count - 1) * overlap) / count <= most
    if count > 1:
        assert (length + (count - 2) * overlap) / (count - 1) > most


@given(
    st.integers(300, 4000),
    st.integers(300, 4000),
    st.integers(20, 150),
    st.integers(0, 25),
    st.sampled_from(["A4", "A3", "A2", "61cm-roll", "91cm-roll", "50x50cm"]),
    st.integers(0, 12),
)
def test_pieces_of_any_print_join_to_it_exactly(wide, high, ppi, join, over, edge):
    try:
        one = made(f"{wide}x{high}mm", ppi, join_mm=F(join), edge_mm=F(edge), **parse_pieces(over))
    except BadRequest as why:
        assert "pieces" in str(why)
        return
    pieces, whole = one.pieces, one.whole
    assert [piece.number for piece in pieces.each] == list(range(1, len(pieces.each) + 1))
    assert len(pieces.each) == pieces.rows * pieces.columns
    last = pieces.each[-1].part
    assert (last[0] + last[2], last[1] + last[3]) == (whole.width, whole.height)
    for piece in pieces.each:
        x, y, across, down = piece.part
        assert piece.left >= 0 and piece.left + across <= piece.page.width
        assert piece.top >= 0 and piece.top + down <= piece.page.height
        if piece.column > 1:
            before = pieces.each[piece.number - 2].part
            assert before[0] + before[2] - x == pieces.join[0]
        if piece.row > 1:
            above = pieces.each[piece.number - 1 - pieces.columns].part
            assert above[1] + above[3] - y == pieces.join[1]


def test_parts_that_fill_their_sheets_stay_whole():
    # three times 210 mm: 7441 pixels, of which one part takes 2481 where a sheet rounds to 2480
    one = made("630x297mm", 300, join_mm=F(0), edge_mm=F(0), pieces=parse_size("A4"))
    assert (one.pieces.columns, one.pieces.rows) == (3, 1)
    assert sorted(piece.part[2] for piece in one.pieces.each) == [2480, 2480, 2481]
    for piece in one.pieces.each:
        assert piece.left == 0 and piece.page.width == piece.part[2]


def test_the_fewest_pieces_by_hand():
    one = made(pieces=parse_size("A2"), edge_mm=F(10), join_mm=F(10))
    # 400 × 574 of A2 can be printed. Upright: ceil(2390/390) · ceil(1590/564) = 7 · 3;
    # lying: ceil(2390/564) · ceil(1590/390) = 5 · 5. Upright it is.
    assert (one.pieces.columns, one.pieces.rows) == (7, 3)
    whole = one.whole
    assert one.pieces.each[0].part[2] == math.ceil((whole.width + 6 * one.pieces.join[0]) / 7)
    assert 0 < one.pieces.waste < 0.4


def test_a_roll_gives_strips_as_long_as_they_need():
    one = made("300x80cm", 60, roll_mm=F(914), edge_mm=F(5), join_mm=F(10))
    (piece,) = one.pieces.each
    assert piece.page.height_mm == 914 and piece.page.width_mm == 3000 + 10 + 20
    two = made("300x120cm", 60, roll_mm=F(914), edge_mm=F(5), join_mm=F(10))
    assert (two.pieces.columns, two.pieces.rows) == (1, 2)


def test_marks_and_labels_stay_off_the_picture():
    one = made(pieces=parse_size("A2"), edge_mm=F(10))
    for piece in one.pieces.each:
        left, top = piece.left, piece.top
        right, bottom = left + piece.part[2], top + piece.part[3]
        assert piece.marks and piece.words
        for x, y, wide, high in [rule.box for rule in piece.marks] + [
            words.box for words in piece.words
        ]:
            apart = x + wide <= left or x >= right or y + high <= top or y >= bottom
            assert apart
    assert f"piece 1 of {len(one.pieces.each)}" in one.pieces.each[0].words[0].text


def test_where_there_is_no_room_for_marks_it_is_said():
    # exactly two sheets' worth
    one = made("410x277mm", 100, pieces=parse_size("210x277mm"), edge_mm=F(0), join_mm=F(10))
    assert len(one.pieces.each) == 2 and not one.pieces.each[0].words
    (note,) = [note for note in one.notes if note.code == "no-room-for-marks"]
    roomy = plan(PHOTO, note.remedies[0].docket)
    assert all(piece.words for piece in roomy.pieces.each)


def test_what_cannot_be_laid_is_refused():
    with pytest.raises(BadRequest, match="cover the whole sheet"):
        made(pieces=parse_size("A6"), edge_mm=F(60))
    with pytest.raises(BadRequest, match="overlap is as wide as the printable sheet"):
        made(pieces=parse_size("A4"), join_mm=F(400))
    for side in ("20x20m", "1000x1000m"):  # four hundred million pieces are counted, not laid
        docket = resampled(side, 1, finish={"pieces": parse_size("5x5cm")})
        with pytest.raises(BadRequest, match="That takes"):
            plan(facts_of(600, 400), docket)
    with pytest.raises(BadRequest, match="That takes"):
        made("900x600cm", 10, pieces=parse_size("A6"))


def test_the_map_shows_every_piece_in_its_place():
    one = made(pieces=parse_size("A2"), edge_mm=F(10))
    laid = piece_map(one, "waterfront")
    said = [words.text for words in laid.words]
    assert {str(n) for n in range(1, 22)} <= set(said)
    assert "column 7" in said and "row 3" in said and "waterfront" in said
    x, y, wide, high = laid.picture
    assert x > 0 and x + wide < laid.page.width and y + high < laid.page.height
    assert F(wide, high) == pytest.approx(F(240, 160), rel=0.01)


def test_a_roll_or_a_sheet_is_typed():
    assert parse_pieces("91cm-roll") == {"roll_mm": F(910), "pieces": None}
    assert parse_pieces("24in roll") == {"roll_mm": F("609.6"), "pieces": None}
    assert parse_pieces("A3")["pieces"].label == "A3"
    assert FinishLine(**parse_pieces("A3")).roll_mm is None
