"""Prints laid on sheets: nothing overlaps, straight cuts part them, little is wasted."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zinc_margin.plan.finish.packing import Piece, pack

A4 = 190, 277


def cards(*sizes, turns=True):
    return [Piece(wide, high, (high, wide) if turns else None) for wide, high in sizes]


def parted_by_cuts(boxes):
    """Whether cuts from edge to edge, again and again, part all of them."""
    if len(boxes) < 2:
        return True
    for low, high in ((0, 2), (1, 3)):
        for cut in {box[high] for box in boxes}:
            before = [box for box in boxes if box[high] <= cut]
            after = [box for box in boxes if box[low] >= cut]
            if before and after and len(before) + len(after) == len(boxes):
                return parted_by_cuts(before) and parted_by_cuts(after)
    return False


def boxes_of(sheet, gap=0):
    return [
        (one.left, one.top, one.left + one.width + gap, one.top + one.height + gap) for one in sheet
    ]


@settings(max_examples=40)
@given(
    st.lists(st.tuples(st.integers(5, 190), st.integers(5, 190)), min_size=1, max_size=25),
    st.integers(0, 12),
    st.booleans(),
    st.booleans(),
)
def test_every_print_has_a_place_of_its_own_that_a_trimmer_reaches(sizes, gap, turns, roll):
    pieces = cards(*sizes, turns=turns)
    sheets = pack(pieces, (A4[0], None if roll else A4[1]), gap)
    assert sorted(one.which for sheet in sheets for one in sheet) == list(range(len(sizes)))
    assert not roll or len(sheets) == 1
    for sheet in sheets:
        for one in sheet:
            own = sizes[one.which]
            assert (one.width, one.height) == (own[::-1] if one.turned else own)
            assert one.left >= 0 and one.top >= 0 and one.left + one.width <= A4[0]
            assert roll or one.top + one.height <= A4[1]
            assert turns or not one.turned
        assert parted_by_cuts(boxes_of(sheet, gap))


@pytest.mark.parametrize(
    ("sizes", "gap", "count"),
    [
        ([(45, 35)] * 28, 3, 1),
        ([(95, 138)] * 4, 0, 1),  # exactly
        ([(180, 130)] * 2, 5, 1),
        ([(180, 130)] * 2 + [(130, 90)] * 4 + [(45, 35)] * 8, 5, 3),
        ([(150, 100)] * 2, 5, 1),  # one turned
    ],
)
def test_what_fits_by_hand_is_found(sizes, gap, count):
    assert len(pack(cards(*sizes), A4, gap)) == count


def test_a_roll_is_used_up_no_longer_than_needed():
    (sheet,) = pack(cards(*[(200, 300)] * 4), (610, None), 5)
    assert max(one.top + one.height for one in sheet) <= 505
    (sheet,) = pack(cards(*[(200, 300)] * 6, turns=False), (610, None), 5)
    assert max(one.top + one.height for one in sheet) == 605


def test_the_same_prints_lie_the_same_way_every_time():
    some = cards((120, 80), (60, 60), (90, 130), (45, 35), (45, 35), (100, 150))
    assert pack(some, A4, 4) == pack(some, A4, 4)
