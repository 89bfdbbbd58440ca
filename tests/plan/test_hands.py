"""Pointing at the nest and pulling its edges."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.sizes import parse_size
from zinc_margin.plan.build import plan
from zinc_margin.plan.size.dragging import drag_reach, drag_size, size_at, step_mm


def test_a_pulled_corner_keeps_its_shape_and_snaps():
    size, known = parse_size("15x10cm"), [parse_size("18x13cm")]
    assert drag_size(size, "corner", 181.0, 131.5, known, 2.0) is known[0]
    free = drag_size(size, "corner", 181.0, 131.5)
    assert free.width_mm / free.height_mm == Fraction(3, 2)
    assert free.width_mm == 197
    assert drag_size(size, "corner", -50.0, -50.0, known, 2.0).width_mm == 1
    upright = drag_size(parse_size("10x15cm"), "corner", 90.0, 120.0)
    assert upright.height_mm == 135 and upright.width_mm == 90


def test_a_pulled_edge_moves_one_side_and_snaps_to_known_sides():
    size, known = parse_size("15x10cm"), [parse_size("18x13cm"), parse_size("20x10cm")]
    wider = drag_size(size, "right", 163.4, 55.0)
    assert (wider.width_mm, wider.height_mm) == (163, 100)
    assert drag_size(size, "right", 179.0, 0, known, 2.0).width_mm == 180
    assert drag_size(size, "right", 199.0, 0, known, 2.0) is known[1]
    assert drag_size(size, "top", 0, 128.5, known, 2.0).height_mm == 130


def test_inches_step_by_eighths():
    size = drag_size(parse_size("6x4in"), "corner", 203.9, 100, units="in")
    assert size.width_mm / step_mm("in") == 64
    assert size.label == "8 × 5.33 in"
    assert size_at(210, 100, Fraction(3, 2), 1, "in").width_mm == Fraction("209.55")


@given(st.floats(10, 2000), st.floats(10, 2000), st.fractions(Fraction(1, 4), 4))
def test_pointing_gives_the_print_of_that_corner(x, y, shape):
    size = size_at(x, y, shape, 0.0)
    assert abs(float(size.width_mm) - x) <= 0.51 and abs(float(size.height_mm) - y) <= 0.51


def test_pointing_near_the_diagonal_takes_the_photos_shape():
    size = size_at(301, 199, Fraction(3, 2), 3.0)
    assert size.width_mm / size.height_mm == Fraction(3, 2) and size.width_mm == 301


def test_a_reach_edge_moves_ppi_and_distance():
    docket = docket_of("30x20cm")
    asked = drag_reach(docket, "asked", (6000, 4000), 609.6, 0, free=True)
    assert asked.size.ppi == 250
    near = drag_reach(docket, "asked", (6000, 4000), 604, 0, free=False)
    assert near.size.ppi == 250
    floor = drag_reach(docket, "floor", (6000, 4000), 0, 406.4 * 2, free=True)
    assert floor.size.floor == 125
    eye = drag_reach(docket, "eye", (6000, 4000), 1016, 0, free=True)
    # 150 ppi are enough from 58 cm
    assert eye.size.distance == Seen.at(580)
    made = plan(facts_of(6000, 4000), eye)
    assert abs(made.far_ppi - 150) < 3
    far = drag_reach(docket, "asked", (6000, 4000), 1e9, 0, free=True)
    assert far.size.ppi == 1
